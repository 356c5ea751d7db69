<script lang="ts">
  import type { LightGiven, LogEntry, Season } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { windowsWords, hang, hours, length, type LengthUnit, trim } from "../../units/format";
  import { entryWords, KIND_WORDS } from "../../words/log";
  import { worded } from "../../words/said";
  import LivedLayer from "./LivedLayer.svelte";
  import {
    cut,
    dayMonth,
    dayOfRun,
    litRuns,
    type Marked,
    marksOf,
    stepPath,
    ticks,
  } from "./picture";

  interface Props {
    season: Season;
    unit: LengthUnit;
    /** The space's height in cm. */
    ceiling: number;
    /** The lamp's sunrise and sunset, each. */
    rampMin: number;
    /** What really was, of a run that has begun; and what its log has. */
    lived?: LightGiven | null;
    entries?: LogEntry[];
    /** The plan a begun run had before this one. */
    before?: Season | null;
  }
  let {
    season,
    unit,
    ceiling,
    rampMin,
    lived = null,
    entries = [],
    before = null,
  }: Props = $props();

  let room = $state(1200);
  // before the page is laid out there is no room at all
  const width = $derived(Math.max(room, 200));
  const LEFT = 52;
  const RIGHT = 10;
  const CLOCK = { top: 22, height: 150 };
  const DLI = { top: 196, height: 96 };
  const TALL = { top: 316, height: 112 };
  const MARKS = 460;
  const HEIGHT = 474;
  const DAY = 1440;

  const rows = $derived(season.rows);
  const x = $derived((day: number) => LEFT + ((width - LEFT - RIGHT) * day) / season.days);
  const yClock = (minute: number): number => CLOCK.top + (CLOCK.height * minute) / DAY;
  const mostDli = $derived(
    1.08 *
      Math.max(
        ...rows.map((r) => Math.max(r.dli, r.dli_high)),
        ...(lived?.days ?? []).map((day) => day.dli),
        ...season.stages.map((s) => s.dli_high),
      ),
  );
  const yDli = $derived((dli: number) => DLI.top + DLI.height * (1 - dli / mostDli));
  const yTall = $derived((cm: number) => TALL.top + TALL.height * (1 - cm / ceiling));

  const runs = $derived(litRuns(rows));
  const cheapest = $derived(Math.min(...season.price.map((span) => span.per_kwh)));
  const dliPath = $derived(stepPath(rows, (r) => r.dli, x, yDli));
  const lampPath = $derived(stepPath(rows, (r) => r.lamp_cm, x, yTall));
  const topsPath = $derived(stepPath(rows, (r) => r.tops_cm, x, yTall));
  const topsArea = $derived(rows.length ? `${topsPath}V${yTall(0)}H${x(rows[0]?.day ?? 0)}Z` : "");
  const rehangs = $derived(
    season.stages.flatMap((s) =>
      (s.planned?.rehangs ?? []).map((r) => ({ ...r, at: s.first_day + r.day })),
    ),
  );

  const real = $derived(
    (lived?.days ?? []).map((row) => ({ ...row, day: dayOfRun(season.first, `${row.on}T12:00`) })),
  );
  const marks = $derived(
    marksOf(season.first, entries).filter((mark) => mark.day >= 0 && mark.day < season.days),
  );
  const markWords = (mark: Marked): string =>
    `${dayMonth(season.first, mark.day)}: ${mark.entries.map((each) => KIND_WORDS[each.kind]).join(", ")}`;
  let spot = $state<number | null>(null);
  const was = $derived(real.find((row) => row.day === shown?.day && row.known));
  const noted = $derived(marks.find((mark) => mark.day === shown?.day));
  const shown = $derived(rows.find((row) => row.day === (spot ?? rows[0]?.day)) ?? rows[0]);
  function point(event: PointerEvent & { currentTarget: SVGSVGElement }): void {
    const box = event.currentTarget.getBoundingClientRect();
    const day = ((event.clientX - box.left - LEFT) / (width - LEFT - RIGHT)) * season.days;
    spot = Math.min(Math.max(Math.floor(day), 0), season.days - 1);
  }
  function keys(event: KeyboardEvent): void {
    const steps: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, PageUp: 7, PageDown: -7 };
    const step = steps[event.key];
    if (step === undefined) return;
    event.preventDefault();
    spot = Math.min(Math.max((shown?.day ?? 0) + step, 0), season.days - 1);
  }
</script>

