<script lang="ts">
  import { asRefusal, type Drift } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { driftOf } from "../../api/review";
  import { getGo } from "../../parts/go";
  import { dayWords, percent } from "../../units/format";
  import { worded } from "../../words/said";

  // what lamp and lining have lost since they were first read, and why
  let { runId }: { runId: number } = $props();
  const go = getGo();
  const unit = $derived(account.unit);
  const asked = $derived(driftOf(runId));

  const [H, LEFT, BOTTOM] = [130, 46, 18];
  let width = $state(420);
  const W = $derived(Math.min(Math.max(width, 240), 520));
  const DAY_MS = 86_400_000;
  const day = (on: string): number => Date.parse(on) / DAY_MS;
  function scales(found: Drift) {
    const ends = [found.course[0]?.on ?? "", found.course.at(-1)?.on ?? ""] as const;
    const span = Math.max(day(ends[1]) - day(ends[0]), 1);
    const shares = [
      ...found.course.flatMap((p) => [p.low, p.high]),
      ...found.walks.map((p) => p.share),
    ];
    const [low, high] = [Math.min(...shares, 0.95) - 0.01, Math.max(...shares, 1) + 0.01];
    return {
      ends,
      low,
      high,
      x: (on: string): number => LEFT + ((day(on) - day(ends[0])) / span) * (W - LEFT - 10),
      y: (share: number): number => 6 + ((high - share) / (high - low)) * (H - BOTTOM - 6),
    };
  }
</script>

<section class="bg-base-200 rounded-box p-4" aria-label="What lamp and lining have lost">
  <h2 class="font-semibold">What lamp and lining have lost</h2>
  {#await asked}
    <p class="quiet" role="status">Holding the walks against each other…</p>
  {:then found}
    {#each found.lines as line, i (i)}
      <p class:text-lg={!i && found.walks.length > 0}>{worded(line, unit)}</p>
    {/each}
    {#if found.walks.length}
      {@const { x, y, ends, low, high } = scales(found)}
      <div bind:clientWidth={width}>
        <svg
          viewBox="0 0 {W} {H}"
          class="mt-2 block w-full max-w-[520px]"
          role="img"
          aria-label="Share of the first walk's light over {found.walks.length} walks"
        >
          {#each [1, Math.round(((low + high) / 2) * 100) / 100] as share (share)}
            <line x1={LEFT} x2={W} y1={y(share)} y2={y(share)} class="edge" />
            <text x={LEFT - 6} y={y(share) + 4} text-anchor="end">{percent(share)}</text>
          {/each}
          <path
            class="range"
            d="M{found.course.map((p) => `${x(p.on)},${y(p.high)}`).join('L')}L{found.course
              .toReversed()
              .map((p) => `${x(p.on)},${y(p.low)}`)
              .join('L')}Z"
          />
          <path
            class="middle"
            d="M{found.course.map((p) => `${x(p.on)},${y(p.middle)}`).join('L')}"
          />
          {#each found.walks as walk, i (i)}
            <circle cx={x(walk.on)} cy={y(walk.share)} r="4"
              ><title>{dayWords(walk.on)}: {percent(walk.share)}</title></circle
            >
          {/each}
          <text x={LEFT} y={H - 4}>{dayWords(ends[0])}</text>
          <text x={W - 4} y={H - 4} text-anchor="end">{dayWords(ends[1])}</text>
        </svg>
      </div>
      <p class="quiet text-sm">
        Dots: what each walk read, put to one height and dial. Shade: where the light is, nine times
        in ten.{found.left_out
          ? ` ${found.left_out} ${found.left_out === 1 ? "walk is" : "walks are"} of another tent, or of the lamp elsewhere.`
          : ""}
      </p>
      <ol class="mt-2 grid gap-2">
        {#each found.causes as cause (`${cause.code} ${worded(cause.name, unit)}`)}
          <li>
            <strong>{worded(cause.name, unit)}</strong>
            <span class="quiet">{percent(cause.likelihood)}</span>
            <p>{worded(cause.do, unit)}</p>
          </li>
        {/each}
      </ol>
    {:else}
      <button class="btn btn-sm mt-2 max-sm:min-h-11 print:hidden" onclick={() => go("/readings")}
        >To the readings</button
      >
    {/if}
  {:catch error}
    <p role="alert">{asRefusal(error).message}</p>
  {/await}
</section>

<style>
  .edge {
    stroke: var(--quiet);
    stroke-dasharray: 4 3;
    opacity: 0.6;
  }
  .range {
    fill: var(--color-primary);
    opacity: 0.2;
  }
  .middle {
    fill: none;
    stroke: var(--color-primary);
    stroke-width: 2;
  }
  circle {
    fill: var(--color-base-100);
    stroke: var(--color-base-content);
    stroke-width: 2;
  }
  text {
    fill: var(--color-base-content);
    font-size: 12px;
  }
</style>
