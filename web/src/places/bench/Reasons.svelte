<script lang="ts">
  import Lock from "@lucide/svelte/icons/lock";
  import LockOpen from "@lucide/svelte/icons/lock-open";

  import type { Bench, LeverName, LimitName, Stretch } from "../../api/client";
  import { hang, heat, type LengthUnit, hours, money, percent, trim } from "../../units/format";
  import { LIMIT_WORDS } from "../../parts/rails/lever";
  import { worded } from "../../words/said";
  import Term from "../../parts/Term.svelte";
  import type { TermName } from "../../words/terms";
  import type { Levers } from "./bench.svelte";
  import { DOUBT_HELP, DOUBT_WORDS } from "../../words/doubts";
  import { relaxedWords, sureWords, targetName } from "../../words/reasons";

  interface Props {
    bench: Bench;
    unit: LengthUnit;
    currency: string;
    atPlan: boolean;
    toNearest: (part: Partial<Levers>) => void;
    lock: (name: LeverName) => void;
  }
  let { bench, unit, currency, atPlan, toNearest, lock }: Props = $props();

  const st = $derived(bench.statistics);
  const c = $derived(bench.certainty);
  /** Whether the parts of "how sure" are open. */
  let parts = $state(false);
  const r = $derived(bench.rehang);
  const measured = $derived(bench.geometry.lamps.filter((lamp) => lamp.measured_watts !== null));
  const lastLeft = $derived(bench.hangings.at(-1)?.left_cm ?? 0);

  function failWords(fails: typeof r.fails): string {
    const words = fails.map((name) => (name === "clearance" ? "too near" : LIMIT_WORDS[name]));
    return `it is ${words.join(" and ")}`;
  }

  const NAMES: Record<Stretch["lever"], string> = {
    height: "Height",
    dial: "Dial",
    hours: "Hours",
  };
  const FIELDS = { height: "height_cm", dial: "dial_pct", hours: "hours" } as const;
  function show(lever: Stretch["lever"], value: number): string {
    if (lever === "height") return hang(value, unit);
    return lever === "hours" ? hours(value) : String(value);
  }
  const listed = (lever: Stretch["lever"], parts: { low: number; high: number }[]): string =>
    parts
      .map(({ low: a, high: b }) =>
        a === b ? show(lever, a) : `${show(lever, a)}–${show(lever, b)}`,
      )
      .join(", ");
  interface Row {
    label: string;
    term: TermName;
    value: string;
    bound: string;
    holds: boolean;
  }
  /** The targets, both ends of a band in one row. */
  const rows = $derived.by((): Row[] => {
    const find = (name: LimitName): Bench["limits"][number] | undefined =>
      bench.limits.find((limit) => limit.name === name);
    const band = (
      label: string,
      term: TermName,
      low: LimitName,
      high: LimitName,
      digits: number,
    ): Row[] => {
      const [a, b] = [find(low), find(high)];
      if (!a || !b) return [];
      return [
        {
          label,
          term,
          value: a.value.toFixed(digits),
          bound: `${trim(a.bound, digits)} to ${trim(b.bound, digits)}`,
          holds: a.holds && b.holds,
        },
      ];
    };
    const one = (
      label: string,
      term: TermName,
      name: LimitName,
      words: string,
      digits: number,
    ): Row[] => {
      const limit = find(name);
      if (!limit) return [];
      const bound = `${words} ${trim(limit.bound, digits)}`;
      return [{ label, term, value: limit.value.toFixed(digits), bound, holds: limit.holds }];
    };
    return [
      ...band("DLI", "dli", "dli_low", "dli_high", 1),
      ...band("Mean PPFD", "ppfd", "ppfd_low", "ppfd_high", 0),
      ...one("Brightest spot", "cap", "hot_spot_cap", "at most", 0),
      ...one("Day, lamp and daylight (h)", "night", "hours_low", "at least", 2),
      ...one("Dimmest spot / mean", "evenness", "evenness", "at least", 2),
    ];
  });
</script>

<aside
  class="grid content-start gap-1 text-[0.9rem] leading-snug"
  aria-label="Why, how sure, what it costs"
