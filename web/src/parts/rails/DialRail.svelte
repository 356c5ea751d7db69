<script lang="ts">
  import "./rail.css";

  import type { Bench, Stretch } from "../../api/client";
  import { percent } from "../../units/format";
  import { keyed, snap, stretchWords, type Travel } from "./lever";

  interface Props {
    dial: Bench["dial"];
    stretch: Stretch;
    value: number;
    plan: number;
    watts: number;
    lightFraction: number;
    move: (value: number) => void;
  }
  let { dial, stretch, value, plan, watts, lightFraction, move }: Props = $props();

  let room = $state(300);
  // before the page is laid out there is no room at all
  const width = $derived(Math.max(room, 100));
  const PAD = 14;
  const travel = $derived<Travel>({
    low: stretch.lowest,
    high: stretch.highest,
    step: 1,
    page: 10,
    positions: dial.positions_pct,
  });
  const x = $derived((pct: number) => PAD + ((width - 2 * PAD) * pct) / 100);

  let dragging = false;
  function at(event: PointerEvent & { currentTarget: SVGSVGElement }): void {
    if (!dragging) return;
    const box = event.currentTarget.getBoundingClientRect();
    move(snap(((event.clientX - box.left - PAD) / (width - 2 * PAD)) * 100, travel));
  }
  function keys(event: KeyboardEvent): void {
    const next = keyed(event.key, value, travel);
    if (next === null) return;
    event.preventDefault();
    move(next);
  }
  const words = $derived(`${Math.round(watts)} W, ${percent(lightFraction)} of its light`);
</script>

<div>
  <div class="flex items-baseline justify-between">
    <span id="dial-label" class="font-semibold">Dial</span>
    {#if dial.kind === "unmarked"}
      <span
        >until the meter says <strong>{Math.round(watts)} W</strong>, {percent(lightFraction)} of its
        light</span
      >
    {:else}
      <span><strong>{value}</strong> → {words}</span>
    {/if}
  </div>
  {#if dial.kind === "none"}
    <p class="quiet text-sm">This lamp has no dial: full light or none.</p>
  {:else}
    <div bind:clientWidth={room}>
      <svg
        {width}
        height="48"
        class="rail"
        role="slider"
        tabindex="0"
        aria-labelledby="dial-label"
        aria-valuemin={stretch.lowest}
        aria-valuemax={stretch.highest}
        aria-valuenow={value}
        aria-valuetext="{value}: {words}; {stretchWords(stretch, String)}"
        onpointerdown={(e) => {
          dragging = true;
          e.currentTarget.setPointerCapture(e.pointerId);
          at(e);
        }}
        onpointermove={at}
        onpointerup={() => (dragging = false)}
        onpointercancel={() => (dragging = false)}
        onkeydown={keys}
      >
        <line class="travel" x1={x(stretch.lowest)} x2={x(stretch.highest)} y1="16" y2="16" />
        {#each stretch.parts as { low, high }, i (i)}
          <line class="lit" x1={x(low) - 2} x2={x(high) + 2} y1="16" y2="16" />
        {/each}
        {#each stretch.sure as { low, high }, i (i)}
          <line class="sure" x1={x(low) - 2} x2={x(high) + 2} y1="16" y2="16" />
        {/each}
        {#each dial.marks as mark (mark.position_pct)}
          <line class="mark" x1={x(mark.position_pct)} x2={x(mark.position_pct)} y1="24" y2="30" />
          <text x={x(mark.position_pct)} y="42" text-anchor="middle">{mark.position_pct}</text>
        {/each}
        <path class="plan" d="M{x(plan)} 8 l-4 -7 h8 z"><title>The plan's choice</title></path>
        <circle class="thumb" cx={x(value)} cy="16" r="9" />
      </svg>
    </div>
  {/if}
</div>
