<script lang="ts">
  import "./rail.css";

  import type { Bench, Stretch } from "../../api/client";
  import { clock, hours, windowsWords } from "../../units/format";
  import { keyed, snap, stretchWords, type Travel } from "./lever";

  interface Props {
    stretch: Stretch;
    value: number;
    plan: number;
    onMinute: number;
    windows: Bench["windows"];
    /** The longest stretch without lamp or daylight. */
    nightHours: number;
    /** From and until when there is any daylight. */
    sun: Bench["sun"];
    stepMin: number;
    /** Spans of the day at one price; none when it is flat. */
    price: Bench["price"];
    /** Sunrise and sunset of the lamp, each. */
    rampMin: number;
    /** Hours that would give the middle of the DLI band, not rounded to the timer. */
    middleHours: number | null;
    /** Full light lost to ramps and heat. */
    lostHours: number;
    move: (value: number) => void;
    moveOn: (minute: number) => void;
  }
  let {
    stretch,
    value,
    plan,
    onMinute,
    windows,
    nightHours,
    sun,
    stepMin,
    price,
    rampMin,
    middleHours,
    lostHours,
    move,
    moveOn,
  }: Props = $props();

  let laid = $state(700);
  // before the page is laid out there is no room at all
  const width = $derived(Math.max(laid, 200));
  const PAD = 12;
  const DAY = 1440;
  const x = $derived((minute: number) => PAD + ((width - 2 * PAD) * minute) / DAY);
  const travel = $derived<Travel>({
    low: stretch.lowest,
    high: stretch.highest,
    step: stepMin / 60,
    page: 1,
  });
  const onTravel = $derived<Travel>({ low: 0, high: DAY - stepMin, step: stepMin, page: 60 });

  /** Spans of the day from one minute over a length, cut at midnight. */
  function spans(from: number, minutes: number): [number, number][] {
    const start = ((from % DAY) + DAY) % DAY;
    const end = start + minutes;
    return end <= DAY ? [[start, end]] : [[start, DAY], [0, end - DAY]]; // prettier-ignore
  }
  // while a lever moves its windows are still to be answered: one, as long as it asks
  const shown = $derived(
    windows.length > 1 && Math.abs(windows.reduce((sum, w) => sum + w.hours, 0) - value) < 0.001
      ? windows
      : [{ on_minute: onMinute, hours: value }],
  );
  const lit = $derived(shown.flatMap((w) => spans(w.on_minute, w.hours * 60)));
  const first = $derived(shown[0]?.on_minute ?? onMinute);
  /** The dark between two windows, in minutes. */
  const between = $derived.by(() => {
    const last = shown.at(-1);
    if (!last || shown.length < 2) return 0;
    return ((last.on_minute + last.hours * 60 - first + 2 * DAY) % DAY) - value * 60;
  });
  const offMinute = $derived((first + between + value * 60) % DAY);
  const times = $derived(windowsWords(shown));
  const on = (parts: { low: number; high: number }[]): [number, number][] =>
    parts.flatMap(({ low: a, high: b }) =>
      spans(first + between + a * 60, Math.max((b - a) * 60, 4)),
    );
  const room = $derived(on(stretch.parts));
  const certain = $derived(on(stretch.sure));
  const travelSpans = $derived(
    spans(
      first + between + stretch.lowest * 60,
      Math.max((stretch.highest - stretch.lowest) * 60, 4),
    ),
  );

  /** What the timer's steps make of the exact hours. */
  const rounded = $derived(
    middleHours !== null && Math.abs(middleHours - value) < stepMin / 60 && middleHours !== value
      ? `; the band's middle asks ${hours(middleHours)}, the timer steps by ${stepMin} min`
      : "",
  );
  /** The timer's steps along the reach, where they can be told apart. */
  const steps = $derived.by(() => {
    const gap = ((width - 2 * PAD) * stepMin) / DAY;
    if (gap < 4) return [];
    const count = Math.round(((stretch.highest - stretch.lowest) * 60) / stepMin);
    return Array.from(
      { length: count + 1 },
      (_, i) => (first + between + stretch.lowest * 60 + i * stepMin) % DAY,
    );
  });
  const cheapest = $derived(Math.min(...price.map((span) => span.per_kwh)));

  let held: "on" | "off" | null = null;
  function minuteAt(event: PointerEvent & { currentTarget: SVGSVGElement }): number {
    const box = event.currentTarget.getBoundingClientRect();
    const minute = ((event.clientX - box.left - PAD) / (width - 2 * PAD)) * DAY;
    return Math.min(Math.max(minute, 0), DAY);
  }
  const around = (a: number, b: number): number => {
    const gap = Math.abs(a - b) % DAY;
    return Math.min(gap, DAY - gap);
  };
  function drag(event: PointerEvent & { currentTarget: SVGSVGElement }): void {
    if (!held) return;
    const minute = minuteAt(event);
    if (held === "on") moveOn(snap(minute, onTravel));
    else move(snap((((minute - first + DAY) % DAY || DAY) - between) / 60, travel));
  }
  function press(event: PointerEvent & { currentTarget: SVGSVGElement }): void {
    const minute = minuteAt(event);
    held = around(minute, first) < around(minute, offMinute) ? "on" : "off";
    event.currentTarget.setPointerCapture(event.pointerId);
    drag(event);
  }
  function keys(event: KeyboardEvent, which: "on" | "off"): void {
    const next =
      which === "on" ? keyed(event.key, onMinute, onTravel) : keyed(event.key, value, travel);
    if (next === null) return;
    event.preventDefault();
    if (which === "on") moveOn(next);
    else move(next);
  }
