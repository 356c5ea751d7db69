/** What all three rails share: keys to steps, and the words for what stops a lit stretch. */

import type { LimitName, Stretch } from "../../api/client";

export interface Travel {
  low: number;
  high: number;
  step: number;
  page: number;
  /** The only positions there are, when there are few. */
  positions?: number[];
}

/** The nearest position of a travel to a wanted one. */
export function snap(value: number, travel: Travel): number {
  if (travel.positions?.length)
    return travel.positions.reduce((a, b) => (Math.abs(b - value) < Math.abs(a - value) ? b : a));
  const inside = Math.min(Math.max(value, travel.low), travel.high);
  const stepped = travel.low + Math.round((inside - travel.low) / travel.step) * travel.step;
  return Number(Math.min(stepped, travel.high).toFixed(4));
}

function beside(value: number, travel: Travel, direction: 1 | -1): number {
  const list = travel.positions;
  if (!list?.length) return value + direction * travel.step;
  const at = list.indexOf(snap(value, travel));
  return list[Math.min(Math.max(at + direction, 0), list.length - 1)] ?? value;
}

/** Where a key moves a slider, or null when the key is not one of its own. */
export function keyed(key: string, value: number, travel: Travel): number | null {
  switch (key) {
    case "ArrowUp":
    case "ArrowRight":
      return snap(beside(value, travel, 1), travel);
    case "ArrowDown":
    case "ArrowLeft":
      return snap(beside(value, travel, -1), travel);
    case "PageUp":
      return snap(value + travel.page, travel);
    case "PageDown":
      return snap(value - travel.page, travel);
    case "Home":
      return travel.low;
    case "End":
      return travel.high;
    default:
      return null;
  }
}

export const LIMIT_WORDS: Record<LimitName, string> = {
  hot_spot_cap: "brightest spot too bright",
  evenness: "not even enough",
  ppfd_low: "PPFD too low",
  ppfd_high: "PPFD too high",
  dli_low: "too little light in the day",
  dli_high: "too much light in the day",
  hours_low: "the day too short",
};

/** A lever's lit stretch in words, for those who hear the rail. */
export function stretchWords(stretch: Stretch, show: (value: number) => string): string {
  if (!stretch.parts.length) return "nowhere does it meet the targets with the other two here";
  const parts = stretch.parts.map(({ low: a, high: b }) =>
    a === b ? show(a) : `${show(a)} to ${show(b)}`,
  );
  return `meets the targets at ${parts.join(" and ")}`;
}
