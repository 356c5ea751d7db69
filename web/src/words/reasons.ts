/** The core's codes as a grower would say them. */

import type { Bench, LimitName, Obstacle, Opinions, Run, ShelfRow, Trust } from "../api/client";
import { trim } from "../units/format";

const TARGETS: Record<LimitName, string> = {
  hot_spot_cap: "the hot-spot cap",
  evenness: "the evenness goal",
  ppfd_low: "the PPFD band",
  ppfd_high: "the PPFD band",
  dli_low: "the DLI band",
  dli_high: "the DLI band",
  hours_low: "the length of the day",
};

type Binding = Bench["solution"]["binding"][number];

const BINDING: Record<Binding, string> = {
  hot_spot_cap: "the hot-spot cap",
  evenness: "the evenness goal",
  ppfd_low: "the PPFD band's lower end",
  ppfd_high: "the PPFD band's upper end",
  dli_low: "the DLI band's lower end",
  dli_high: "the DLI band's upper end",
  hours_low: "the shortest day this stage allows",
  height_lowest: "the lowest it may hang",
  height_highest: "the highest it may hang",
  dial_lowest: "the dial's lowest position",
  dial_highest: "full power",
  hours_lowest: "the shortest day this stage allows",
  hours_highest: "the longest day this stage allows",
};

const TRAVEL = /^(height|dial|hours)_/;

function listed(words: string[]): string {
  const unique = [...new Set(words)];
  return unique.length < 2
    ? (unique[0] ?? "")
    : `${unique.slice(0, -1).join(", ")} and ${unique.at(-1)}`;
}

/** What the plan goes by, of all that keep every target on every day. */
const AIMS: Record<Run["aim"], string> = {
  likely: "the likeliest to meet every target, with few trips",
  middle: "the fewest trips, then nearest the middle of the band",
  energy: "the fewest trips, then the least energy",
  even: "the fewest trips, then the most even",
  gentle: "the fewest trips, then the dimmest brightest spot",
  moves: "the fewest trips and moves, then nearest the middle of the band",
};

export function bindingWords(binding: Binding[], aim: Run["aim"]): string {
  const ends = binding.filter((b) => TRAVEL.test(b)).map((b) => BINDING[b]);
  const limits = binding.filter((b) => !TRAVEL.test(b)).map((b) => BINDING[b]);
  const at = ends.length ? ` It stands at ${listed(ends)}.` : "";
  return limits.length
    ? `Chosen: ${AIMS[aim]}. It would be better without ${listed(limits)}.${at}`
    : `Chosen: ${AIMS[aim]}. No target holds it back.${at}`;
}

/** How likely something is, in tenths as people say it. */
export function tenths(chance: number): string {
  const n = Math.round(chance * 10);
  if (n >= 10) return "nearly certain";
  return n < 1 ? "hardly likely" : `about ${n} in 10`;
}

/** How likely every target holds on every day, and what a reading would make of it. */
export function chanceWords(chance: number, read: number): string {
  const now = `How likely every target holds on every day: ${tenths(chance)}`;
  if (tenths(read) === tenths(chance)) return `${now}.`;
  return `${now}; a reading that agrees would make it ${tenths(read).replace(/^about (\d+) in 10$/, "$1")}.`;
}

export function relaxedWords(relaxed: LimitName[]): string {
  return listed(relaxed.map((name) => TARGETS[name]));
}

export function targetName(name: LimitName): string {
  return TARGETS[name];
}

/** Two figures with as many decimals, up to three, as it takes to tell them apart. */
export function apart(value: number, bound: number, decimals: number): [string, string] {
  for (let d = decimals; d < 3; d++)
    if (value === bound || value.toFixed(d) !== bound.toFixed(d))
      return [trim(value, d), trim(bound, d)];
  return [trim(value, 3), trim(bound, 3)];
}

/** A band as a person says it; one figure where both ends are the same. */
export function bandWords(low: number, high: number, decimals: number): string {
  return low === high ? trim(low, decimals) : `${trim(low, decimals)}–${trim(high, decimals)}`;
}

