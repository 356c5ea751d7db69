<script lang="ts">
  import { scaleLinear } from "d3-scale";
  import { line } from "d3-shape";

  import type { Power, WayToLight } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { clock, hang, hours, money, trim } from "../../units/format";

  let { power }: { power: Power } = $props();

  let width = $state(560);
  const HEIGHT = 230;
  const LEFT = 52;
  const RIGHT = 14;
  const TOP = 14;
  const BOTTOM = 40;
  const same = $derived(power.same);
  /** Hours without which no dial gives the light are no ways at all. */
  const able = (ways: WayToLight[]): WayToLight[] => ways.filter((w) => w.hindrance !== "dial");
  const shown = $derived(able(same.here));
  const costs = $derived([...able(same.here), ...able(same.anywhere), same.now].map((w) => w.cost));
  const x = $derived(scaleLinear([0, 24], [LEFT, width - RIGHT]));
  const y = $derived(
    scaleLinear(
      [Math.min(...costs) * 0.95, Math.max(...costs) * 1.05 || 1],
      [HEIGHT - BOTTOM, TOP],
    ).nice(4),
  );
  const path = line<WayToLight>()
    .x((w) => x(w.hours))
    .y((w) => y(w.cost));
  const draw = (ways: WayToLight[]): string => path(able(ways)) ?? "";
  /** Runs of hours that may be chosen, to draw them thick. */
  const chosen = (ways: WayToLight[]): WayToLight[][] => {
    const found: WayToLight[][] = [];
    for (const way of ways) {
      if (way.hindrance) found.push([]);
      else if (found.length) found[found.length - 1]?.push(way);
      else found.push([way]);
    }
    return found.filter((run) => run.length);
  };
  const WHY: Record<WayToLight["hindrance"], string> = {
    "": "can be chosen",
    hours: "not the crop's day",
    dial: "the lamp is too weak",
    cap: "the brightest spot is too bright",
    dli: "outside the DLI band",
    ppfd: "outside the PPFD band",
    evenness: "not even enough",
  };
  const marks = $derived(
    [
      { name: "as it is", way: same.now, shape: "now" },
      { name: "cheapest here", way: power.cheapest_here, shape: "least" },
      { name: "cheapest at any height", way: power.cheapest, shape: "any" },
    ].filter((mark, i, all) => i === 0 || mark.way.cost < (all[0]?.way.cost ?? 0) - 1e-6),
  );
  const rows = $derived(
    [
      { name: "As it is", way: same.now },
      { name: "Cheapest at this height", way: power.cheapest_here },
      { name: "Cheapest at any height", way: power.cheapest },
      ...(power.twelve ? [{ name: "12 h", way: power.twelve }] : []),
      ...(power.eighteen ? [{ name: "18 h", way: power.eighteen }] : []),
    ].filter((row) => row.way.hindrance !== "dial" || row.name.endsWith(" h")),
  );
</script>

<div
  class="grid grid-cols-[minmax(0,1fr)] items-center gap-4 xl:grid-cols-[minmax(0,2fr)_minmax(0,3fr)]"
