<script lang="ts">
  import type { RackAnswer } from "../../api/client";
  import { spaces } from "../../api/spaces.svelte";
  import { hang, type LengthUnit } from "../../units/format";

  interface Props {
    rack: RackAnswer;
    unit: LengthUnit;
  }
  let { rack, unit }: Props = $props();

  const WIDTH = 250;
  const MARGIN = 14;
  const BOARD = 4;
  const MOST = 340;

  const wide = $derived(
    Math.max(...rack.levels.map((level) => spaces.of(level.space_id)?.width_cm ?? 80)),
  );
  const tall = $derived(rack.levels.reduce((sum, level) => sum + level.height_cm, 0));
  const k = $derived(
    Math.min((WIDTH - 2 * MARGIN) / wide, (MOST - rack.levels.length * BOARD) / tall),
  );
  /** Each level with where its board stands in the picture, from the top. */
  const rows = $derived.by(() => {
    let y = BOARD + 2;
    return rack.levels.map((level) => {
      y += level.height_cm * k;
      const floor = y;
      y += BOARD;
      const width = (spaces.of(level.space_id)?.width_cm ?? wide) * k;
      return { level, floor, width, left: (WIDTH - width) / 2 };
    });
  });
  const height = $derived((rows.at(-1)?.floor ?? 0) + BOARD + 2);
</script>

<svg
  viewBox="0 0 {WIDTH} {height}"
  width={WIDTH}
  {height}
  role="img"
  aria-label="The rack from the front: {rack.levels
    .map((level) =>
      level.setting
        ? `${level.name} with its lamp ${hang(level.lamp_cm, unit)} above the board`
        : `${level.name} empty`,
    )
    .join(', ')}"
>
  {#each rows as { level, floor, width, left }, i (level.space_id)}
    {@const top = floor - level.height_cm * k}
    {#if i === 0}
      <rect class="board" x={left} y={top - BOARD} {width} height={BOARD} />
    {/if}
    <line class="post" x1={left} x2={left} y1={top - BOARD} y2={floor + BOARD} />
    <line class="post" x1={left + width} x2={left + width} y1={top - BOARD} y2={floor + BOARD} />
    {#if level.setting && level.outcome}
      {@const lamp = floor - level.lamp_cm * k}
      {@const tops = floor - level.tops_cm * k}
      <polygon
        class="light"
        points="{left + width * 0.15},{lamp} {left + width * 0.85},{lamp} {left +
          width},{tops} {left},{tops}"
      />
      <rect class="leaf" x={left + 2} y={tops} width={width - 4} height={floor - tops} />
      <rect class="lamp" x={left + width * 0.12} y={lamp - 5} width={width * 0.76} height="5" />
      <text x={WIDTH / 2} y={Math.min(tops + 14, floor - 3)} text-anchor="middle"
        >{Math.round(level.watts)} W</text
      >
    {:else}
      <text x={WIDTH / 2} y={(top + floor) / 2 + 4} text-anchor="middle">empty</text>
    {/if}
    <rect
      class="board"
      class:mesh={level.board_through > 0}
      x={left}
      y={floor}
      {width}
      height={BOARD}
    />
  {/each}
</svg>

<style>
  svg {
    max-width: 100%;
    height: auto;
  }
  .board {
    fill: var(--quiet);
  }
  .mesh {
    fill: none;
    stroke: var(--quiet);
    stroke-dasharray: 3 3;
    stroke-width: 1.5;
  }
  .post {
    stroke: var(--quiet);
    stroke-width: 2;
  }
  .light {
    fill: var(--light);
    fill-opacity: 0.45;
  }
  .leaf {
    fill: var(--leaf);
    fill-opacity: 0.35;
  }
  .lamp {
    fill: var(--color-neutral);
  }
  text {
    fill: var(--color-base-content);
    font-size: 12px;
    paint-order: stroke;
    stroke: var(--color-base-200);
    stroke-width: 3px;
  }
</style>
