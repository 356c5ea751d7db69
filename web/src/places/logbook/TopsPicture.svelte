<script lang="ts">
  import type { TopsSeen } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { dayWords, fromCm, length, toCm } from "../../units/format";

  interface Props {
    tops: TopsSeen;
    /** How near the lamp may come, in cm. */
    closest: number;
  }
  let { tops, closest }: Props = $props();

  const [H, LEFT, BOTTOM] = [220, 52, 24];
  let width = $state(640);
  const W = $derived(Math.max(width, 240));
  const days = $derived(tops.days.map((day) => ({ ...day, at: Date.parse(day.on) })));
  const first = $derived(days[0]?.at ?? 0);
  const last = $derived(days.at(-1)?.at ?? 1);
  const most = $derived(
    Math.max(
      tops.lamp_cm ?? 0,
      ...days.map((day) => day.high),
      ...tops.points.map((p) => p.tops_cm),
    ) * 1.08,
  );
  const x = (at: number): number =>
    LEFT + ((at - first) / Math.max(last - first, 1)) * (W - LEFT - 8);
  const y = (cm: number): number => H - BOTTOM - (cm / Math.max(most, 1)) * (H - BOTTOM - 8);
  const band = $derived(
    [
      ...days.map((day) => `${x(day.at)},${y(day.high)}`),
      ...[...days].reverse().map((day) => `${x(day.at)},${y(day.low)}`),
    ].join(" "),
  );
  const line = $derived(days.map((day) => `${x(day.at)},${y(day.middle)}`).join(" "));
  const today = $derived(Date.parse(account.today));
  /** Round lengths in the grower's unit, four or five of them. */
  const marks = $derived.by(() => {
    const whole = fromCm(most, account.unit);
    const step = [2, 5, 10, 20, 25, 50, 100].find((each) => whole / each <= 5.5) ?? 200;
    const count = Math.floor(whole / step);
    return Array.from({ length: count }, (_, i) => toCm((i + 1) * step, account.unit));
  });
</script>

<section class="bg-base-200 rounded-box p-4" aria-label="How the tops rise">
  <h2 class="font-semibold">How the tops rise</h2>
  <div bind:clientWidth={width}>
    <svg viewBox="0 0 {W} {H}" class="block w-full" role="img" aria-label="The tops, day by day">
      {#each marks as cm, i (i)}
        <line x1={LEFT} x2={W} y1={y(cm)} y2={y(cm)} class="mark" />
        <text x={LEFT - 6} y={y(cm) + 4} text-anchor="end">{length(cm, account.unit)}</text>
      {/each}
      <polygon points={band} class="band" />
      <polyline points={line} class="curve" />
      {#if tops.lamp_cm !== null}
        <line x1={LEFT} x2={W} y1={y(tops.lamp_cm)} y2={y(tops.lamp_cm)} class="lamp" />
        <text x={W - 4} y={y(tops.lamp_cm) - 5} text-anchor="end">lamp</text>
        <line
          x1={LEFT}
          x2={W}
          y1={y(tops.lamp_cm - closest)}
          y2={y(tops.lamp_cm - closest)}
          class="limit"
        />
        <text x={W - 4} y={y(tops.lamp_cm - closest) + 14} text-anchor="end">no nearer</text>
      {/if}
      {#if today >= first && today <= last}
        <line x1={x(today)} x2={x(today)} y1="4" y2={H - BOTTOM} class="today" />
        <text x={x(today)} y={H - 8} text-anchor="middle">today</text>
      {/if}
      {#each tops.points as point, i (i)}
        <circle cx={x(Date.parse(point.at))} cy={y(point.tops_cm)} r="4.5" class="point" />
      {/each}
      <text x={LEFT} y={H - 8}>{dayWords(days[0]?.on ?? account.today)}</text>
      <text x={W - 4} y={H - 8} text-anchor="end">{dayWords(days.at(-1)?.on ?? account.today)}</text
      >
    </svg>
  </div>
  <p class="quiet text-sm">
    {tops.points.length} measured; {tops.kind === "line"
      ? "a straight line so far, with what the stage usually does"
      : "a curve that levels off"}; nine times in ten inside the shade.
  </p>
</section>

<style>
  .mark {
    stroke: var(--color-base-300);
  }
  .band {
    fill: var(--color-primary);
    opacity: 0.16;
  }
  .curve {
    fill: none;
    stroke: var(--color-primary);
    stroke-width: 2.5;
  }
  .lamp {
    stroke: var(--color-base-content);
    stroke-width: 3;
  }
  .limit {
    stroke: var(--color-base-content);
    stroke-dasharray: 7 4;
  }
  .today {
    stroke: var(--quiet);
    stroke-dasharray: 2 3;
  }
  .point {
    fill: var(--color-base-100);
    stroke: var(--color-base-content);
    stroke-width: 2;
  }
  text {
    fill: var(--color-base-content);
    font-size: 12px;
  }
</style>
