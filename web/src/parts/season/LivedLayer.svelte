<script lang="ts">
  import type { LightGiven } from "../../api/client";
  import { type Marked, type Placed, stepPath } from "./picture";

  // what really was, over what was planned: lit minutes, DLI, lamp and tops; and the log's marks
  interface Props {
    lived: Placed<LightGiven["days"][number]>[];
    marks: Marked[];
    x: (day: number) => number;
    yClock: (minute: number) => number;
    yDli: (dli: number) => number;
    yTall: (cm: number) => number;
    /** Where the marks stand. */
    yMarks: number;
    open: (day: number) => void;
    words: (mark: Marked) => string;
    /** A day that is not over yet. */
    today: string;
  }
  let { lived, marks, x, yClock, yDli, yTall, yMarks, open, words, today }: Props = $props();

  const known = $derived(lived.filter((row) => row.known));
  const hung = $derived(known.filter((row) => row.lamp_cm !== null));
  const lamp = $derived(stepPath(hung, (row) => row.lamp_cm ?? 0, x, yTall));
  const tops = $derived(
    lived
      .map(
        (row, i) =>
          `${i ? "L" : "M"}${x(row.day + 0.5).toFixed(1)} ${yTall(row.tops_cm).toFixed(1)}`,
      )
      .join(""),
  );
  const wide = $derived(Math.max((x(1) - x(0)) * 0.34, 1.5));
  const middle = $derived((day: number) => x(day + 0.5));
</script>

<g class="lived">
  {#each known as row (row.day)}
    {#each row.spans as [from, to], i (i)}
      <rect
        class="lit"
        x={middle(row.day) - wide / 2}
        y={yClock(from ?? 0)}
        width={wide}
        height={Math.max(yClock(to ?? 0) - yClock(from ?? 0), 0.5)}
      />
    {/each}
    {#if row.on !== today}
      <circle class="dli" cx={middle(row.day)} cy={yDli(row.dli)} r={Math.min(wide * 0.7, 3.5)} />
    {/if}
  {/each}
  <path class="tops" d={tops} />
  <path class="lamp" d={lamp} />
</g>
{#each marks as mark (mark.day)}
  <g
    class="mark"
    role="button"
    tabindex="0"
    aria-label={words(mark)}
    onclick={() => open(mark.day)}
    onkeydown={(event) => {
      if (event.key !== "Enter" && event.key !== " ") return;
      event.preventDefault();
      open(mark.day);
    }}
  >
    <rect class="hit" x={middle(mark.day) - 9} y={yMarks - 10} width="18" height="20" />
    <path d="M{middle(mark.day)} {yMarks - 5} l4.5 5 l-4.5 5 l-4.5 -5 z" class:loud={mark.loud} />
  </g>
{/each}

<style>
  .lit {
    fill: var(--color-primary);
    fill-opacity: 0.75;
  }
  .dli {
    fill: var(--color-base-100);
    stroke: var(--color-base-content);
    stroke-width: 1.6;
  }
  .lamp {
    fill: none;
    stroke: var(--color-base-content);
    stroke-width: 2;
    stroke-dasharray: 5 3;
  }
  .tops {
    fill: none;
    stroke: var(--color-base-content);
    stroke-width: 1.6;
    stroke-dasharray: 1.5 3;
  }
  .mark {
    cursor: pointer;
  }
  .mark path {
    fill: var(--color-base-100);
    stroke: var(--color-base-content);
    stroke-width: 1.4;
  }
  .mark path.loud {
    fill: var(--color-base-content);
  }
  .mark:focus-visible {
    outline: 2px solid var(--color-primary);
  }
  .hit {
    fill: transparent;
  }
</style>
