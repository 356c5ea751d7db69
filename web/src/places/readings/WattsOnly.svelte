<script lang="ts">
  import { asRefusal, type ByWatts } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { fits } from "../../api/readings.svelte";
  import Figure from "../../parts/form/Figure.svelte";
  import { rangeWords, verdictWords } from "../../words/fits";
  import { worded } from "../../words/said";

  interface Props {
    runId: number;
    stageId: number;
    height_cm: number;
    dial_pct: number;
  }
  let { runId, stageId, height_cm, dial_pct }: Props = $props();

  let watts = $state<number>();
  let found = $state.raw<ByWatts | null>(null);
  let refused = $state("");

  async function work(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    try {
      const body = { stage_id: stageId, height_cm, dial_pct, watts: watts ?? NaN };
      [found, refused] = [await fits.byWatts(runId, body), ""];
    } catch (error) {
      [found, refused] = [null, asRefusal(error).message];
    }
  }
</script>

<details class="bg-base-200 rounded-box p-4">
  <summary class="cursor-pointer font-semibold">Only a watt meter?</summary>
  <form class="mt-2 grid gap-3" onsubmit={work} novalidate>
    <p class="quiet">
      It tells where the dial really stands and whether every part is lit; not how old LEDs, dirt or
      the lining are. Height and dial as above.
    </p>
    <div class="flex flex-wrap items-end gap-3">
      <div class="w-40">
        <Figure label="Watts at the plug, all lamps" unit="W" bind:value={watts} />
      </div>
      <button class="btn bg-base-100 max-sm:min-h-11" disabled={!watts}>What does it say?</button>
    </div>
    {#if refused}<p class="text-error" role="alert">{refused}</p>{/if}
    {#if found}
      <div role="status" class="grid gap-1">
        <p><strong>{worded(found.line, account.unit)}</strong></p>
        <p>
          Mean about {rangeWords({ low: found.low, middle: found.mean, high: found.high })} µmol; {Math.round(
            found.planned_mean,
          )} planned.
        </p>
        <p>
          {#each found.stages as stage, i (i)}
            <strong>{stage.name}</strong>: {verdictWords(stage)}{i < found.stages.length - 1
              ? "; "
              : "."}
          {/each}
        </p>
      </div>
    {/if}
  </form>
</details>
