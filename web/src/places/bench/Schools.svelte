<script lang="ts">
  import { answer, asRefusal, type Bench, client, type Opinions } from "../../api/client";
  import { hours, length, type LengthUnit, percent } from "../../units/format";
  import { worded } from "../../words/said";
  import type { Levers } from "./bench.svelte";
  import { SCHOOLS, targetName } from "../../words/reasons";

  interface Props {
    runId: number;
    stageId: number;
    fromDay: number;
    bench: Bench;
    unit: LengthUnit;
    attempt: (levers: Partial<Levers>) => void;
    close: () => void;
  }
  let { runId, stageId, fromDay, bench, unit, attempt, close }: Props = $props();

  let found = $state<Opinions | null>(null);
  let sentence = $state("");
  $effect(() => {
    const params = { path: { run_id: runId, stage_id: stageId }, query: { from_day: fromDay } };
    const path = "/api/runs/{run_id}/stages/{stage_id}/opinions" as const;
    found = null;
    answer(client.GET(path, { params }))
      .then((opinions) => (found = opinions))
      .catch((error: unknown) => (sentence = asRefusal(error).message));
  });
  const at = $derived(bench.setting);
  const near = (s: Bench["setting"]): boolean =>
    s.height_cm === at.height_cm && s.dial_pct === at.dial_pct && s.hours === at.hours;
</script>

<section class="text-[0.9rem]" aria-labelledby="schools-title">
  <div class="flex items-center gap-2">
    <h2 id="schools-title" class="font-semibold">
      What other growers would do, and what it gives here
    </h2>
    <button class="btn btn-sm ml-auto max-sm:min-h-11" onclick={close}>Back to the floor</button>
  </div>
  {#if sentence}
    <p class="text-error" role="alert">{sentence}</p>
  {:else if !found}
    <p class="quiet" role="status">Asking them…</p>
  {:else}
    <div class="overflow-x-auto">
      <table class="table-xs table">
        <thead>
          <tr>
            <th scope="col">They go by</th>
            <th scope="col" class="text-right">Height</th>
            <th scope="col" class="text-right">Dial</th>
            <th scope="col" class="text-right">Hours</th>
            <th scope="col" class="text-right">Mean</th>
            <th scope="col" class="text-right">Peak</th>
            <th scope="col" class="text-right">Min/mean</th>
            <th scope="col" class="text-right">DLI</th>
            <th scope="col" class="text-right">kWh</th>
            <th scope="col"><span class="sr-only">Try it</span></th>
          </tr>
        </thead>
        <tbody>
          {#each found.opinions as o (o.school)}
            <tr class:bg-base-200={near(o.setting)}>
              <th scope="row" class="text-left font-normal">
                <strong>{SCHOOLS[o.school]}</strong>
                <div class="quiet">
                  {#if o.missed.length}
                    <span class="text-error"
                      >✕ misses {[...new Set(o.missed.map(targetName))].join(" and ")}.</span
                    >
                  {:else}<span>✓ meets every target.</span>{/if}
                  {worded(o.note, unit)}
                </div>
              </th>
              <td class="text-right whitespace-nowrap">{length(o.setting.height_cm, unit)}</td>
              <td class="text-right">{o.setting.dial_pct}</td>
              <td class="text-right whitespace-nowrap">{hours(o.setting.hours)}</td>
              <td class="text-right">{Math.round(o.outcome.mean)}</td>
              <td class="text-right">{Math.round(o.outcome.peak)}</td>
              <td class="text-right">{o.outcome.evenness.toFixed(2)}</td>
              <td class="text-right">{o.outcome.dli.toFixed(1)}</td>
              <td class="text-right">{o.outcome.kwh_per_day.toFixed(2)}</td>
              <td>
                <button
                  class="btn btn-xs max-sm:min-h-11"
                  disabled={near(o.setting)}
                  aria-label="Try: {SCHOOLS[o.school]}"
                  onclick={() => attempt(o.setting)}>Try</button
                >
              </td>
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
    {#if found.doubled}
      <p class="mt-1">
        “Twice the distance, a quarter of the light” holds for a small lamp in a black room. Here
        {length(found.doubled.from_cm, unit)} to {length(found.doubled.to_cm, unit)} leaves
        <strong>{percent(found.doubled.mean_share)}</strong> of the mean: the lamp is wide and the walls
        send light back.
      </p>
    {/if}
  {/if}
</section>
