<script lang="ts">
  import { asRefusal, type ComparedHere, type FitIn } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { fits } from "../../api/readings.svelte";
  import { hang, length, percent } from "../../units/format";
  import { worded } from "../../words/said";

  let { runId, body }: { runId: number; body: FitIn } = $props();

  const unit = $derived(account.unit);
  let found = $state.raw<ComparedHere | null>(null);
  let refused = $state("");
  let open = $state(false);
  let against = $state<"plan" | "maker">("plan");
  const R = 19;
  const W = 400;

  $effect(() => {
    if (!open) return;
    const [id, asked] = [runId, body];
    const wait = setTimeout(() => {
      fits
        .compared(id, asked)
        .then((told) => ([found, refused] = [told, ""]))
        .catch((error: unknown) => ([found, refused] = [null, asRefusal(error).message]));
    }, 250);
    return () => clearTimeout(wait);
  });

  const shown = $derived(found?.against.find((each) => each.against === against));
  /** Of the height most was read at: others stand at the same places. */
  const spots = $derived.by(() => {
    const rows = (found?.spots ?? []).map((spot, i) => ({ ...spot, ratio: shown?.ratio[i] }));
    const count = (cm: number): number => rows.filter((row) => row.height_cm === cm).length;
    const most = Math.max(...rows.map((row) => count(row.height_cm)), 0);
    const height = rows.find((row) => count(row.height_cm) === most)?.height_cm;
    return rows.filter((row) => row.height_cm === height);
  });
  const size = $derived({ width: fits.here?.width_cm ?? 100, depth: fits.here?.depth_cm ?? 100 });
  const k = $derived(W / size.width);
  const label = (ratio: number | null | undefined): string =>
    ratio == null ? "–" : `${Math.round(ratio * 100)}`;
  const kind = (ratio: number | null | undefined): string =>
    ratio == null ? "none" : ratio < 0.95 ? "less" : ratio > 1.05 ? "more" : "same";
</script>

<details bind:open>
  <summary class="cursor-pointer font-semibold">Beside the plan and the maker's map</summary>
  {#if refused}<p class="text-error" role="alert">{refused}</p>{/if}
  {#if !found}
    {#if !refused}<p role="status">Setting them side by side…</p>{/if}
  {:else}
    {#if found.against.length > 1}
      <div class="join my-2" role="group" aria-label="Set against">
        {#each [["plan", "the plan"], ["maker", found.maker ?? ""]] as const as [name, words] (name)}
          <button
            class="btn btn-sm join-item max-sm:min-h-11"
            class:btn-neutral={against === name}
            aria-pressed={against === name}
            onclick={() => (against = name)}>{words}</button
          >
        {/each}
      </div>
    {/if}
    {#if shown}
      <p class="my-1"><strong>{worded(shown.line, unit)}</strong></p>
      <p class="quiet text-sm">
        {percent(shown.low)}–{percent(shown.high)} by what the sensor's calibration leaves open{against ===
        "plan"
          ? "; the plan by the lamp's record, without readings"
          : "; its map carried to this height and tent"}.
      </p>
      <svg
        viewBox="0 0 {W} {size.depth * k}"
        class="my-2 block w-full max-w-md"
        role="img"
        aria-label="Each spot in per cent of {against === 'plan' ? 'the plan' : "the maker's map"}"
      >
        <rect width={W} height={size.depth * k} class="floor" />
        {#each spots as spot, i (i)}
          {@const x = Math.min(Math.max(spot.x_cm * k, R), W - R)}
          {@const y = Math.min(Math.max((size.depth - spot.y_cm) * k, R), size.depth * k - R)}
          {#if spots.length <= 60}
            <circle cx={x} cy={y} r={R} class={kind(spot.ratio)} />
            <text {x} y={y + 5} text-anchor="middle">{label(spot.ratio)}</text>
          {:else}
            <text x={spot.x_cm * k} y={(size.depth - spot.y_cm) * k + 3} class="small"
              >{label(spot.ratio)}</text
            >
          {/if}
        {/each}
      </svg>
      <p class="quiet text-sm">Per cent; dashed below 95, thick above 105.</p>
      <details>
        <summary class="cursor-pointer">As a table</summary>
        <table class="w-full tabular-nums">
          <thead>
            <tr>
              <th scope="col" class="text-left">Where</th>
              <th scope="col" class="text-right">lamp at</th>
              <th scope="col" class="text-right">read</th>
              <th scope="col" class="text-right"
                >{against === "plan" ? "planned" : "maker's map"}</th
              >
              <th scope="col" class="text-right">of it</th>
            </tr>
          </thead>
          <tbody>
            {#each found.spots as spot, i (i)}
              <tr>
                <td>{length(spot.x_cm, unit)}, {length(spot.y_cm, unit)}</td>
                <td class="text-right">{hang(spot.height_cm, unit)}</td>
                <td class="text-right">{Math.round(spot.measured)}</td>
                <td class="text-right"
                  >{shown.there[i] == null ? "–" : Math.round(shown.there[i])}</td
                >
                <td class="text-right">{shown.ratio[i] == null ? "–" : percent(shown.ratio[i])}</td>
              </tr>
            {/each}
          </tbody>
        </table>
      </details>
    {/if}
    {#if !found.maker}
      <p class="quiet text-sm">
        No maker's map is kept of this lamp, or several lamps were lit: a map of one is kept under
        Fixtures.
      </p>
    {/if}
  {/if}
</details>

<style>
  .floor {
    fill: var(--color-base-100);
    stroke: var(--quiet);
  }
  circle {
    fill: var(--color-base-200);
    stroke: var(--quiet);
    stroke-width: 1.5;
  }
  circle.less {
    stroke: var(--color-base-content);
    stroke-dasharray: 4 3;
  }
  circle.more {
    stroke: var(--color-base-content);
    stroke-width: 4;
  }
  text {
    fill: var(--color-base-content);
    font-size: 14px;
  }
  .small {
    font-size: 9px;
    text-anchor: middle;
  }
</style>
