<script lang="ts">
  import {
    answer,
    asRefusal,
    type Bench,
    client,
    type Position,
    type Positions,
  } from "../../api/client";
  import { download } from "../../parts/download";
  import { hang, length, type LengthUnit, percent, trim } from "../../units/format";
  import Term from "../../parts/Term.svelte";
  import type { Levers } from "./bench.svelte";
  import { curve, tradeWords } from "./positions";

  interface Props {
    runId: number;
    stageId: number;
    bench: Bench;
    unit: LengthUnit;
    attempt: (levers: Partial<Levers>) => void;
    close: () => void;
  }
  let { runId, stageId, bench, unit, attempt, close }: Props = $props();

  const [WIDTH, HEIGHT, LEFT] = [320, 150, 34];
  let found = $state<Positions | null>(null);
  let sentence = $state("");
  let by = $state<"height" | "dial">("height");
  const at = $derived(JSON.stringify({ ...bench.setting, on_minute: bench.on_minute, unit }));
  $effect(() => {
    const { unit: _, ...setting } = JSON.parse(at) as Bench["setting"] & {
      on_minute: number;
      unit: string;
    };
    const params = { path: { run_id: runId } };
    const body = { stage_id: stageId, from_day: bench.from_day, ...setting, locked: [] };
    let late = false;
    answer(client.POST("/api/runs/{run_id}/positions", { params, body }))
      .then((positions) => {
        if (!late) [found, sentence] = [positions, ""];
      })
      .catch((error: unknown) => {
        if (!late) sentence = asRefusal(error).message;
      });
    return () => {
      late = true;
    };
  });
  const rows = $derived(found ? (by === "height" ? found.heights : found.dials) : []);
  const key = (row: Position): number => (by === "height" ? row.height_cm : row.dial_pct);
  const name = (row: Position): string =>
    by === "height" ? hang(row.height_cm, unit) : trim(row.dial_pct, 1);
  const here = (row: Position): boolean => found !== null && key(row) === key(found.at);
  const scale = $derived({
    left: LEFT,
    width: WIDTH - LEFT - 8,
    height: HEIGHT - 24,
    from: rows[0] ? key(rows[0]) : 0,
    to: rows.length ? key(rows[rows.length - 1] as Position) : 1,
  });
  const mostLight = $derived(Math.max(1, ...rows.map((row) => row.brightest)));
  const x = (row: Position): number =>
    scale.left + (scale.width * (key(row) - scale.from)) / Math.max(scale.to - scale.from, 1e-9);
  const r = Math.round;
</script>

