<script lang="ts">
  import type { Bench } from "../../api/client";

  interface Props {
    bench: Bench;
    absolute: boolean;
    low: number;
    high: number;
  }
  let { bench, absolute, low, high }: Props = $props();
  const r = Math.round;
</script>

{#snippet swatch(kind: "short" | "inside" | "above" | "over")}
  <svg width="22" height="14" class="inline-block align-[-2px]" aria-hidden="true">
    <rect width="22" height="14" class={kind} rx="2" />
    {#if kind === "short"}<rect width="22" height="14" fill="url(#hatch)" />{/if}
    {#if kind === "above"}<rect width="22" height="14" fill="url(#dots)" />{/if}
  </svg>
{/snippet}

<p class="flex flex-wrap gap-x-4 text-sm">
  {#if absolute}
    <span>From {r(low)} to {r(high)} µmol m⁻² s⁻¹, brighter is more.</span>
  {:else}
    <span>{@render swatch("short")} short, under {r(bench.ppfd_low)}</span>
    <span>{@render swatch("inside")} inside the band</span>
    <span>{@render swatch("above")} above {r(bench.ppfd_high)}</span>
    {#if bench.statistics.maximum > bench.hot_spot_cap}
      <span>{@render swatch("over")} over the cap {r(bench.hot_spot_cap)}</span>
    {/if}
  {/if}
</p>

<style>
  .short {
    fill: var(--floor-short);
  }
  .inside {
    fill: var(--floor-inside);
  }
  .above {
    fill: var(--floor-above);
  }
  .over {
    fill: var(--floor-over);
  }
  rect {
    stroke: var(--quiet);
    stroke-width: 0.5;
  }
</style>
