<script lang="ts">
  import { asRefusal, type Brought } from "../../api/client";
  import { bringIn, sendArchive } from "../../api/archive";
  import { garden } from "../../api/garden.svelte";
  import { account } from "../../api/grower.svelte";
  import { percent } from "../../units/format";
  import { broughtWords } from "../../words/archive";

  // an archive is sent, told what it would do, and only then brought in
  const id = $props.id();
  let input = $state<HTMLInputElement | null>(null);
  let key = $state("");
  let told = $state.raw<Brought | null>(null);
  let step = $state<"" | "sending" | "looking" | "bringing">("");
  let share = $state(0);
  let wrong = $state("");

  async function work(doing: () => Promise<void>): Promise<void> {
    wrong = "";
    try {
      await doing();
    } catch (error) {
      wrong = asRefusal(error).message;
    }
    step = "";
  }
  async function chosen(): Promise<void> {
    const file = input?.files?.[0];
    told = null;
    if (!file) return;
    await work(async () => {
      [step, share] = ["sending", 0];
      key = await sendArchive(file, (sent) => (share = sent));
      step = "looking";
      told = await bringIn(key, false);
    });
  }
  async function bring(): Promise<void> {
    await work(async () => {
      step = "bringing";
      told = await bringIn(key, true);
      if (input) input.value = "";
      await account.look();
      await garden.load();
    });
  }
  const words = $derived(told ? broughtWords(told) : null);
  const nothing = $derived(
    told !== null && !Object.keys(told.new).length && !Object.keys(told.later).length,
  );
</script>

<section class="bg-base-200 rounded-box grid gap-2 p-4" aria-label="Bring it in">
  <h2 class="font-semibold">Bring it in</h2>
  <p>
    What is here already stays as it is; what is not comes beside it. Of a row that was changed in
    both places the one that was changed more often counts. First you are told what would happen.
  </p>
  <label class="quiet text-sm" for={id}>An archive, <code>.canopy.zip</code></label>
  <input
    {id}
    bind:this={input}
    type="file"
    accept=".zip,application/zip"
    class="file-input w-full max-sm:min-h-11"
    disabled={step !== ""}
    aria-invalid={Boolean(wrong)}
    aria-describedby="{id}-said"
    onchange={chosen}
  />
  <div id="{id}-said" aria-live="polite">
    {#if step === "sending"}
      <p>Sending it… {percent(share)}</p>
      <progress class="progress w-full" value={share} max="1" aria-label="Sent"></progress>
    {:else if step}
      <p>{step === "looking" ? "Reading all of it…" : "Bringing it in…"}</p>
    {:else if wrong}
      <p role="alert">{wrong} Nothing of it was kept.</p>
    {:else if told && words}
      {#if told.done}<p class="font-semibold">Done: nothing of what was here was lost.</p>{/if}
      <p>{words.new}</p>
      {#if words.later}<p>{words.later}</p>{/if}
      {#if words.kept}<p class="quiet">{words.kept}</p>{/if}
      {#if words.ignored}<p class="text-warning">{words.ignored}</p>{/if}
      {#if !told.done && !nothing}
        <button class="btn btn-primary mt-2 max-sm:min-h-12" onclick={bring}>Bring it in</button>
      {/if}
    {/if}
  </div>
</section>
