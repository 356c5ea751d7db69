/** The core's codes as a grower would say them. */

import type { Bench, LimitName, Obstacle, Opinions, Trust } from "../api/client";
import { trim } from "../units/format";

const TARGETS: Record<LimitName, string> = {
  hot_spot_cap: "the hot-spot cap",
  evenness: "the evenness goal",
  ppfd_low: "the PPFD band",
  ppfd_high: "the PPFD band",
  dli_low: "the DLI band",
  dli_high: "the DLI band",
};

const BINDING: Record<string, string> = {
  hot_spot_cap: "the hot-spot cap keeps it from hanging lower",
  evenness: "the evenness goal keeps it from hanging lower",
  ppfd_low: "the PPFD band's lower end",
  ppfd_high: "the PPFD band's upper end",
  dli_low: "the DLI band's lower end",
  dli_high: "the DLI band's upper end",
  height_lowest: "the lamp's clearance",
  height_highest: "the headroom",
  dial_lowest: "the dial's lowest position",
  dial_highest: "full power",
  hours_lowest: "the shortest day this stage allows",
  hours_highest: "the longest day this stage allows",
};

function listed(words: string[]): string {
  const unique = [...new Set(words)];
  return unique.length < 2
    ? (unique[0] ?? "")
    : `${unique.slice(0, -1).join(", ")} and ${unique.at(-1)}`;
}

export function bindingWords(binding: string[]): string {
  if (!binding.length) return "Nothing binds: the middle of the band at the least energy.";
  return `What decides it: ${listed(binding.map((b) => BINDING[b] ?? b))}.`;
}

export function relaxedWords(relaxed: LimitName[]): string {
  return listed(relaxed.map((name) => TARGETS[name]));
}

export function targetName(name: LimitName): string {
  return TARGETS[name];
}

/** What stands in the way and the smallest change that would help. */
export function obstacleWords(obstacle: Obstacle): string {
  const { amount, best, asked } = obstacle;
  switch (obstacle.change) {
    case "more_hours":
      return `The cap holds the light down to DLI ${trim(best, 1)}; ${trim(amount, 2)} h more a day would reach ${trim(asked, 1)}.`;
    case "higher_cap":
      return obstacle.name === "hot_spot_cap"
        ? `The dimmest this lamp can be still gives ${Math.round(amount)} at its brightest spot; a cap of ${Math.round(amount)} or a weaker lamp would do.`
        : `The cap holds the light down to DLI ${trim(best, 1)} of ${trim(asked, 1)}; a more even lamp, or a cap of ${Math.round(amount)}, would reach it.`;
    case "stronger_lamp":
      return `At its most the lamp gives DLI ${trim(best, 1)} of ${trim(asked, 1)}; one with ${Math.ceil(amount * 100)} % more light would do.`;
    case "weaker_dial":
      return `At its least it still gives DLI ${trim(best, 1)}, over ${trim(asked, 1)}; a dial down to ${Math.floor(amount * 100)} % of full light would do.`;
    case "lower_goal":
      return `The dimmest spot is ${trim(best, 2)} of the mean, wanted ${trim(asked, 2)}; the best within reach is ${trim(amount, 2)}. A lamp that spreads wider, or more headroom, would help.`;
    case "wider_band":
      return `The mean comes to ${Math.round(best)}, wanted ${Math.round(asked)}.`;
  }
}

/** What the answer rests on. */
export function sureWords(bench: Bench): string {
  switch (bench.certainty.basis) {
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
  ppfd_first: "PPFD first",
  dli_first: "DLI first",
};

/** How a lamp's claims came out. */
export const TRUST_WORDS: Record<Trust, string> = {
  good: "figures go together",
  missing: "figures missing",
  doubt: "claims in doubt",
  wrong: "claims wrong",
};
