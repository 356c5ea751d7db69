<script lang="ts">
  import type { Bench } from "../../api/client";
  import { length, type LengthUnit, percent, trim } from "../../units/format";
  import { levels, roundLevels } from "./contours";
  import FloorLamps, { type Arrange } from "./FloorLamps.svelte";
  import Key from "./Key.svelte";

  interface Props {
    bench: Bench;
    unit: LengthUnit;
    /** Lamps can be taken hold of. */
    arrange?: Arrange | undefined;
  }
  let { bench, unit, arrange }: Props = $props();

  let absolute = $state(false);
  let width = $state(460);
  let height = $state(400);
  let spot = $state<{ i: number; j: number } | null>(null);

  const g = $derived(bench.geometry);
  const rows = $derived(bench.floor.ppfd);
  /** What the colours hold against the band: the grower's own is for the light itself. */
  const held = $derived(bench.own_band ? rows : bench.floor.day_ppfd);
  const nx = $derived(bench.floor.x_cm.length);
  const ny = $derived(bench.floor.y_cm.length);
  const k = $derived(Math.min(width / g.width_cm, height / g.depth_cm));
  const w = $derived(g.width_cm * k);
  const h = $derived(g.depth_cm * k);
  const cx = $derived(w / nx);
  const cy = $derived(h / ny);
  const cap = $derived(bench.hot_spot_cap);
  const low = $derived(bench.statistics.minimum);
  const high = $derived(bench.statistics.maximum);

  const banded = $derived([
    ...levels(held, [bench.ppfd_low, bench.ppfd_high], cx, cy),
    ...levels(rows, [cap], cx, cy),
  ]);
  const steps = $derived(levels(absolute ? rows : held, roundLevels(low, high, 6), cx, cy));
  /** Figures at every few cells, always the middle. */
  const figures = $derived.by(() => {
    const every = (count: number): number => Math.max(2, Math.round(count / 6));
    const pick = (count: number): number[] => {
      const centre = Math.floor(count / 2);
      return Array.from({ length: count }, (_, i) => i).filter(
        (i) => (i - centre) % every(count) === 0,
      );
    };
    return pick(ny).flatMap((j) =>
      pick(nx).map((i) => ({ i, j, value: (absolute ? rows : held)[j]?.[i] ?? 0 })),
    );
  });

  const centre = $derived({ i: Math.floor(nx / 2), j: Math.floor(ny / 2) });
  const shown = $derived(spot && spot.i < nx && spot.j < ny ? spot : centre);
  const value = $derived(rows[shown.j]?.[shown.i] ?? 0);
  const day = $derived(bench.floor.day_ppfd[shown.j]?.[shown.i] ?? 0);
  const apart = $derived(bench.groups.some((group) => group.own_timer));
  const readout = $derived(
    `${length(bench.floor.x_cm[shown.i] ?? 0, unit)} from the left, ` +
      `${length(bench.floor.y_cm[shown.j] ?? 0, unit)} from the front: ` +
      `${Math.round(value)} µmol, DLI ${trim(day * bench.dli_per_umol + bench.daylight_dli, 1)}, ` +
      `${percent(value / (bench.statistics.mean || 1))} of the mean`,
  );

  function point(event: PointerEvent & { currentTarget: SVGSVGElement }): void {
    const box = event.currentTarget.getBoundingClientRect();
    const i = Math.floor(((event.clientX - box.left) / w) * nx);
    const j = Math.floor(((h - (event.clientY - box.top)) / h) * ny);
    if (i >= 0 && i < nx && j >= 0 && j < ny) spot = { i, j };
  }
  function keys(event: KeyboardEvent): void {
    const steps: Record<string, [number, number]> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, 1],
      ArrowDown: [0, -1],
    };
    const step = steps[event.key];
    if (!step) return;
    event.preventDefault();
    spot = {
      i: Math.min(Math.max(shown.i + step[0], 0), nx - 1),
      j: Math.min(Math.max(shown.j + step[1], 0), ny - 1),
    };
  }
</script>