<section class="text-[0.9rem]" aria-labelledby="positions-title">
  <div class="flex flex-wrap items-center gap-2">
    <h2 id="positions-title" class="font-semibold">What other heights and dials give here</h2>
    <div class="join" role="group" aria-label="By">
      {#each [["height", "Heights"], ["dial", "Dial"]] as const as [what, label] (what)}
        <button
          class="btn btn-sm join-item max-sm:min-h-11"
          class:btn-neutral={by === what}
          aria-pressed={by === what}
          onclick={() => (by = what)}>{label}</button
        >
      {/each}
    </div>
    {#if found}
      <button
        class="btn btn-sm max-sm:min-h-11"
        onclick={() => {
          if (found)
            download(
              `${by === "height" ? "heights" : "dial"}.csv`,
              by === "height" ? found.height_text : found.dial_text,
              "text/csv",
            );
        }}>Save as CSV</button
      >
    {/if}
    <button class="btn btn-sm ml-auto max-sm:min-h-11" onclick={close}>Back to the floor</button>
  </div>
  {#if sentence}
    <p class="text-error" role="alert">{sentence}</p>
  {:else if !found}
    <p class="quiet" role="status">Hanging it there…</p>
  {:else}
    <p class="py-1 text-base" aria-live="polite">
      {#each tradeWords(found, by, unit) as words, i (i)}{i ? " " : ""}<strong>{words}</strong
        >{/each}
      {#if rows.length < 2}There is one {by === "height" ? "height" : "position"} only.{/if}
    </p>
    <div class="flex flex-wrap items-start gap-4">
      {#if rows.length > 1}
        <svg
          viewBox="0 0 {WIDTH} {HEIGHT}"
          width={WIDTH}
          role="img"
          aria-label="Mean, brightest and dimmest light, and evenness, by {by === 'height'
            ? 'height'
            : 'dial'}: the table says the same"
        >
          <polyline
            class="spread"
            points={curve(rows, key, (row) => row.brightest / mostLight, scale)}
          />
          <polyline
            class="spread"
            points={curve(rows, key, (row) => row.dimmest / mostLight, scale)}
          />
          <polyline class="light" points={curve(rows, key, (row) => row.mean / mostLight, scale)} />
          <polyline class="even" points={curve(rows, key, (row) => row.min_over_mean, scale)} />
          {#each rows.filter(here) as row (key(row))}
            <line class="here" x1={x(row)} x2={x(row)} y1="4" y2={HEIGHT - 20} />
          {/each}
          <text x="2" y="14">{r(mostLight)}</text>
          <text x="2" y={HEIGHT - 22}>0</text>
          <text x={scale.left} y={HEIGHT - 4}>{rows[0] ? name(rows[0]) : ""}</text>
          <text x={WIDTH - 4} y={HEIGHT - 4} text-anchor="end"
            >{name(rows[rows.length - 1] as Position)}</text
          >
        </svg>
      {/if}
      <p class="quiet max-w-56 text-sm">
        Thick: mean PPFD, thin: brightest and dimmest spot, µmol/m²/s. Dashed: dimmest over mean, 0
        at the foot, 1 at the top. The upright line is where it hangs.
      </p>
    </div>
    <div class="overflow-x-auto">
      <table class="stacked table-xs table">
        <thead>
          <tr>
            <th scope="col">{by === "height" ? "Height" : "Dial"}</th>
            <th scope="col" class="text-right">Mean</th>
            <th scope="col" class="text-right">Brightest</th>
            <th scope="col" class="text-right">Dimmest</th>
            <th scope="col" class="text-right">Min/max</th>
            <th scope="col" class="text-right">Min/mean</th>
            <th scope="col" class="text-right">DLI</th>
            <th scope="col" class="text-right">Watts</th>
            <th scope="col" class="text-right">On the canopy, µmol/J</th>
            <th scope="col" class="text-right"><Term of="capture">Reaches it</Term></th>
            <th scope="col"><span class="sr-only">Try it</span></th>
          </tr>
        </thead>
        <tbody>
          {#each rows as row (key(row))}
            <tr class:bg-base-200={here(row)}>
              <th scope="row" class="text-left whitespace-nowrap">{name(row)}</th>
              <td data-label="Mean" class="text-right">{r(row.mean)}</td>
              <td data-label="Brightest" class="text-right">{r(row.brightest)}</td>
              <td data-label="Dimmest" class="text-right">{r(row.dimmest)}</td>
              <td data-label="Min/max" class="text-right">{row.min_over_max?.toFixed(2) ?? "–"}</td>
              <td data-label="Min/mean" class="text-right"
                >{row.min_over_mean?.toFixed(2) ?? "–"}</td
              >
              <td data-label="DLI" class="text-right">{trim(row.dli, 1)}</td>
              <td data-label="Watts" class="text-right">{r(row.watts)}</td>
              <td data-label="On the canopy, µmol/J" class="text-right"
                >{row.efficacy_umol_j?.toFixed(2) ?? "–"}</td
              >
              <td data-label="Reaches it" class="text-right"
                >{row.captured === null ? "–" : percent(row.captured)}</td
              >
              <td>
                {#if here(row)}<span class="quiet">here</span>{:else}
                  <button
                    class="btn btn-xs max-sm:min-h-11"
                    aria-label="Try it: {by === 'height'
                      ? length(row.height_cm, unit)
                      : `dial ${name(row)}`}"
                    onclick={() =>
                      attempt(
                        by === "height" ? { height_cm: row.height_cm } : { dial_pct: row.dial_pct },
                      )}>Try it</button
                  >
                {/if}
              </td>
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
  {/if}
</section>

<style>
  polyline {
    fill: none;
  }
  .light {
    stroke: var(--light-edge);
    stroke-width: 3;
  }
  .spread {
    stroke: var(--light-edge);
    stroke-width: 1;
  }
  .even {
    stroke: var(--color-base-content);
    stroke-width: 2;
    stroke-dasharray: 5 4;
  }
  .here {
    stroke: var(--quiet);
  }
  text {
    font-size: 11px;
    fill: var(--quiet);
  }
</style>