>
  <table class="w-full">
    <caption class="sr-only">Targets at this setting</caption>
    <tbody>
      {#each rows as row (row.label)}
        <tr>
          <td class="w-6" class:text-error={!row.holds}
            >{row.holds ? "✓" : "✕"}<span class="sr-only">{row.holds ? "holds" : "missed"}</span
            ></td
          >
          <th scope="row" class="text-left font-normal"><Term of={row.term}>{row.label}</Term></th>
          <td class="text-right font-semibold">{row.value}</td>
          <td class="quiet pl-2 whitespace-nowrap">{row.bound}</td>
        </tr>
      {/each}
    </tbody>
  </table>

  <div>
    <h2 class="font-semibold">
      <Term of="lit">Room for each lever</Term>, the other two as they are
    </h2>
    {#if bench.solution.relaxed.length}
      <p class="text-warning">Not counting {relaxedWords(bench.solution.relaxed)}.</p>
    {/if}
    {#if bench.geometry.fixed}
      <p>Height: the lamps are fixed under the board.</p>
    {/if}
    {#each bench.stretches.filter((s) => s.lever !== "height" || !bench.geometry.fixed) as stretch (stretch.lever)}
      {@const locked = bench.locked.includes(stretch.lever)}
      <p>
        <button
          class="lock"
          class:locked
          aria-pressed={locked}
          aria-label="{locked ? 'Free' : 'Lock'} the {stretch.lever}"
          title={locked ? "Locked: the plan leaves it" : "Lock it where it stands"}
          onclick={() => lock(stretch.lever)}
        >
          {#if locked}<Lock size={14} />{:else}<LockOpen size={14} />{/if}
        </button>
        {NAMES[stretch.lever]}
        {#if stretch.parts.length}
          {@const stop = [
            ...(stretch.parts[0]?.below ?? []),
            ...(stretch.parts.at(-1)?.above ?? []),
          ][0]}
          {listed(stretch.lever, stretch.parts)}<span class="quiet"
            >{stretch.sure.length ? ` (surely ${listed(stretch.lever, stretch.sure)})` : ""}{stop
              ? `; beyond: ${LIMIT_WORDS[stop]}`
              : ""}</span
          >
        {:else}
          <span class="text-error">nowhere works</span>
        {/if}
        {#if stretch.nearest !== null && stretch.nearest !== bench.setting[FIELDS[stretch.lever]]}
          {@const nearest = stretch.nearest}
          <button class="link" onclick={() => toNearest({ [FIELDS[stretch.lever]]: nearest })}
            >go to {show(stretch.lever, nearest)}</button
          >
        {/if}
      </p>
    {/each}
  </div>

  <div>
    <div class="-mt-1 flex items-baseline justify-between gap-x-2">
      <h2 class="font-semibold"><Term of="sure">How sure</Term></h2>
      <button class="link text-sm" aria-expanded={parts} onclick={() => (parts = !parts)}
        >what that is made of</button
      >
    </div>
    <p>
      {sureWords(bench)}, so mean ± {percent(c.mean_tolerance)}, brightest ± {percent(
        c.spot_tolerance,
      )}, dimmest ± {percent(c.dimmest_tolerance)}: DLI {trim(c.dli_low, 1)}–{trim(c.dli_high, 1)}.
      {#if c.survives && bench.limits.every((limit) => limit.holds)}
        What holds above holds over all of that.
      {:else if c.survives}
        Targets that are met stay met over all of that.
      {:else}
        <span class="text-warning"
          >At the far end {[...new Set(c.fails.map(targetName))].join(" and ")} would be missed.</span
        >
      {/if}
    </p>
    {#if bench.as_read}
      <p>
        Your sensor will show a mean of about <strong
          >{Math.round(bench.as_read.mean.middle)}</strong
        >
        ({Math.round(bench.as_read.mean.low)}–{Math.round(bench.as_read.mean.high)}).
      </p>
    {/if}
    {#if parts}
      <ul>
        {#each c.parts as part (part.name)}
          <li>± {percent(part.mean)} {DOUBT_WORDS[part.name]}</li>
        {/each}
      </ul>
      <p class="quiet">
        Of the mean, added as squares: nine in ten real tents lie inside. Brightest {Math.round(
          c.peak_low,
        )}–{Math.round(c.peak_high)}, dimmest {Math.round(c.lowest_low)}–{Math.round(
          c.lowest_high,
        )}. {(c.parts[0] && DOUBT_HELP[c.parts[0].name]) ?? ""}
      </p>
    {/if}
  </div>

  {#if r.growth_cm > 0}
    <div>
      <h2 class="font-semibold">As they grow {hang(r.growth_cm, unit)}</h2>
      {#if atPlan && bench.hangings.length > 1}
        <ol>
          {#each bench.hangings as each, i (each.day)}
            <li>
              {i ? `Day ${each.day}` : "First day"}:
              <strong>{hang(each.above_floor_cm, unit)}</strong>
              above the floor, {hang(each.above_tops_cm, unit)} above the tops{each.dial_pct ===
              bench.setting.dial_pct
                ? ""
                : `, dial ${trim(each.dial_pct, 1)}`}
            </li>
          {/each}
        </ol>
        <p class="quiet">The tops end {hang(lastLeft, unit)} away.</p>
      {:else if r.first_day !== null}
        <p>
          Left where it hangs, from day <strong>{r.first_day}</strong>
          {failWords(r.fails)}{r.left_cm > 0
            ? `; the tops would end ${hang(r.left_cm, unit)} away`
            : "; the tops would grow into the lamp"}.
        </p>
      {:else}
        <p>It can stay where it hangs: the tops end {hang(r.left_cm, unit)} away.</p>
      {/if}
    </div>
  {/if}

  <div>
    <h2 class="font-semibold">What it costs</h2>
    <p>
      {Math.round(bench.outcome.watts)} W,
      <strong>{bench.outcome.kwh_per_day.toFixed(2)} kWh</strong>
      a day,
      <strong>{money(bench.cost_per_day, currency)}</strong> a day; {unit === "in"
        ? `${heat(bench.outcome.watts, unit)} of heat`
        : "all of it ends as heat"}. {#if bench.capture !== null}{percent(bench.capture)} of the lamp's
        light
        <Term of="capture">reaches the canopy</Term>.{/if}
      {#if bench.beyond_bound}<strong class="text-warning"
          >{worded(bench.beyond_bound, unit)}</strong
        >{/if}
      {#each measured as lamp, i (i)}
        {lamp.piece_name}: {trim(lamp.measured_watts ?? 0, 0)} W as you measured it, not the {trim(
          lamp.rated_watts,
          0,
        )} of its record.
      {/each}
    </p>
  </div>

  <details>
    <summary class="cursor-pointer font-semibold">Evenness, as each school counts it</summary>
    <p><Term of="uniformities">What these mean</Term></p>
    <dl class="figures">
      <dt>min / max</dt>
      <dd>{st.min_over_max?.toFixed(2) ?? "–"}</dd>
      <dt>min / mean</dt>
      <dd>{st.min_over_mean?.toFixed(2) ?? "–"}</dd>
      <dt>lowest and highest, of the mean</dt>
      <dd>
        {st.min_over_mean === null ? "–" : percent(st.min_over_mean)} to {st.max_over_mean === null
          ? "–"
          : percent(st.max_over_mean)}
      </dd>
      <dt>coefficient of variation</dt>
      <dd>{st.variation?.toFixed(2) ?? "–"}</dd>
      <dt>Christiansen's coefficient</dt>
      <dd>{st.christiansen?.toFixed(2) ?? "–"}</dd>
      <dt>area inside the band</dt>
      <dd>{percent(bench.inside_share)}</dd>
    </dl>
  </details>
</aside>

<style>
  .figures {
    display: grid;
    grid-template-columns: 1fr auto;
    column-gap: 1rem;
  }
  dd {
    text-align: right;
  }
  .lock {
    display: inline-flex;
    align-items: center;
    justify-content: center;
    min-width: 1.5rem;
    min-height: 1.5rem;
    border-radius: 0.3rem;
    color: var(--quiet);
    cursor: pointer;
  }
  .lock.locked {
    background: var(--color-neutral);
    color: var(--color-neutral-content);
  }
  @media (max-width: 640px) {
    .lock {
      min-width: 2.75rem;
      min-height: 2.75rem;
    }
  }
</style>
