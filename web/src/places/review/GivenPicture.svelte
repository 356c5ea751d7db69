<script lang="ts">
  import type { Review } from "../../api/client";
  import { dayWords, trim } from "../../units/format";

  // planned and given in one picture: bands and lines of the plan, a bar a day of what plants got
  let { review }: { review: Review } = $props();

  const [H, LEFT, TOP, BOTTOM] = [210, 46, 22, 20];
  let width = $state(640);
  const W = $derived(Math.max(width, 240));
  const days = $derived(review.days);
  const most = $derived(
    Math.max(
      ...days.flatMap((day) => [day.high, day.planned_dli ?? 0]),
      ...review.stages.map((stage) => stage.dli_high),
      1,
    ) * 1.05,
  );
  const y = (dli: number): number => H - BOTTOM - (dli / most) * (H - BOTTOM - TOP);
  const step = $derived((W - LEFT - 4) / Math.max(days.length, 1));
  const x = (i: number): number => LEFT + i * step;
  const ticks = $derived([0, 0.5, 1].map((share) => Math.round(most * share * 0.95)));
  /** The plan's line, broken where it had no day. */
  const planned = $derived(
    days
      .map((day, i) =>
        day.planned_dli === null
          ? ""
          : `${i && days[i - 1]?.planned_dli != null ? "L" : "M"}${x(i)},${y(day.planned_dli)}H${x(i + 1)}`,
      )
      .join(""),
  );
  const place = (i: number): string => {
    const day = days[i];
    const stage = review.stages.find(
      ({ sums }) => i >= sums.first_day && i < sums.first_day + sums.days,
    );
    if (!day || !stage) return "inside";
    return day.dli < stage.dli_low ? "short" : day.dli > stage.dli_high ? "above" : "inside";
  };
  let at = $state<number | null>(null);
  const shown = $derived(at === null ? null : days[at]);
</script>

<section class="bg-base-200 rounded-box p-4" aria-label="Planned and given">
  <h2 class="font-semibold">Planned and given</h2>
  <div bind:clientWidth={width}>
    <svg
      viewBox="0 0 {W} {H}"
      class="block w-full"
      role="img"
      aria-label="DLI of {days.length} days as planned and as given"
      onpointerleave={() => (at = null)}
    >
      {#each review.stages as stage (stage.stage_id)}
        {@const left = x(stage.sums.first_day)}
        {@const wide = stage.sums.days * step}
        <rect
          x={left}
          y={y(stage.dli_high)}
          width={wide}
          height={y(stage.dli_low) - y(stage.dli_high)}
          class="band"
        />
        {#if stage.sums.first_day}<line
            x1={left}
            x2={left}
            y1="18"
            y2={H - BOTTOM}
            class="edge"
          />{/if}
        {#if wide > stage.name.length * 7}
          <text x={left + 4} y="14">{stage.name}</text>
        {:else if stage === review.stages.at(-1)}
          <text x={W - 4} y="14" text-anchor="end">{stage.name}</text>
        {/if}
      {/each}
      {#each ticks as tick (tick)}
        <text x={LEFT - 6} y={y(tick) + 4} text-anchor="end">{tick}</text>
      {/each}
      {#each days as day, i (day.on)}
        <g role="presentation" onpointerenter={() => (at = i)}>
          <rect x={x(i)} y={TOP} width={step} height={H - BOTTOM - TOP} fill="transparent" />
          {#if day.known}
            <rect
              x={x(i) + step * 0.16}
              y={y(day.dli)}
              width={step * 0.68}
              height={H - BOTTOM - y(day.dli)}
              class="day {place(i)}"
            />
          {/if}
        </g>
      {/each}
      <path d={planned} class="plan" />
      <text x={LEFT} y={H - 5}>{dayWords(review.begun_on)}</text>
      <text x={W - 4} y={H - 5} text-anchor="end">{dayWords(review.last_on)}</text>
    </svg>
  </div>
  <p class="quiet text-sm">
    {#if shown}
      {dayWords(shown.on)}: {shown.known
        ? `${trim(shown.dli, 1)} mol given, nine times in ten ${trim(shown.low, 1)}–${trim(shown.high, 1)}`
        : "nobody knows how the lamp stood"}{shown.planned_dli === null
        ? ""
        : `; ${trim(shown.planned_dli, 1)} planned`}.
    {:else}
      Mol a day. Line: the plan that then held; shade: the stage's band; a bar a day: what plants
      got. Dashed: short of the band; outlined: above it.
    {/if}
  </p>
</section>

<style>
  .band {
    fill: var(--floor-inside);
    opacity: 0.35;
  }
  .edge {
    stroke: var(--quiet);
    stroke-dasharray: 4 3;
  }
  .plan {
    fill: none;
    stroke: var(--color-base-content);
    stroke-width: 2;
    pointer-events: none;
  }
  .day {
    fill: var(--color-primary);
    fill-opacity: 0.75;
  }
  .day.short {
    fill: var(--floor-short-mark);
    fill-opacity: 0.55;
    stroke: var(--floor-short-mark);
    stroke-dasharray: 3 2;
  }
  .day.above {
    fill-opacity: 0.4;
    stroke: var(--color-base-content);
    stroke-width: 1.5;
  }
  text {
    fill: var(--color-base-content);
    font-size: 12px;
  }
</style>
