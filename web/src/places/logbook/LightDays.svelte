<script lang="ts">
  import type { LightGiven } from "../../api/client";
  import { dayWords, trim } from "../../units/format";

  let { light }: { light: LightGiven } = $props();

  const [H, LEFT, BOTTOM] = [170, 52, 22];
  const MOST = 60;
  let width = $state(640);
  const W = $derived(Math.max(width, 240));
  /** The latest, as many as can be told apart. */
  const days = $derived(light.days.slice(-MOST));
  const most = $derived(Math.max(...days.flatMap((day) => [day.dli, day.dli_high])) * 1.1);
  const y = (dli: number): number => H - BOTTOM - (dli / most) * (H - BOTTOM - 6);
  const step = $derived((W - LEFT - 6) / days.length);
  const x = (i: number): number => LEFT + i * step;
  type Day = LightGiven["days"][number];
  /** Against the band of the stage it then was in. */
  const place = ({ dli, dli_low, dli_high }: Day): string =>
    dli < dli_low ? "short" : dli > dli_high ? "above" : "inside";
  /** Days in a row that one band holds for. */
  const bands = $derived.by(() => {
    const found: { from: number; to: number; low: number; high: number }[] = [];
    days.forEach(({ dli_low: low, dli_high: high }, i) => {
      const last = found.at(-1);
      if (last?.low === low && last.high === high) last.to = i + 1;
      else found.push({ from: i, to: i + 1, low, high });
    });
    return found;
  });
  const PLACE_WORDS: Record<string, string> = {
    short: "short of the",
    above: "above the",
    inside: "inside the",
  };
  let at = $state<number | null>(null);
  const shown = $derived(at === null ? null : days[at]);
</script>

<section class="bg-base-200 rounded-box p-4" aria-label="The light of each day">
  <h2 class="font-semibold">The light of each day</h2>
  <div bind:clientWidth={width}>
    <svg
      viewBox="0 0 {W} {H}"
      class="block w-full"
      role="img"
      aria-label="DLI of the last {days.length} days against {trim(light.dli_low, 1)} to {trim(
        light.dli_high,
        1,
      )} mol of {light.stage}"
      onpointerleave={() => (at = null)}
    >
      {#each bands as band (band.from)}
        <rect
          x={x(band.from)}
          y={y(band.high)}
          width={x(band.to) - x(band.from)}
          height={y(band.low) - y(band.high)}
          class="band"
        />
      {/each}
      {#each [light.dli_low, light.dli_high] as dli (dli)}
        <line x1={LEFT} x2={W} y1={y(dli)} y2={y(dli)} class="edge" />
        <text x={LEFT - 6} y={y(dli) + 4} text-anchor="end">{trim(dli, 1)} mol</text>
      {/each}
      {#each days as day, i (day.on)}
        {#if day.known}
          <rect
            x={x(i) + step * 0.14}
            y={y(day.dli)}
            width={step * 0.72}
            height={H - BOTTOM - y(day.dli)}
            class="day {place(day)}"
            class:now={i === days.length - 1}
            role="presentation"
            onpointerenter={() => (at = i)}
          />
        {/if}
      {/each}
      <text x={LEFT} y={H - 6}>{dayWords(days[0]?.on ?? "")}</text>
      <text x={W - 4} y={H - 6} text-anchor="end">today so far</text>
    </svg>
  </div>
  <p class="quiet text-sm">
    {#if shown}
      {dayWords(shown.on)}: {trim(shown.dli, 1)} mol, nine times in ten {trim(shown.low, 1)}–{trim(
        shown.high,
        1,
      )}, {trim(shown.lit_h, 1)} h of full light, {PLACE_WORDS[place(shown)]}
      {trim(shown.dli_low, 1)} to {trim(shown.dli_high, 1)} of {shown.stage}.
    {:else}
      From what was set, the tops as they rose and power cuts, by the light the plan has. Dashed:
      short of the band of its stage; outlined: above it. Days before the first height, dial and
      hours are not known.
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
  .day {
    fill: var(--color-primary);
  }
  .day.short {
    fill: var(--floor-short-mark);
    fill-opacity: 0.55;
    stroke: var(--floor-short-mark);
    stroke-dasharray: 3 2;
  }
  .day.above {
    fill-opacity: 0.45;
    stroke: var(--color-base-content);
    stroke-width: 2;
  }
  .day.now {
    fill-opacity: 0.5;
  }
  text {
    fill: var(--color-base-content);
    font-size: 12px;
  }
</style>