</script>

<div>
  <div class="flex items-baseline justify-between">
    <span class="font-semibold">Hours</span>
    <span
      ><strong>{hours(value)}</strong> on, {times}; {hours(nightHours)} of night{lostHours > 0
        ? `; ${hours(Math.max(value - lostHours, 0))} of full light`
        : ""}{rounded}</span
    >
  </div>
  <div bind:clientWidth={laid}>
    <!-- svelte-ignore a11y_no_static_element_interactions -->
    <svg
      {width}
      height="58"
      class="rail"
      onpointerdown={press}
      onpointermove={drag}
      onpointerup={() => (held = null)}
      onpointercancel={() => (held = null)}
    >
      <rect class="night" x={x(0)} y="14" width={x(DAY) - x(0)} height="20" rx="3" />
      {#each price as span (span.from_minute)}
        {#if span.per_kwh <= cheapest}
          <rect
            class="cheap"
            x={x(span.from_minute)}
            y="35"
            width={x(span.to_minute) - x(span.from_minute)}
            height="4"><title>Cheapest hours, {span.per_kwh} a kWh</title></rect
          >
        {/if}
      {/each}
      {#if sun}
        <rect
          class="sun"
          x={x(sun.from_minute)}
          y="14"
          width={x(sun.to_minute) - x(sun.from_minute)}
          height="20"
          ><title>Daylight, {clock(sun.from_minute)} to {clock(sun.to_minute)}</title></rect
        >
      {/if}
      {#each lit as [from, to], i (i)}
        <rect class="on" x={x(from)} y="14" width={x(to) - x(from)} height="20" />
      {/each}
      {#each shown as w (w.on_minute)}
        {@const long = w.hours * 60}
        {#each rampMin > 0 && long >= 2 * rampMin ? [{ at: w.on_minute, up: 1 }, { at: w.on_minute + long, up: -1 }] : [] as ramp (ramp.up)}
          {#if (ramp.at % DAY) + ramp.up * rampMin <= DAY && (ramp.at % DAY) + ramp.up * rampMin >= 0}
            <polygon
              class="ramp"
              points="{x(ramp.at % DAY)},14 {x((ramp.at % DAY) + ramp.up * rampMin)},14 {x(
                ramp.at % DAY,
              )},34"
            />
          {/if}
        {/each}
      {/each}
      {#each travelSpans as [from, to], i (i)}
        <line class="reach" x1={x(from)} x2={x(to)} y1="8" y2="8" />
      {/each}
      {#each room as [from, to], i (i)}
        <line class="lit" x1={x(from)} x2={x(to)} y1="8" y2="8" />
      {/each}
      {#each certain as [from, to], i (i)}
        <line class="sure" x1={x(from)} x2={x(to)} y1="8" y2="8" />
      {/each}
      {#each steps as minute, i (i)}
        <line class="step" x1={x(minute)} x2={x(minute)} y1="5" y2="11" />
      {/each}
      {#each { length: 9 } as _, i (i)}
        <line class="mark" x1={x(i * 180)} x2={x(i * 180)} y1="34" y2="40" />
        <text x={x(i * 180)} y="53" text-anchor={i === 0 ? "start" : i === 8 ? "end" : "middle"}
          >{clock(i * 180 === DAY ? 0 : i * 180)}</text
        >
      {/each}
      {#each [(first + between + plan * 60) % DAY] as minute (minute)}
        <path class="plan" d="M{x(minute)} 9 l-4 -8 h8 z"><title>The plan's choice</title></path>
      {/each}
      <rect
        class="lever"
        role="slider"
        tabindex="0"
        aria-label="On at"
        aria-valuemin="0"
        aria-valuemax={DAY - stepMin}
        aria-valuenow={onMinute}
        aria-valuetext={clock(onMinute)}
        x={x(onMinute) - 5}
        y="10"
        width="10"
        height="28"
        rx="4"
        onkeydown={(e) => keys(e, "on")}
      />
      <rect
        class="lever off"
        role="slider"
        tabindex="0"
        aria-label="Hours"
        aria-valuemin={stretch.lowest}
        aria-valuemax={stretch.highest}
        aria-valuenow={value}
        aria-valuetext="{hours(value)}, off at {clock(offMinute)}; {stretchWords(stretch, hours)}"
        x={x(offMinute) - 5}
        y="10"
        width="10"
        height="28"
        rx="4"
        onkeydown={(e) => keys(e, "off")}
      />
    </svg>
  </div>
</div>

<style>
  .night {
    fill: var(--color-base-300);
  }
  .cheap {
    fill: var(--color-primary);
  }
  .on {
    fill: var(--light);
  }
  .ramp {
    fill: var(--color-base-300);
  }
  .step {
    stroke: var(--color-base-100);
    stroke-width: 1;
  }
  .reach {
    stroke: var(--color-base-300);
    stroke-width: 5;
  }
  .sun {
    fill: var(--light);
    fill-opacity: 0.28;
  }
  line.lit,
  line.sure {
    stroke: var(--light-edge);
    stroke-width: 5;
  }
  .lever {
    fill: var(--color-base-100);
    stroke: var(--color-base-content);
    stroke-width: 2.5;
    cursor: ew-resize;
  }
</style>