const DECIMALS: Record<LimitName, number> = {
  dli_low: 1,
  dli_high: 1,
  ppfd_low: 0,
  ppfd_high: 0,
  hot_spot_cap: 0,
  evenness: 2,
  hours_low: 2,
};

/** What stands in the way and the smallest change that would help. */
export function obstacleWords(obstacle: Obstacle): string {
  const { name } = obstacle;
  const [best, asked] = apart(obstacle.best, obstacle.asked, DECIMALS[name]);
  const amount = trim(obstacle.amount, 4);
  const share = `${Math.round(obstacle.amount * 100)} %`;
  const dli = name === "dli_low" || name === "dli_high";
  const is =
    name === "hot_spot_cap"
      ? `The dimmest this lamp can be still gives ${best} at its brightest spot, over ${asked}`
      : name === "evenness"
        ? `The dimmest spot is ${best} of the mean, wanted ${asked}`
        : dli
          ? `DLI comes to ${best}, wanted ${name === "dli_low" ? "at least" : "at most"} ${asked}`
          : `The mean comes to ${best}, wanted ${name === "ppfd_low" ? "at least" : "at most"} ${asked}`;
  switch (obstacle.change) {
    case "unlock":
      return `${is}: a locked lever stands in the way; free it and it is met.`;
    case "beyond_maker":
      return `${is}: the heights its maker names do not give it; others would.`;
    case "more_hours":
      return `${is}: ${trim(obstacle.amount, 2)} h more a day than the longest allowed would do.`;
    case "higher_cap":
      return name === "hot_spot_cap"
        ? `${is}; a cap of ${amount} or a weaker lamp would do.`
        : `${is}: the cap holds the light down; a cap of ${amount} would do.`;
    case "stronger_lamp":
      return obstacle.amount > 1
        ? `${is}; a lamp with ${trim(1 + obstacle.amount, 1)} times the light would do.`
        : `${is}; a lamp with ${share} more light would do.`;
    case "weaker_dial":
      return `${is}; a dial down to ${share} of full light would do.`;
    case "less_daylight":
      return `${is}; shaded to ${amount} mol of daylight it would do.`;
    case "lower_goal":
      return obstacle.reach >= obstacle.asked
        ? `${is}; more is to be had, but not beside the other targets. A goal of ${amount} would do.`
        : `${is}; a goal of ${amount} would do.`;
    case "between_steps":
      return `${is}: timer and dial step over the band; ${name === "dli_low" ? "from" : "up to"} ${amount} would do.`;
    case "wider_band":
      return `${is}; a band ${name.endsWith("low") ? "from" : "up to"} ${amount} would do.`;
    case "other_lamp":
      return `${is}; nothing this lamp can be set to gives it.`;
  }
}

/** What stands in the way, as short as it can be said. */
export function shortObstacle({ name, best, asked }: Obstacle): string {
  const [is, wanted] = apart(best, asked, DECIMALS[name]);
  switch (name) {
    case "hot_spot_cap":
      return `a spot too bright: ${is}, cap ${wanted}`;
    case "evenness":
      return `uneven: ${is} of the mean, ${wanted} wanted`;
    case "dli_low":
      return `too dim: DLI ${is} of ${wanted}`;
    case "dli_high":
      return `too much: DLI ${is}, ${wanted} at most`;
    case "ppfd_low":
      return `too dim: mean ${is} of ${wanted}`;
    case "ppfd_high":
      return `too bright: mean ${is}, ${wanted} at most`;
    case "hours_low":
      return `${is} h, ${wanted} wanted`;
  }
}

