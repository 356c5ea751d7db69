<script lang="ts">
  import { answer, asRefusal, type Bench, client, type LiningGains } from "../../api/client";
  import { garden } from "../../api/garden.svelte";
  import { runs } from "../../api/runs.svelte";
  import { getGo } from "../../parts/go";
  import { attempt } from "../../parts/notice.svelte";
  import { hours, money, trim } from "../../units/format";
  import { liningName } from "../../words/linings";

  interface Props {
    runId: number;
    stageId: number;
    bench: Bench;
    currency: string;
    close: () => void;
  }
  let { runId, stageId, bench, currency, close }: Props = $props();

  let found = $state<LiningGains | null>(null);
  let sentence = $state("");
  const at = $derived(JSON.stringify({ ...bench.setting, on_minute: bench.on_minute }));
  $effect(() => {
    const params = { path: { run_id: runId } };
    const setting = JSON.parse(at) as Bench["setting"] & { on_minute: number };
    const body = { stage_id: stageId, from_day: bench.from_day, ...setting, locked: [] };
    let late = false;
    answer(client.POST("/api/runs/{run_id}/lining", { params, body }))
      .then((gains) => {
        if (!late) [found, sentence] = [gains, ""];
      })
      .catch((error: unknown) => {
        if (!late) sentence = asRefusal(error).message;
      });
    return () => {
      late = true;
    };
  });

  const go = getGo();
  /** A copy of the plan with a space of its own, lined so, and both side by side. */
  async function tryIt(lining: string): Promise<void> {
    const run = runs.of(runId);
    if (!run) return;
    const name = `${garden.nameOf(run)}, ${liningName(lining)}`;
    const space_name = `${bench.made_of.space}, ${liningName(lining)}`.slice(0, 80);
    if (await attempt(() => garden.copyPlan(run, name, { lining, space_name }))) go("/plans");
  }
  const more = (share: number): string =>
    `${share < 0 ? "−" : "+"}${Math.round(Math.abs(share) * 100)} %`;
  const best = $derived(found?.gains[0]);
</script>

<section class="text-[0.9rem]" aria-labelledby="lining-title">
  <div class="flex items-center gap-2">
    <h2 id="lining-title" class="font-semibold">
      What other walls would gain, the levers as they are
    </h2>
    <button class="btn btn-sm ml-auto max-sm:min-h-11" onclick={close}>Back to the floor</button>
  </div>
  {#if sentence}
    <p class="text-error" role="alert">{sentence}</p>
  {:else if !found}
    <p class="quiet" role="status">Lining the walls…</p>
  {:else if !best}
    <p>No lining there is sends back more than these walls do.</p>
  {:else}
    <p class="py-1 text-base">
      <strong>{liningName(best.lining)}</strong> all round would give
      <strong>{more(best.gain.mean)}</strong> light{best.gain.kwh_saved > 0
        ? `, or save ${best.gain.kwh_saved.toFixed(2)} kWh a day (${money(best.saved_per_day, currency)}) for the same`
        : ""}.
    </p>
    <div class="overflow-x-auto">
      <table class="table-xs table">
        <thead>
          <tr>
            <th scope="col">Walls</th>
            <th scope="col" class="text-right">Middle</th>
            <th scope="col" class="text-right">Edge</th>
            <th scope="col" class="text-right">Mean</th>
            <th scope="col" class="text-right">Same light at dial</th>
            <th scope="col" class="text-right">or in</th>
            <th scope="col" class="text-right">Saves a day</th>
            <th scope="col"><span class="sr-only">Try</span></th>
          </tr>
        </thead>
        <tbody>
          {#each found.gains as { lining, gain, saved_per_day } (lining)}
            <tr>
              <th scope="row" class="text-left font-normal">{liningName(lining)}</th>
              <td class="text-right">{more(gain.middle)}</td>
              <td class="text-right">{more(gain.edge)}</td>
              <td class="text-right"><strong>{more(gain.mean)}</strong></td>
              <td class="text-right whitespace-nowrap"
                >{gain.dial_pct === null
                  ? "–"
                  : `${trim(gain.dial_pct, 1)} (${Math.round(gain.watts ?? 0)} W)`}</td
              >
              <td class="text-right whitespace-nowrap"
                >{gain.hours === null ? "–" : hours(gain.hours)}</td
              >
              <td class="text-right whitespace-nowrap"
                >{gain.kwh_saved > 0
                  ? `${gain.kwh_saved.toFixed(2)} kWh, ${money(saved_per_day, currency)}`
                  : "–"}</td
              >
              <td
                ><button
                  class="btn btn-sm max-sm:min-h-11"
                  aria-label="Try it in a copy: {liningName(lining)}"
                  onclick={() => tryIt(lining)}>Try it in a copy</button
                ></td
              >
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
    <p class="quiet mt-1">
      New and clean; linings are guessed by their kind and lose some of it with age and dirt. Less
      dial saves more than fewer hours where the lamp gives more light a watt when dimmed.
    </p>
  {/if}
</section>
