/** Heights and dials as curves and words. */

import type { Position, Positions } from "../../api/client";
import { length, type LengthUnit, trim } from "../../units/format";

interface Scale {
  left: number;
  width: number;
  height: number;
  from: number;
  to: number;
}

/** Points of a curve of shares, 0 at the foot and 1 at the top; what does not apply is left out. */
export function curve(
  rows: Position[],
  key: (row: Position) => number,
  share: (row: Position) => number | null,
  { left, width, height, from, to }: Scale,
): string {
  const points = rows.flatMap((row) => {
    const value = share(row);
    if (value === null) return [];
    const x = left + (width * (key(row) - from)) / Math.max(to - from, 1e-9);
    return [`${x.toFixed(1)},${(4 + height * (1 - value)).toFixed(1)}`];
  });
  return points.join(" ");
}

function changed(value: number | null, than: number | null): string {
  if (value === null || than === null || !(than > 0)) return "";
  const whole = Math.round((value / than - 1) * 100);
  return whole === 0 ? "±0 %" : `${whole > 0 ? "+" : "−"}${Math.abs(whole)} %`;
}

/** How far the sentence looks: about a hand and a half, or a fifth of the dial. */
const AWAY = { height: 15, dial: 20 };

/** "15 cm higher: evenness +38 %, light −9 %", up and down from where it is. */
export function tradeWords(found: Positions, by: "height" | "dial", unit: LengthUnit): string[] {
  const rows = by === "height" ? found.heights : found.dials;
  const key = (row: Position): number => (by === "height" ? row.height_cm : row.dial_pct);
  const here = key(found.at);
  return ([1, -1] as const).flatMap((way) => {
    const others = rows.filter((row) => (key(row) - here) * way > 0);
    const gap = (row: Position): number => Math.abs(Math.abs(key(row) - here) - AWAY[by]);
    const [first, ...more] = others;
    if (!first) return [];
    const other = more.reduce((best, row) => (gap(row) < gap(best) ? row : best), first);
    const by_ = Math.abs(key(other) - here);
    const light = changed(other.mean, found.at.mean);
    if (by === "height") {
      const even = changed(other.min_over_mean, found.at.min_over_mean);
      return [
        `${length(by_, unit)} ${way > 0 ? "higher" : "lower"}: evenness ${even || "–"}, light ${light || "–"}.`,
      ];
    }
    const watts = Math.round(other.watts - found.at.watts);
    const more_ = `${watts > 0 ? "+" : "−"}${Math.abs(watts)} W`;
    return [`${trim(by_, 1)} ${way > 0 ? "up" : "down"}: light ${light || "–"}, ${more_}.`];
  });
}