<div bind:clientWidth={room}>
  <!-- svelte-ignore a11y_no_noninteractive_element_interactions, a11y_no_noninteractive_tabindex -->
  <svg
    {width}
    height={HEIGHT}
    role="application"
    tabindex="0"
    aria-label="The season, a column a day; arrow keys move the day"
    aria-describedby="season-day"
    onpointermove={point}
    onpointerdown={point}
    onkeydown={keys}
  >
    <defs>
      <pattern
        id="outside"
        width="7"
        height="7"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <line class="outside" x1="0" x2="0" y1="0" y2="7" />
      </pattern>
    </defs>

    <!-- the clock -->
    <rect class="night" x={LEFT} y={CLOCK.top} width={width - LEFT - RIGHT} height={CLOCK.height} />
    {#each season.price as span (span.from_minute)}
      {#if span.per_kwh <= cheapest}
        <rect
          class="cheap"
          x={LEFT - 5}
          y={yClock(span.from_minute)}
          width="5"
          height={yClock(span.to_minute) - yClock(span.from_minute)}
          ><title>Cheapest hours</title></rect
        >
      {/if}
    {/each}
    {#each runs as run, i (i)}
      {#each cut(run.on, run.minutes) as [from, to], k (k)}
        <rect
          class="lit"
          x={x(run.from)}
          y={yClock(from)}
          width={x(run.to) - x(run.from)}
          height={yClock(to) - yClock(from)}
        />
      {/each}
      {#each rampMin > 0 ? [run.on, (run.on + run.minutes - rampMin + DAY) % DAY] : [] as at (at)}
        {#each cut(at, rampMin) as [from, to], k (k)}
          <rect
            class="ramp"
            x={x(run.from)}
            y={yClock(from)}
            width={x(run.to) - x(run.from)}
            height={yClock(to) - yClock(from)}
          />
        {/each}
      {/each}
    {/each}
    {#each [0, 6, 12, 18, 24] as hour (hour)}
      <line
        class="grid"
        x1={LEFT}
        x2={width - RIGHT}
        y1={yClock(hour * 60)}
        y2={yClock(hour * 60)}
      />
      <text x={LEFT - 9} y={yClock(hour * 60) + 4} text-anchor="end">{hour} h</text>
    {/each}

    <!-- the day's light -->
    {#each season.stages as stage (stage.first_day)}
      <rect
        class="band"
        x={x(stage.first_day)}
        y={yDli(stage.dli_high)}
        width={x(stage.first_day + stage.days) - x(stage.first_day)}
        height={yDli(stage.dli_low) - yDli(stage.dli_high)}
      />
      {#if stage.daylight_dli > 0}
        <rect
          class="sun"
          x={x(stage.first_day)}
          y={yDli(stage.daylight_dli)}
          width={x(stage.first_day + stage.days) - x(stage.first_day)}
          height={yDli(0) - yDli(stage.daylight_dli)}
        />
      {/if}
      {#if !stage.planned}
        <rect
          fill="url(#outside)"
          x={x(stage.first_day)}
          y={CLOCK.top}
          width={x(stage.first_day + stage.days) - x(stage.first_day)}
          height={TALL.top + TALL.height - CLOCK.top}
        />
      {/if}
    {/each}
    <path class="dli" d={dliPath} />
    {#each ticks(mostDli, 4) as dli (dli)}
      <line class="mark" x1={LEFT - 4} x2={LEFT} y1={yDli(dli)} y2={yDli(dli)} />
      <text x={LEFT - 9} y={yDli(dli) + 4} text-anchor="end">{dli}</text>
    {/each}
    <text class="name" x={LEFT} y={DLI.top - 6}>DLI at the tops, mol, and its band</text>

    <!-- lamp and tops -->
    <path class="leaf" d={topsArea} />
    <path class="tops" d={topsPath} />
    <path class="lamp" d={lampPath} />
    {#each rehangs as rehang (rehang.at)}
      <path class="raise" d="M{x(rehang.at)} {yTall(rehang.above_floor_cm) - 5} l-5 9 h10 z"
        ><title>Day {rehang.at}: to {hang(rehang.above_floor_cm, unit)} above the floor</title
        ></path
      >
    {/each}
    {#each ticks(ceiling, 3) as cm (cm)}
      <line class="mark" x1={LEFT - 4} x2={LEFT} y1={yTall(cm)} y2={yTall(cm)} />
      <text x={LEFT - 9} y={yTall(cm) + 4} text-anchor="end">{length(cm, unit)}</text>
    {/each}
    <text class="name" x={LEFT} y={TALL.top - 6}
      >Lamp and tops above the floor; ▲ hang the lamp anew</text
    >
    <rect class="edge" x={LEFT} y={TALL.top} width={width - LEFT - RIGHT} height={TALL.height} />
    <rect class="edge" x={LEFT} y={DLI.top} width={width - LEFT - RIGHT} height={DLI.height} />

    {#if before}
      <path class="old" d={stepPath(before.rows, (r) => r.dli, x, yDli)} />
      <path class="old" d={stepPath(before.rows, (r) => r.lamp_cm, x, yTall)} />
    {/if}
    {#if real.length}
      <LivedLayer
        lived={real}
        {marks}
        {x}
        {yClock}
        {yDli}
        {yTall}
        yMarks={MARKS}
        open={(day) => (spot = day)}
        words={markWords}
        today={account.today}
      />
    {/if}
    {#each season.stages as stage, i (stage.first_day)}
      <line
        class="stage"
        x1={x(stage.first_day)}
        x2={x(stage.first_day)}
        y1="4"
        y2={TALL.top + TALL.height}
      />
      {#if !stage.from_day}
        <text class="head" x={x(stage.first_day) + 5} y="15"
          >{x(stage.days) - x(0) > stage.name.length * 7.5 ? stage.name : i + 1}</text
        >
      {/if}
      <text x={x(stage.first_day) + 5} y={TALL.top + TALL.height + 16}
        >{dayMonth(season.first, stage.first_day)}</text
      >
    {/each}
    {#if shown}
      <rect
        class="spot"
        x={x(shown.day)}
        y={CLOCK.top}
        width={Math.max(x(shown.day + 1) - x(shown.day), 2)}
        height={TALL.top + TALL.height - CLOCK.top}
      />
    {/if}
  </svg>
</div>
{#if shown}
  <p id="season-day" class="text-[0.95rem]" aria-live="polite">
    <strong>{dayMonth(season.first, shown.day)}</strong>, day {shown.day + 1} of {season.days}, {shown.stage}:
    lamp {hang(shown.lamp_cm - shown.tops_cm, unit)} above the tops, dial {trim(shown.dial_pct, 1)},
    {windowsWords(shown.windows)} ({hours(shown.hours)}), DLI
    <strong>{trim(shown.dli, 1)}</strong>
    {shown.dli < shown.dli_low ? "short of" : shown.dli > shown.dli_high ? "above" : "inside"}
    {trim(shown.dli_low, 1)}–{trim(shown.dli_high, 1)}, {trim(shown.kwh, 2)} kWh.
    {#if shown.tasks.length}<strong
        >{shown.tasks.map((task) => worded(task, unit)).join(". ")}.</strong
      >{/if}
    {#if was}
      <br />Really: DLI <strong>{trim(was.dli, 1)}</strong>
      {was.on === account.today ? "so far" : ""} ({trim(was.low, 1)}–{trim(was.high, 1)}), {trim(
        was.lit_h,
        1,
      )} h of full light{was.lamp_cm !== null
        ? `, lamp ${hang(was.lamp_cm - was.tops_cm, unit)} above tops of ${length(was.tops_cm, unit)}`
        : ""}.
    {/if}
  </p>
  {#if noted}
    <ul class="text-[0.95rem]" aria-label="In the log that day">
      {#each noted.entries as entry (entry.key)}
        <li>
          <strong>{KIND_WORDS[entry.kind]}</strong>
          {entryWords(entry, {}, unit, account.temperature)}
        </li>
      {/each}
    </ul>
  {/if}
{/if}

<style>
  svg {
    cursor: crosshair;
    touch-action: pan-y;
  }
  svg:focus-visible {
    outline: 3px solid var(--color-primary);
    outline-offset: 2px;
  }
  text {
    fill: var(--quiet);
    font-size: 12.5px;
  }
  .head {
    fill: var(--color-base-content);
    font-size: 14px;
    font-weight: 600;
  }
  .name {
    font-size: 13px;
  }
  .night {
    fill: var(--color-base-300);
  }
  .lit {
    fill: var(--light);
  }
  .ramp {
    fill: var(--color-base-300);
    fill-opacity: 0.6;
  }
  .cheap {
    fill: var(--color-primary);
  }
  .grid {
    stroke: var(--color-base-content);
    stroke-opacity: 0.18;
  }
  .mark {
    stroke: var(--quiet);
  }
  .band {
    fill: var(--floor-inside);
  }
  .sun {
    fill: var(--light);
    fill-opacity: 0.35;
    stroke: var(--light-edge);
    stroke-width: 0.5;
  }
  .dli {
    fill: none;
    stroke: var(--color-base-content);
    stroke-width: 2.5;
  }
  .leaf {
    fill: var(--leaf);
    fill-opacity: 0.35;
  }
  .tops {
    fill: none;
    stroke: var(--leaf);
    stroke-width: 2;
  }
  .lamp {
    fill: none;
    stroke: var(--light-edge);
    stroke-width: 3;
  }
  .raise {
    fill: var(--color-base-content);
  }
  .edge {
    fill: none;
    stroke: var(--quiet);
    stroke-opacity: 0.5;
  }
  .stage {
    stroke: var(--quiet);
    stroke-dasharray: 4 3;
  }
  .outside {
    stroke: var(--color-error);
    stroke-width: 2;
  }
  .old {
    fill: none;
    stroke: var(--quiet);
    stroke-width: 1.5;
    stroke-dasharray: 2 4;
  }
  .spot {
    fill: var(--color-base-content);
    fill-opacity: 0.18;
    stroke: var(--color-base-content);
    stroke-opacity: 0.6;
    pointer-events: none;
  }
</style>
