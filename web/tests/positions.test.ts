import { expect, test } from "vitest";

import type { Position, Positions } from "../src/api/client";
import { curve, tradeWords } from "../src/places/bench/positions";

const row = (height_cm: number, dial_pct: number, mean: number, even: number | null): Position => ({
  height_cm,
  dial_pct,
  mean,
  area_mean: mean,
  brightest: mean * 1.3,
  dimmest: mean * 0.5,
  min_over_max: 0.4,
  min_over_mean: even,
  dli: 12,
  watts: dial_pct * 2,
  efficacy_umol_j: 1.5,
  captured: 0.7,
});
const found: Positions = {
  at: row(30, 50, 400, 0.5),
  heights: [
    row(25, 50, 432, 0.45),
    row(30, 50, 400, 0.5),
    row(40, 50, 380, 0.6),
    row(45, 50, 364, 0.69),
  ],
  dials: [row(30, 30, 240, 0.5), row(30, 50, 400, 0.5)],
  height_text: "",
  dial_text: "",
};

test("what is gained and lost stands as two figures, up and down", () => {
  // by hand: 0.69 / 0.5 = +38 %, 364 / 400 = −9 %; 0.45 / 0.5 = −10 %, 432 / 400 = +8 %
  expect(tradeWords(found, "height", "cm")).toEqual([
    "15 cm higher: evenness +38 %, light −9 %.",
    "5 cm lower: evenness −10 %, light +8 %.",
  ]);
  expect(tradeWords(found, "height", "in")[0]).toContain("5.9 in higher");
  expect(tradeWords(found, "dial", "cm")).toEqual(["20 down: light −40 %, −40 W."]);
});

test("without another position nothing is said, and a dark one has no curve", () => {
  const alone = { ...found, heights: [found.at] };
  expect(tradeWords(alone, "height", "cm")).toEqual([]);
  const scale = { left: 10, width: 100, height: 50, from: 25, to: 45 };
  const key = (one: Position): number => one.height_cm;
  expect(curve(found.heights, key, () => 0.5, scale)).toBe(
    "10.0,29.0 35.0,29.0 85.0,29.0 110.0,29.0",
  );
  expect(curve(found.heights, key, () => null, scale)).toBe("");
});
