/** Whether a sensor that reports has come to rest, and at what. */

export interface Shown {
  /** When, in milliseconds. */
  at: number;
  value: number;
}

export interface Settled {
  /** The mean of the last seconds. */
  mean: number;
  /** Half of what they span, as a share of the mean. */
  spread: number;
  steady: boolean;
  count: number;
}

export const LAST_MS = 10_000;
const FEWEST = 3;
const STEADY = 0.02;

/** Take in what a sensor shows now; what came before the last seconds is let go. */
export function taken(before: Shown[], now: Shown): Shown[] {
  const last = before.at(-1);
  if (last && now.at <= last.at) return before;
  return [...before, now].filter((each) => each.at > now.at - LAST_MS);
}

function spreadOf(values: number[]): { mean: number; spread: number } {
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  const span = (Math.max(...values) - Math.min(...values)) / 2;
  return { mean, spread: mean > 0 ? span / mean : span > 0 ? 1 : 0 };
}

/** What the last seconds come to; nothing without any.
 *
 * What agrees with the newest counts: a sensor that was carried here showed its way first.
 */
export function settled(shown: Shown[]): Settled | null {
  if (!shown.length) return null;
  const values = shown.map((each) => each.value);
  let from = values.length - 1;
  while (from > 0 && spreadOf(values.slice(from - 1)).spread <= STEADY) from--;
  const agree = values.slice(from);
  const steady = agree.length >= FEWEST;
  const counted = steady ? agree : values;
  return { ...spreadOf(counted), steady, count: counted.length };
}
