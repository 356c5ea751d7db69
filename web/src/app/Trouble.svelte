<script lang="ts">
  import type { Snippet } from "svelte";

  import { asRefusal, Refusal } from "../api/client";

  let { here, children }: { here: string; children: Snippet } = $props();

  /** What went wrong where nobody else says so: a rejected promise, a mistake in a handler. */
  let sentence = $state("");

  function say(error: unknown): void {
    if (error instanceof DOMException && error.name === "AbortError") return;
    sentence = asRefusal(error).message;
  }
</script>

<svelte:window
  onunhandledrejection={(event) => {
    say(event.reason);
    // a refusal that has been said is no mistake to log
    if (event.reason instanceof Refusal) event.preventDefault();
  }}
  onerror={(event) => say(event instanceof ErrorEvent ? event.error : event)}
/>

{#if sentence}
  <div class="bg-base-200 flex flex-wrap items-center gap-3 px-4 py-2" role="alert">
    <p class="text-error">{sentence}</p>
    <button class="btn btn-sm max-sm:min-h-11" onclick={() => location.reload()}
      >Reload the page</button
    >
    <button class="btn btn-sm btn-ghost max-sm:min-h-11" onclick={() => (sentence = "")}
      >Go on without</button
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
