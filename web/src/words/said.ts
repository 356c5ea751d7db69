/** Codes with figures as sentences: the same catalogue that calendar, tables and refusals use. */

import type { components } from "../api/schema";
import type { LengthUnit } from "../units/format";
import { fromC, fromCm, heat, weight } from "../units/format";
import catalogue from "../../../src/canopy/tables/words.json";

export type Said = components["schemas"]["SaidOut"];

const SENTENCES: Record<string, string> = catalogue.sentences;

/** A number with at most so many decimals, halves away from zero, no trailing zeros. */
function trimmed(value: number, decimals: number): string {
  const scale = 10 ** decimals;
  const whole = Math.floor(Math.abs(value) * scale + 0.5 + 1e-9) / scale;
  return String(Number((value < 0 && whole ? -whole : whole).toFixed(decimals)));
}

function written(value: number | string, kind: string, unit: LengthUnit): string {
  if (typeof value === "string") return value;
  const inches = unit === "in";
  switch (kind) {
    case "length":
      return `${trimmed(fromCm(value, unit), inches ? 1 : 0)} ${unit}`;
    case "hang": {
      const long = fromCm(value, unit);
      return `${trimmed(inches ? Math.round(long * 4) / 4 : long, inches ? 2 : 0)} ${unit}`;
    }
    case "fine":
      return `${trimmed(fromCm(value, unit), inches ? 2 : 1)} ${unit}`;
    case "bare":
      return trimmed(fromCm(value, unit), inches ? 2 : 1);
    case "g0":
      return trimmed(value, 0).replace(/\B(?=(\d{3})+$)/g, "\u202f");
    case "weight":
      return weight(value, unit, 2);
    case "heat":
      return heat(value, unit);
    case "warmer":
      return `${trimmed(fromC(value, inches ? "F" : "C", true), 1)} °${inches ? "F" : "C"}`;
    case "days":
      return `${trimmed(value, 0)} ${trimmed(value, 0) === "1" ? "day" : "days"}`;
    case "pct":
      return `${trimmed(value * 100, 0)} %`;
    default:
      return trimmed(value, Number(kind.slice(1)));
  }
}

/** What is said, as a sentence in the grower's unit. */
export function worded({ code, figures }: Said, unit: LengthUnit): string {
  return (SENTENCES[code] ?? code).replace(/\{(\w+):(\w+)\}/g, (_, name: string, kind: string) =>
    written(figures[name] ?? "", kind, unit),
  );
}
