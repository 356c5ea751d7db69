<script lang="ts">
  import type { Run } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { runs } from "../../api/runs.svelte";
  import Field from "../form/Field.svelte";
  import Figure from "../form/Figure.svelte";
  import { attempt } from "../notice.svelte";

  // how a run ends: harvested or given up, and what there was of it
  let { run, ended }: { run: Run; ended?: () => void } = $props();
  const id = $props.id();
  let on = $derived(account.today);
  let how = $state<"harvested" | "given_up">("harvested");
  let harvest = $state<number | null>(null);
  let unit = $state<"g" | "pieces">("g");

  async function end(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    const body = { on, how, harvest: how === "harvested" ? harvest : null, unit };
    if (await attempt(() => runs.end(run.id, body))) ended?.();
  }
</script>

<form class="flex flex-wrap items-end gap-2" aria-label="The run ends" onsubmit={end} novalidate>
  <div class="w-40"><Field small type="date" label="It ended on" name="on" bind:value={on} /></div>
  <div class="join" role="group" aria-label="How it ended">
    {#each [["harvested", "Harvested"], ["given_up", "Given up"]] as const as [value, label] (value)}
      <button
        type="button"
        class="btn join-item btn-sm max-sm:min-h-11"
        class:btn-neutral={how === value}
        aria-pressed={how === value}
        onclick={() => (how = value)}>{label}</button
      >
    {/each}
  </div>
  {#if how === "harvested"}
    <div class="w-36"><Figure narrow label="Harvest, if wanted" bind:value={harvest} /></div>
    <label class="sr-only" for="{id}-unit">Counted in</label>
    <select id="{id}-unit" class="select select-sm w-28 max-sm:min-h-11" bind:value={unit}>
      <option value="g">grams</option>
      <option value="pieces">pieces</option>
    </select>
  {/if}
  <button class="btn btn-sm btn-primary max-sm:min-h-11">Let it end</button>
</form>