<div class="flex h-full flex-col gap-0.5 max-lg:min-h-96">
  <div class="flex flex-wrap items-center justify-between gap-2">
    <h2 class="font-semibold">The floor from above</h2>
    <div class="join" role="group" aria-label="Colours show">
      <button
        class="btn join-item btn-xs max-sm:min-h-11"
        class:btn-neutral={!absolute}
        aria-pressed={!absolute}
        onclick={() => (absolute = false)}>against the band</button
      >
      <button
        class="btn join-item btn-xs max-sm:min-h-11"
        class:btn-neutral={absolute}
        aria-pressed={absolute}
        onclick={() => (absolute = true)}>plain values</button
      >
    </div>
  </div>
  <div
    class="relative min-h-60 flex-1 lg:min-h-[17.5rem]"
    bind:clientWidth={width}
    bind:clientHeight={height}
  >
    <!-- svelte-ignore a11y_no_noninteractive_element_interactions, a11y_no_noninteractive_tabindex -->
    <svg
      width={w}
      height={h}
      class="floor absolute"
      role="application"
      tabindex="0"
      aria-label="Light on the floor; arrow keys move the spot"
      aria-describedby="spot"
      onpointermove={point}
      onpointerdown={point}
      onkeydown={keys}
    >
      <defs>
        <pattern
          id="hatch"
          width="7"
          height="7"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <line class="short-mark" x1="0" x2="0" y1="0" y2="7" />
        </pattern>
        <pattern id="dots" width="9" height="9" patternUnits="userSpaceOnUse">
          <circle class="above-mark" cx="3" cy="3" r="1.6" />
        </pattern>
      </defs>
      {#if absolute}
        <rect width={w} height={h} class="step0" />
        {#each steps as step, i (step.at)}
          <path
            d={step.path}
            class="step"
            fill-opacity={(i + 1) / (steps.length + 1)}
            fill-rule="evenodd"
          />
        {/each}
      {:else}
        <rect width={w} height={h} class="short" />
        <rect width={w} height={h} fill="url(#hatch)" />
        {#each banded as level, i (i)}
          <path d={level.path} class={["inside", "above", "over"][i]} fill-rule="evenodd" />
          {#if i === 1}<path d={level.path} fill="url(#dots)" fill-rule="evenodd" />{/if}
        {/each}
        {#each steps as step (step.at)}
          <path d={step.path} class="contour" />
        {/each}
      {/if}
      {#each figures as f (`${f.i},${f.j}`)}
        <text class="figure" x={(f.i + 0.5) * cx} y={h - (f.j + 0.5) * cy + 4} text-anchor="middle"
          >{Math.round(f.value)}</text
        >
      {/each}
      <rect
        class="spot"
        x={shown.i * cx}
        y={h - (shown.j + 1) * cy}
        width={cx}
        height={cy}
        rx="2"
      />
      <FloorLamps geometry={g} {k} {h} {unit} {arrange} />
      <rect width={w} height={h} class="edge" />
    </svg>
  </div>
  <p id="spot" class="text-sm" aria-live="polite"><strong>Spot</strong> {readout}</p>
  <Key {bench} {absolute} {low} {high} />
  {#if apart && !absolute}
    <p class="quiet text-sm">
      Lamps on a timer of their own are spread over the others' hours here; plain values show all of
      them on.
    </p>
  {/if}
</div>

<style>
  .floor {
    cursor: crosshair;
    touch-action: pan-y;
  }
  .floor:focus-visible {
    outline: 3px solid var(--color-primary);
    outline-offset: 2px;
  }
  .short {
    fill: var(--floor-short);
  }
  .short-mark {
    stroke: var(--floor-short-mark);
    stroke-width: 1.6;
  }
  .inside {
    fill: var(--floor-inside);
  }
  .above {
    fill: var(--floor-above);
  }
  .above-mark {
    fill: var(--floor-above-mark);
  }
  .over {
    fill: var(--floor-over);
  }
  .step0 {
    fill: var(--color-base-300);
  }
  .step {
    fill: var(--light);
    stroke: var(--floor-ink);
    stroke-opacity: 0.35;
    stroke-width: 0.75;
  }
  .contour {
    fill: none;
    stroke: var(--floor-ink);
    stroke-opacity: 0.4;
    stroke-width: 0.75;
  }
  .figure {
    fill: var(--floor-ink);
    paint-order: stroke;
    stroke: var(--floor-halo);
    stroke-width: 3px;
    font-size: 13px;
    pointer-events: none;
  }
  .spot {
    fill: none;
    stroke: var(--floor-ink);
    stroke-width: 2.5;
  }
  .edge {
    fill: none;
    stroke: var(--quiet);
    stroke-width: 1.5;
  }
</style>
