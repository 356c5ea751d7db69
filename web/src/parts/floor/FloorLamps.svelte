<script module lang="ts">
  /** How lamps on the floor are taken hold of. */
  export interface Arrange {
    chosen: number;
    choose: (at: number) => void;
    move: (at: number, x_cm: number, y_cm: number) => void;
  }
</script>

<script lang="ts">
  import type { Bench } from "../../api/client";
  import { length, type LengthUnit } from "../../units/format";

  interface Props {
    geometry: Bench["geometry"];
    /** Pixels a cm, and the picture's height. */
    k: number;
    h: number;
    unit: LengthUnit;
    arrange?: Arrange | undefined;
  }
  let { geometry: g, k, h, unit, arrange }: Props = $props();

  let drag = $state<{ at: number; dx: number; dy: number } | null>(null);

  /** A frame's corners, moved by what it is being dragged. */
  function corners(at: number): string {
    const lamp = g.lamps[at];
    const [dx, dy] = drag?.at === at ? [drag.dx, drag.dy] : [0, 0];
    return (lamp?.corners_cm ?? [])
      .map(([x = 0, y = 0]) => `${(x + dx) * k},${h - (y + dy) * k}`)
      .join(" ");
  }

  let from = { x: 0, y: 0 };
  function down(event: PointerEvent & { currentTarget: SVGElement }, at: number): void {
    event.stopPropagation();
    arrange?.choose(at);
    event.currentTarget.setPointerCapture(event.pointerId);
    from = { x: event.clientX, y: event.clientY };
    drag = { at, dx: 0, dy: 0 };
  }
  function moved(event: PointerEvent): void {
    if (!drag) return;
    event.stopPropagation();
    const step = (px: number): number => Math.round(px / k);
    drag = { at: drag.at, dx: step(event.clientX - from.x), dy: -step(event.clientY - from.y) };
  }
  function up(): void {
    const lamp = drag && g.lamps[drag.at];
    if (drag && lamp && (drag.dx || drag.dy))
      arrange?.move(drag.at, lamp.x_cm + drag.dx, lamp.y_cm + drag.dy);
    drag = null;
  }
  function keys(event: KeyboardEvent, at: number): void {
    const lamp = g.lamps[at];
    const by = event.shiftKey ? 10 : 1;
    const steps: Record<string, [number, number]> = {
      ArrowLeft: [-by, 0],
      ArrowRight: [by, 0],
      ArrowUp: [0, by],
      ArrowDown: [0, -by],
    };
    const step = steps[event.key];
    if (!step || !lamp) return;
    event.preventDefault();
    event.stopPropagation();
    arrange?.choose(at);
    arrange?.move(at, lamp.x_cm + step[0], lamp.y_cm + step[1]);
  }
</script>

{#each g.stands as stand, i (i)}
  <rect
    class="stand"
    x={stand.x_cm * k}
    y={h - (stand.y_cm + stand.depth_cm) * k}
    width={stand.width_cm * k}
    height={stand.depth_cm * k}
  />
  <text class="step" x={stand.x_cm * k + 4} y={h - stand.y_cm * k - 5}
    >step {length(stand.raise_cm, unit)}</text
  >
{/each}
{#each g.plots as plot, i (i)}
  <rect
    class="plot"
    x={plot.x_cm * k}
    y={h - (plot.y_cm + plot.depth_cm) * k}
    width={plot.width_cm * k}
    height={plot.depth_cm * k}
  />
  <text class="step" x={plot.x_cm * k + 4} y={h - (plot.y_cm + plot.depth_cm) * k + 14}
    >plants here</text
  >
{/each}
{#each g.lamps as lamp, i (i)}
  {#if arrange}
    <polygon
      class="frame handle"
      class:chosen={arrange.chosen === i}
      points={corners(i)}
      role="button"
      tabindex="0"
      aria-pressed={arrange.chosen === i}
      aria-label="Lamp {i + 1}, {lamp.name}: {length(lamp.x_cm, unit)} from the left, {length(
        lamp.y_cm,
        unit,
      )} from the front; arrow keys move it"
      onpointerdown={(e) => down(e, i)}
      onpointermove={moved}
      onpointerup={up}
      onpointercancel={up}
      onkeydown={(e) => keys(e, i)}
    />
    <text class="number" x={lamp.x_cm * k} y={h - lamp.y_cm * k + 6} text-anchor="middle"
      >{i + 1}</text
    >
  {:else}
    <polygon class="frame" points={corners(i)} />
  {/if}
{/each}

<style>
  .frame {
    fill: none;
    stroke: var(--floor-ink);
    stroke-dasharray: 5 4;
    stroke-opacity: 0.7;
    stroke-linejoin: round;
  }
  .handle {
    fill: var(--color-base-100);
    fill-opacity: 0.05;
    cursor: grab;
    touch-action: none;
  }
  .handle:focus-visible {
    outline: none;
    stroke-width: 4;
  }
  .chosen {
    fill-opacity: 0.2;
    stroke-dasharray: none;
    stroke-opacity: 1;
    stroke-width: 2.5;
  }
  .number {
    fill: var(--floor-ink);
    font-size: 18px;
    font-weight: 700;
    paint-order: stroke;
    stroke: var(--floor-halo);
    stroke-width: 4px;
    pointer-events: none;
  }
  .stand {
    fill: none;
    stroke: var(--floor-ink);
    stroke-width: 1.5;
  }
  .plot {
    fill: none;
    stroke: var(--leaf);
    stroke-width: 3;
  }
  .step {
    fill: var(--floor-ink);
    font-size: 12px;
    paint-order: stroke;
    stroke: var(--floor-halo);
    stroke-width: 3px;
    pointer-events: none;
  }
</style>
