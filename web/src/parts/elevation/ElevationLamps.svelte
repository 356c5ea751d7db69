<script lang="ts">
  import type { Bench, HungLamp } from "../../api/client";

  interface Props {
    geometry: Bench["geometry"];
    /** Pixels a cm, the tent's left edge, its top, and heights above the floor as places. */
    k: number;
    left: number;
    top: number;
    y: (cm: number) => number;
    /** The rail's face above the floor. */
    face: number;
  }
  let { geometry: g, k, left, top, y, face }: Props = $props();

  interface Drawn {
    low: number;
    high: number;
    zLow: number;
    zHigh: number;
    body: number;
  }
  /** The face's two ends as seen from the front, in cm. */
  function ends(lamp: HungLamp): Drawn {
    const xs = lamp.corners_cm.map(([x]) => x ?? 0);
    const [low, high] = [Math.min(...xs), Math.max(...xs)];
    const turn = (lamp.turn_deg * Math.PI) / 180;
    const tilt = (lamp.tilt_deg * Math.PI) / 180;
    const rise = Math.tan(tilt * Math.cos(turn)) * ((high - low) / 2);
    const at = face + lamp.raise_cm;
    return { low, high, zLow: at - rise, zHigh: at + rise, body: lamp.body_cm };
  }
  const drawn = $derived(g.lamps.map(ends));
  const x = $derived((cm: number) => left + cm * k);
</script>

{#each drawn as lamp, i (i)}
  {#each [0.08, 0.92] as share (share)}
    {@const at = lamp.low + (lamp.high - lamp.low) * share}
    <line
      class="rope"
      x1={x(at)}
      x2={x(at)}
      y1={top}
      y2={y(lamp.zLow + (lamp.zHigh - lamp.zLow) * share + lamp.body)}
    />
  {/each}
  <polygon
    class="body"
    points="{x(lamp.low)},{y(lamp.zLow)} {x(lamp.high)},{y(lamp.zHigh)} {x(lamp.high)},{Math.min(
      y(lamp.zHigh + lamp.body),
      y(lamp.zHigh) - 5,
    )} {x(lamp.low)},{Math.min(y(lamp.zLow + lamp.body), y(lamp.zLow) - 5)}"
  />
  <line class="face" x1={x(lamp.low)} x2={x(lamp.high)} y1={y(lamp.zLow)} y2={y(lamp.zHigh)} />
{/each}

<style>
  .rope {
    stroke: var(--quiet);
  }
  .body {
    fill: var(--color-neutral);
    stroke: var(--quiet);
  }
  .face {
    stroke: var(--light);
    stroke-width: 4;
  }
</style>