/** What the answer rests on. */
export function sureWords(bench: Bench): string {
  switch (bench.certainty.basis) {
    case "fitted":
      return bench.made_of.fit
        ? `Fitted to ${bench.made_of.fit.readings} readings of ${bench.made_of.fit.read_on} here`
        : "Fitted to your readings here";
    case "learnt":
      return bench.made_of.fit
        ? "Computed, in the tent as your readings have it"
        : "Computed, with what readings elsewhere say of this lamp";
    case "readings":
      return "Measured in this space, at this height or between two";
    case "rebased":
      return "Measured, but elsewhere, at one height, beyond the heights read or before a change";
    case "uncalibrated":
      return bench.geometry.lamps.some((lamp) => lamp.light_source === "photometric")
        ? "Computed from a light file; nothing measured here yet"
        : "Computed; nothing measured here yet";
  }
}

export const SCHOOLS: Record<Opinions["opinions"][number]["school"], string> = {
  hot_spot_first: "Hot spot first",
  evenness_first: "Evenness first",
  makers_chart: "The maker's chart",
  middle_start: "A middle start",
  by_watts: "Watts",
  cautious: "Caution",
  dial_is_light: "The dial is the light",
  watts_fraction: "Watts are the light",
  lumens_an_area: "Lumens an area",
  watts_an_area: "Watts an area",
  ppfd_first: "PPFD first",
  dli_first: "DLI first",
};

/** What a lamp could give beyond what is wanted of it: as new, and at the end of its years. */
export function reserveWords(reserve: number, aged: number): string {
  const words = (share: number): string => {
    const by = Math.round((share - 1) * 100);
    return by === 0 ? "nothing to spare" : by > 0 ? `${by} % to spare` : `${-by} % below plan`;
  };
  const [now, then] = [words(reserve), words(aged)];
  return now === then ? `${now}, new and aged` : `${now} new, ${then} when old`;
}

/** That two lamps' costs are not of equal light, where they are not: by a tenth and more. */
export function unequalLight(mine: number | undefined, present: number | undefined): string {
  if (mine === undefined || present === undefined || !present) return "";
  if (Math.abs(mine / present - 1) < 0.1) return "";
  return `; not for equal light: ${trim(mine, 1)} mol a day against ${trim(present, 1)}`;
}

/** What becomes of a lamp that does the job as new, and no longer at the end of its years. */
export function agedWords(
  row: { meets: boolean; dli_aged: number; obstacles: unknown[]; outcome: unknown },
  dliLow: number,
): string {
  if (row.meets || row.obstacles.length || !row.outcome || row.dli_aged >= dliLow) return "";
  return `Meets every target new; at the end of its years ${trim(row.dli_aged, 1)} mol of the ${trim(dliLow, 1)} wanted.`;
}

/** By how many times a target is missed. */
const missedBy = ({ best, asked }: Obstacle): number =>
  Math.max(best, asked) / Math.max(Math.min(best, asked), 1e-6);

type Judged = Pick<
  ShelfRow,
  "meets" | "refused" | "cannot_be" | "obstacles" | "outcome" | "dli_aged"
>;

/** How a lamp comes out, in one short reason. */
export function shortReason(row: Judged, dliLow: number): string {
  if (row.refused) return "✕ kept out";
  if (row.cannot_be) return "✕ its claims cannot be";
  // the one that is missed by most tells most
  const [first, ...rest] = [...row.obstacles].sort((a, b) => missedBy(b) - missedBy(a));
  if (first) return `✕ ${shortObstacle(first)}${rest.length ? ` and ${rest.length} more` : ""}`;
  if (row.meets) return "✓ meets every target, new and old";
  if (row.outcome && row.dli_aged < dliLow)
    return `✕ too dim when old: DLI ${apart(row.dli_aged, dliLow, 1).join(" of ")}`;
  return "✕ misses a target";
}

/** How a lamp's claims came out. */
export const TRUST_WORDS: Record<Trust, string> = {
  good: "figures go together",
  missing: "figures missing",
  doubt: "claims in doubt",
  wrong: "claims wrong",
};

/** Why a lamp's costs are not told. */
export function noPrice(row: { price_currency: string } | undefined): string {
  return row?.price_currency ? `priced in ${row.price_currency}, not compared` : "no price given";
}