>
  <figure>
    <div bind:clientWidth={width}>
      <svg
        {width}
        height={HEIGHT}
        role="img"
        aria-label="What the same light costs a day over the hours: {rows
          .map((row) => `${row.name} ${money(row.way.cost, power.currency)}`)
          .join(', ')}"
      >
        {#each y.ticks(4) as tick (tick)}
          <line x1={LEFT} x2={width - RIGHT} y1={y(tick)} y2={y(tick)} class="rule" />
          <text x={LEFT - 6} y={y(tick) + 4} text-anchor="end">{tick.toFixed(2)}</text>
        {/each}
        {#each [0, 6, 12, 18, 24] as tick (tick)}
          <line x1={x(tick)} x2={x(tick)} y1={TOP} y2={HEIGHT - BOTTOM} class="rule" />
          <text x={x(tick)} y={HEIGHT - BOTTOM + 16} text-anchor="middle">{tick} h</text>
        {/each}
        <text x={LEFT} y={HEIGHT - 6}
          >hours a day; thick where they may be chosen; {power.currency} a day upwards</text
        >
        <path d={draw(same.anywhere)} class="any" />
        <path d={draw(same.here)} class="here" />
        {#each chosen(shown) as run (run[0]?.hours)}
          <path d={path(run)} class="may" />
          {#if run.length === 1}<circle
              cx={x(run[0]?.hours ?? 0)}
              cy={y(run[0]?.cost ?? 0)}
              r="3"
              class="dot"
            />{/if}
        {/each}
        {#each marks as mark (mark.name)}
          <g transform="translate({x(mark.way.hours)} {y(mark.way.cost)})">
            {#if mark.shape === "now"}<circle
                r="6"
                class="now"
              />{:else if mark.shape === "least"}<path
                d="M-7 -6 H7 L0 7 Z"
                class="least"
              />{:else}<path d="M-6 0 L0 -7 L6 0 L0 7 Z" class="least" />{/if}
          </g>
        {/each}
      </svg>
    </div>
    <figcaption class="quiet flex flex-wrap gap-x-4 text-sm">
      {#each marks as mark (mark.name)}
        <span
          >{mark.shape === "now" ? "○" : mark.shape === "least" ? "▽" : "◇"}
          {mark.name}</span
        >
      {/each}
      <span>dashed: at the best height for each, on the first day</span>
    </figcaption>
  </figure>
  <div class="overflow-x-auto">
    <table class="table-sm stacked table">
      <caption class="sr-only">Ways to give {trim(same.dli, 1)} mol a day</caption>
      <thead>
        <tr>
          <th scope="col">The same {trim(same.dli, 1)} mol</th>
          <th scope="col" class="text-right">Dial</th>
          <th scope="col" class="text-right">Hours</th>
          <th scope="col" class="text-right">Above the tops</th>
          <th scope="col" class="text-right">Draws</th>
          <th scope="col" class="text-right">A day</th>
          <th scope="col" class="text-right">Costs</th>
          <th scope="col"><span class="sr-only">What is in its way</span></th>
        </tr>
      </thead>
      <tbody>
        {#each rows as { name, way } (name)}
          <tr>
            <th scope="row">{name}</th>
            <td class="text-right" data-label="Dial">{trim(way.dial_pct, 1)}</td>
            <td class="text-right whitespace-nowrap" data-label="Hours"
              >{hours(way.hours)}, from {clock(way.on_minute)}</td
            >
            <td class="text-right" data-label="Above the tops"
              >{hang(way.height_cm, account.unit)}</td
            >
            <td class="text-right" data-label="Draws">{Math.round(way.watts)} W</td>
            <td class="text-right whitespace-nowrap" data-label="A day">{way.kwh.toFixed(2)} kWh</td
            >
            <td class="text-right" data-label="Costs"
              ><strong>{money(way.cost, power.currency)}</strong></td
            >
            <td>{WHY[way.hindrance]}</td>
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
</div>

<style>
  text {
    font-size: 12px;
    fill: var(--quiet);
  }
  .rule {
    stroke: var(--color-base-300);
  }
  .here,
  .any,
  .may {
    fill: none;
    stroke: var(--quiet);
    stroke-width: 1.5;
  }
  .any {
    stroke-dasharray: 3 4;
  }
  .may {
    stroke: var(--color-primary);
    stroke-width: 4;
    stroke-linecap: round;
  }
  .dot {
    fill: var(--color-primary);
  }
  .now {
    fill: var(--color-base-100);
    stroke: var(--color-base-content);
    stroke-width: 2;
  }
  .least {
    fill: var(--light);
    stroke: var(--color-base-content);
    stroke-width: 1.5;
  }
</style>
