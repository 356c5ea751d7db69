<script lang="ts">
  import "../rails/rail.css";

  import type { Bench, Stretch } from "../../api/client";
  import { keyed, snap, stretchWords, type Travel } from "../rails/lever";
  import { hang, type LengthUnit } from "../../units/format";
  import ElevationLamps from "./ElevationLamps.svelte";

  interface Props {
    geometry: Bench["geometry"];
    /** What heights come in, in cm. */
    step: number;
    stretch: Stretch;
    value: number;
    plan: number;
    light: number;
    unit: LengthUnit;
    move: (value: number) => void;
  }
  let { geometry: g, step, stretch, value, plan, light, unit, move }: Props = $props();

  let width = $state(380);
  let height = $state(420);
  const RAIL = 112;
  const TOP = 8;
  const BOTTOM = 22;

  const k = $derived(
    Math.min((width - RAIL - 12) / g.width_cm, (height - TOP - BOTTOM) / g.height_cm),
  );
  const floor = $derived(TOP + g.height_cm * k);
  const left = 8;
  const railX = $derived(left + g.width_cm * k + 34);
  /** The lamps' outermost ends across, in cm. */
  const across = $derived(g.lamps.flatMap((lamp) => lamp.corners_cm.map(([x]) => x ?? 0)));
  const [lit, end] = $derived([Math.min(...across), Math.max(...across)]);
  /** Height above the floor in cm to a place in the picture. */
  const y = $derived((cm: number) => floor - cm * k);
  // it is hung on the stage's first day; the tops come up to it from there
  const tops = $derived(g.pot_cm + g.plant_start_cm);
  const ends = $derived(g.pot_cm + g.plant_end_cm);
  const face = $derived(tops + value);

  const travel = $derived<Travel>({
    low: stretch.lowest,
    high: stretch.highest,
    step,
    page: 5 * step,
  });
  const show = (cm: number): string => hang(cm, unit);

  const ticks = $derived.by(() => {
    const every = unit === "cm" ? (g.height_cm > 90 ? 20 : 10) : g.height_cm > 90 ? 20.32 : 10.16;
    const count = Math.floor(stretch.highest / every);
    return Array.from({ length: count + 1 }, (_, i) => i * every);
  });
  const pots = $derived.by(() => {
    const count = Math.max(2, Math.min(9, Math.round(g.width_cm / 22)));
    const step = g.width_cm / count;
    return Array.from({ length: count }, (_, i) => (i + 0.5) * step);
  });
  const potWidth = $derived(Math.min(14, (g.width_cm / pots.length) * 0.6));

  /** How far a step lifts what stands there. */
  const lifted = (x: number): number =>
    Math.max(
      0,
      ...g.stands
        .filter((s) => x >= s.x_cm && x <= s.x_cm + s.width_cm)
        .map((stand) => stand.raise_cm),
    );

  // lamps fixed under a board stay there
  const held = (to: number): void => {
    if (!g.fixed) move(to);
  };
  let dragging = false;
  function at(event: PointerEvent & { currentTarget: SVGSVGElement }): void {
    if (!dragging) return;
    const box = event.currentTarget.getBoundingClientRect();
    held(snap((floor - (event.clientY - box.top)) / k - tops, travel));
  }
  function keys(event: KeyboardEvent): void {
    const next = keyed(event.key, value, travel);
    if (next === null) return;
    event.preventDefault();
    held(next);
  }
</script>

