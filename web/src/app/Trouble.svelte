<script lang="ts">
  import type { Snippet } from "svelte";

  import { asRefusal, Refusal } from "../api/client";
  import { attempt, notice } from "../parts/notice.svelte";

  let { here, children }: { here: string; children: Snippet } = $props();

  async function takeBack(): Promise<void> {
    const undo = notice.undo;
    notice.clear();
    if (undo) await attempt(undo);
  }
</script>

<svelte:window
  onunhandledrejection={(event) => {
    notice.complain(event.reason);
    // a refusal that has been said is no mistake to log
    if (event.reason instanceof Refusal) event.preventDefault();
  }}
  onerror={(event) => {
    if (!(event instanceof ErrorEvent)) notice.complain(event);
    // one without an error is the browser's own remark, that a layout took it two rounds
    else if (event.error) notice.complain(event.error);
  }}
/>

{#if notice.sentence}
  <div
    class="bg-base-200 flex flex-wrap items-center gap-3 px-4 py-2 print:hidden"
    role={notice.wrong ? "alert" : "status"}
  >
    <p class:text-error={notice.wrong}>{notice.sentence}</p>
    {#if notice.undo}
      <button class="btn btn-sm max-sm:min-h-11" onclick={takeBack}>{notice.label}</button>
    {:else if notice.wrong}
      <button class="btn btn-sm max-sm:min-h-11" onclick={() => location.reload()}
        >Reload the page</button
      >
    {/if}
    <button class="btn btn-sm btn-ghost max-sm:min-h-11" onclick={() => notice.clear()}
      >{notice.wrong ? "Go on without" : "Good"}</button
    >
  </div>
{/if}
{#key here}
  <svelte:boundary>
    {@render children()}
    {#snippet failed(error, again)}
      <div class="py-8 text-lg" role="alert">
        <h1 class="text-2xl font-semibold">This place could not be shown</h1>
        <p class="my-2 max-w-3xl">
          {asRefusal(error).message} What was kept is safe; the other places above still work.
        </p>
        <button class="btn btn-primary" onclick={again}>Show it again</button>
      </div>
    {/snippet}
  </svelte:boundary>
{/key}
