<script lang="ts">
  import type { FitFound } from "../../api/client";
  import { length, type LengthUnit, percent } from "../../units/format";
  import type { Spot } from "./spots";

  interface Props {
    width_cm: number;
    depth_cm: number;
    spots: Spot[];
    read: (number | null | undefined)[];
    at: number;
    unit: LengthUnit;
    found: FitFound | null;
    go: (at: number) => void;
  }
  let { width_cm, depth_cm, spots, read, at, unit, found, go }: Props = $props();

  const MOST_SPOTS = 400;
  let width = $state(400);
  let wide = $state(1280);
  /** On a phone the pad has to stay in sight below it. */
  const most = $derived(wide < 640 ? 170 : 360);
  const k = $derived(Math.min(width / width_cm, most / depth_cm));
  const w = $derived(width_cm * k);
  const h = $derived(depth_cm * k);
  const MOST_R = 21;
  const LEAST_R = 7;
  /** Below it a figure has no room. */
  const WRITTEN_R = 15;

  /** Of a walk through the dial's steps those of the step that is next. */
  const dial = $derived((spots[at] ?? spots.at(-1))?.dial_pct);
  const which = $derived(
    spots.flatMap((spot, i) =>
      spot.dial_pct === dial || !spots.some((o) => o.dial_pct !== spot.dial_pct) ? [i] : [],
    ),
  );
  /** As large as leaves room between neighbours. */
  const R = $derived.by(() => {
    const drawn = which.flatMap((i) => spots[i] ?? []).slice(0, MOST_SPOTS);
    let nearest = Infinity;
    for (const [i, a] of drawn.entries())
      for (const b of drawn.slice(0, i)) {
        const apart = Math.hypot(a.x_cm - b.x_cm, a.y_cm - b.y_cm) * k;
        if (apart > 0) nearest = Math.min(nearest, apart);
      }
    return Math.max(Math.min(nearest / 2 - 1, MOST_R), LEAST_R);
  });
  /** Those at one place with the lamp higher stand a little beside it. */
  const places = $derived.by(() => {
    const times: Record<string, number> = {};
    return which.flatMap((i) => {
      const spot = spots[i];
      if (!spot) return [];
      const place = `${spot.x_cm} ${spot.y_cm}`;
      const before = times[place] ?? 0;
      times[place] = before + 1;
      const x = Math.min(Math.max(spot.x_cm * k, R + 1), w - R - 1);
      const y = Math.min(Math.max(h - spot.y_cm * k, R + 1), h - R - 1);
      return [{ i, x: x + before * (R * 2 + 4), y }];
    });
  });
  /** How far each reading lies from the fit. */
  const off = $derived.by(() => {
    const rows = found?.residuals ?? [];
    let next = 0;
    return spots.map((_, i) => (typeof read[i] === "number" ? rows[next++] : undefined));
  });
  const worst = $derived(found ? off.indexOf(found.residuals[found.worst]) : -1);
  function wordsOf(i: number): string {
    const spot = spots[i];
    const value = read[i];
    if (!spot) return "";
    const where = `${length(spot.x_cm, unit)} from the left, ${length(spot.y_cm, unit)} from the front`;
    const lift = spot.lift_cm
      ? `, lamp ${length(Math.abs(spot.lift_cm), unit)} ${spot.lift_cm > 0 ? "higher" : "lower"}`
      : "";
    const turned = spot.dial_pct === null ? "" : `, dial at ${spot.dial_pct}`;
    const what =
      typeof value === "number"
        ? `${Math.round(value)} read`
        : value === null
          ? "left out"
          : "to read";
    return `Spot ${i + 1}, ${where}${lift}${turned}: ${what}`;
  }
</script>

<svelte:window bind:innerWidth={wide} />

<div class="w-full" bind:clientWidth={width}>
  <p class="quiet text-center text-xs">back</p>
  <svg width={w} height={h} class="mx-auto block" role="group" aria-label="The floor from above">
    <rect width={w} height={h} class="floor" />
    {#each places as { i, x, y } (i)}
      {@const value = read[i]}
      {@const residual = off[i]}
      <g
        class="spot"
        class:next={i === at}
        class:done={typeof value === "number"}
        class:out={value === null}
        class:worst={i === worst && Math.abs(residual?.off ?? 0) > 0.03}
        role="button"
        tabindex="0"
        aria-label={wordsOf(i)}
        aria-current={i === at ? "step" : undefined}
        onclick={() => go(i)}
        onkeydown={(event) => {
          if (event.key === "Enter" || event.key === " ") {
            event.preventDefault();
            go(i);
          }
        }}
      >
        <circle cx={x} cy={y} r={R} />
      </g>
    {/each}
    <g aria-hidden="true">
      {#each R >= WRITTEN_R ? places : [] as { i, x, y } (i)}
        {@const value = read[i]}
        {@const residual = off[i]}
        <text
          class:done={typeof value === "number"}
          {x}
          y={y + (residual ? 0 : 5)}
          text-anchor="middle"
          >{typeof value === "number" ? Math.round(value) : value === null ? "–" : i + 1}</text
        >
        {#if residual}
          <text class="off done" {x} y={y + 13} text-anchor="middle"
            >{Math.abs(residual.off) < 0.005 ? "" : residual.off > 0 ? "+" : "−"}{percent(
              Math.abs(residual.off),
            )}</text
          >
        {/if}
      {/each}
    </g>
  </svg>
  <p class="quiet text-center text-xs">front</p>
</div>

<style>
  .floor {
    fill: var(--color-base-200);
    stroke: var(--quiet);
    stroke-width: 1.5;
  }
  .spot {
    cursor: pointer;
  }
  circle {
    fill: var(--color-base-100);
    stroke: var(--quiet);
    stroke-width: 1.5;
  }
  .done circle {
    fill: var(--floor-inside);
    stroke: var(--floor-ink);
  }
  .out circle {
    stroke-dasharray: 3 3;
  }
  .next circle {
    stroke: var(--color-primary);
    stroke-width: 4;
  }
  .worst circle {
    stroke: var(--color-error);
    stroke-width: 3;
    stroke-dasharray: 6 3;
  }
  .spot:focus-visible {
    outline: none;
  }
  .spot:focus-visible circle {
    stroke: var(--color-primary);
    stroke-width: 5;
  }
  text {
    fill: var(--color-base-content);
    font-size: 14px;
    font-variant-numeric: tabular-nums;
    pointer-events: none;
  }
  text.done {
    fill: var(--floor-ink);
  }
  .off {
    font-size: 10.5px;
  }
</style>