<div class="h-full min-h-72" bind:clientWidth={width} bind:clientHeight={height}>
  <!-- svelte-ignore a11y_no_static_element_interactions -->
  <svg
    {width}
    {height}
    class="rail elevation absolute"
    onpointerdown={(e) => {
      dragging = true;
      e.currentTarget.setPointerCapture(e.pointerId);
      at(e);
    }}
    onpointermove={at}
    onpointerup={() => (dragging = false)}
    onpointercancel={() => (dragging = false)}
  >
    <defs>
      <linearGradient id="fall" x1="0" y1="0" x2="0" y2="1">
        <stop offset="0" class="near" stop-opacity={0.1 + 0.5 * light} />
        <stop offset="1" class="near" stop-opacity={0.02 + 0.12 * light} />
      </linearGradient>
    </defs>
    <rect class="tent" x={left} y={TOP} width={g.width_cm * k} height={g.height_cm * k} />
    <polygon
      fill="url(#fall)"
      points="{left + lit * k},{y(face)} {left + end * k},{y(face)} {left + g.width_cm * k},{y(
        tops,
      )} {left},{y(tops)}"
    />
    {#each g.stands as stand, i (i)}
      <rect
        class="step"
        x={left + stand.x_cm * k}
        y={y(stand.raise_cm)}
        width={stand.width_cm * k}
        height={stand.raise_cm * k}
      />
    {/each}
    {#each pots as x (x)}
      {@const px = left + x * k}
      {@const up = lifted(x)}
      <path
        class="plant"
        d="M{px} {y(up + g.pot_cm)} C{px - potWidth * k * 0.9} {y(
          up + g.pot_cm + g.plant_start_cm * 0.3,
        )} {px - potWidth * k * 0.7} {y(up + tops)} {px} {y(up + tops)} C{px +
          potWidth * k * 0.7} {y(up + tops)} {px + potWidth * k * 0.9} {y(
          up + g.pot_cm + g.plant_start_cm * 0.3,
        )} {px} {y(up + g.pot_cm)}Z"
      />
      <path
        class="pot"
        d="M{px - (potWidth * k) / 2} {y(up + g.pot_cm)} h{potWidth * k} l{-potWidth *
          k *
          0.12} {g.pot_cm * k} h{-potWidth * k * 0.76} z"
      />
    {/each}
    <line class="end" x1={left} x2={left + g.width_cm * k} y1={y(ends)} y2={y(ends)} />
    <line class="tops" x1={left} x2={railX} y1={y(tops)} y2={y(tops)} />
    <text class="on" x={left + 6} y={y(tops) - 5}>tops at the start {show(tops)}</text>
    {#if (ends - tops) * k > 18}
      <text class="on" x={left + 6} y={y(ends) - 4}>at the end {show(ends)}</text>
    {/if}

    <ElevationLamps geometry={g} {k} {left} top={TOP} {y} {face} />

    <line
      class="travel"
      x1={railX}
      x2={railX}
      y1={y(tops + stretch.lowest)}
      y2={y(tops + stretch.highest)}
    />
    {#each stretch.parts as { low, high }, i (i)}
      <line class="lit" x1={railX} x2={railX} y1={y(tops + low) + 2} y2={y(tops + high) - 2} />
    {/each}
    {#each stretch.sure as { low, high }, i (i)}
      <line class="sure" x1={railX} x2={railX} y1={y(tops + low) + 2} y2={y(tops + high) - 2} />
    {/each}
    {#if g.maker_low_cm !== null && g.maker_high_cm !== null}
      <path
        class="maker"
        d="M{railX - 8} {y(tops + g.maker_low_cm)} h-5 V{y(
          tops + Math.min(g.maker_high_cm, stretch.highest),
        )} h5"
      >
        <title>The maker's heights: {show(g.maker_low_cm)} to {show(g.maker_high_cm)}</title>
      </path>
    {/if}
    {#each ticks as tick (tick)}
      <line class="mark" x1={railX + 7} x2={railX + 12} y1={y(tops + tick)} y2={y(tops + tick)} />
      <text x={railX + 15} y={y(tops + tick) + 4}>{show(tick)}</text>
    {/each}
    {#if !g.fixed}
      <path class="plan" d="M{railX + 6} {y(tops + plan)} l9 -4 v8 z"
        ><title>The plan's choice</title></path
      >
    {/if}
    <line class="link" x1={left + end * k} x2={railX} y1={y(face)} y2={y(face)} />
    <circle
      class="thumb lever"
      role="slider"
      tabindex="0"
      aria-label="Height above the tops"
      aria-orientation="vertical"
      aria-disabled={g.fixed}
      class:fixed={g.fixed}
      aria-valuemin={stretch.lowest}
      aria-valuemax={stretch.highest}
      aria-valuenow={value}
      aria-valuetext="{show(value)}; {stretchWords(stretch, show)}"
      cx={railX}
      cy={y(face)}
      r="9"
      onkeydown={keys}
    />
    <text x={left} y={floor + 16}
      >{show(g.width_cm)} wide, {show(g.height_cm)} high{g.fixed
        ? "; lamps fixed under the board"
        : ""}</text
    >
  </svg>
</div>

<style>
  .elevation {
    cursor: ns-resize;
  }
  .fixed {
    cursor: not-allowed;
    stroke-dasharray: 3 3;
  }
  .near {
    stop-color: var(--light);
  }
  .tent {
    fill: none;
    stroke: var(--quiet);
    stroke-width: 1.5;
  }
  .plant {
    fill: var(--leaf);
    fill-opacity: 0.8;
  }
  .pot {
    fill: var(--pot);
  }
  .step {
    fill: var(--color-base-300);
    stroke: var(--quiet);
  }
  .tops {
    stroke: var(--leaf);
    stroke-width: 1.5;
  }
  .end {
    stroke: var(--color-base-content);
    stroke-dasharray: 3 4;
  }
  .on {
    fill: var(--color-base-content);
    paint-order: stroke;
    stroke: var(--color-base-100);
    stroke-width: 3px;
  }
  .link {
    stroke: var(--quiet);
  }
  .link {
    stroke-dasharray: 2 3;
  }
  .maker {
    fill: none;
    stroke: var(--color-secondary);
    stroke-width: 1.5;
  }
</style>
