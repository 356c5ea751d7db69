/** A figure that cannot be what the sensor shows here, and what it may have been. */

import type { Expected } from "../../api/client";
import { fromCm, toCm } from "../../units/format";
import type { Spot } from "./spots";

const fits = (value: number, at: Expected | undefined): boolean =>
  at !== undefined && value >= at.low && value <= at.high;

/** A hand's error, as a share: two readings of one spot may differ by so much. */
const HAND = 0.02;

const ALIKE = 0.1;

/** Whether a height, in cm, is the plan's in the other unit: inches for centimetres. */
export function inchesFor(height: number, planned: number | null): boolean {
  if (planned === null || Math.abs(height / planned - 1) < 0.3) return false;
  return [toCm(height, "in"), fromCm(height, "in")].some(
    (other) => Math.abs(other / planned - 1) < ALIKE,
  );
}

/** What is asked where a spot is brighter with the lamp off than on. */
export function brighterUnlit(lit: number, unlit: number): string {
  if (unlit <= lit * (1 + HAND)) return "";
  return `${Math.round(unlit)} with the lamp off, ${Math.round(lit)} with it on: are the two swapped, or did a cloud pass?`;
}

/** What is asked about a figure before it is kept; nothing where it may well be. */
export function slipWords(
  value: number,
  at: number,
  expected: Expected[],
  read: (number | null | undefined)[],
  spots: Spot[],
): string {
  const spot = spots[at];
  const here = expected[at];
  if (!spot) return "";
  const lower = spots.findIndex(
    (each, i) =>
      each.x_cm === spot.x_cm &&
      each.y_cm === spot.y_cm &&
      each.dial_pct === spot.dial_pct &&
      each.lift_cm < spot.lift_cm &&
      typeof read[i] === "number",
  );
  const low = lower < 0 ? undefined : read[lower];
  if (typeof low === "number" && value > low * (1 + HAND))
    return `${Math.round(value)} with the lamp higher, ${Math.round(low)} before: light does not rise as the lamp goes up. Is the dial as it was?`;
  if (!here || fits(value, here)) return "";
  const about = `About ${Math.round(here.middle)} is expected here`;
  if (value === 0) return `${about}: was the sensor covered?`;
  if (fits(value / 10, here)) return `${about}: a digit too many?`;
  if (fits(value * 10, here)) return `${about}: a digit too few?`;
  const other = read.findIndex(
    (each, i) =>
      i !== at &&
      typeof each === "number" &&
      !fits(each, expected[i]) &&
      fits(each, here) &&
      fits(value, expected[i]),
  );
  if (other >= 0) return `${about}, and ${value} at spot ${other + 1}: are the two swapped?`;
  const next = expected.findIndex(
    (each, i) => i !== at && typeof read[i] !== "number" && fits(value, each),
  );
  if (next >= 0) return `${about}; ${Math.round(value)} would fit spot ${next + 1}. Another spot?`;
  return `${about}, between ${Math.round(here.low)} and ${Math.round(here.high)}. Dial, height, a flap, the sensor's level?`;
}
