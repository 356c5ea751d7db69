import { expect, test } from "vitest";

import type { BesideMap } from "../src/api/client";
import { againstWords, cell, signed } from "../src/places/fixtures/beside";

const map: BesideMap = {
  ppfd: [412.4, null],
  of_mean: [1.034, null],
  change: [-0.124, null],
  beyond: [false, false],
  mean_change: -0.004,
  rms_change: 0.06,
  largest_change: -0.124,
  statistics: null,
};

test("a difference has its sign, and none when it rounds to nothing", () => {
  expect([0.05, -0.126, 0.004, -0.004].map(signed)).toEqual(["+5 %", "−13 %", "0 %", "0 %"]);
});

test("a spot speaks in the way that is shown; nothing is a dash, the model's in brackets", () => {
  expect(["ppfd", "of_mean", "change"].map((shown) => cell(map, 0, shown as "ppfd"))).toEqual([
    "412",
    "103 %",
    "−12 %",
  ]);
  expect(cell(map, 1, "change")).toBe("–");
  expect(cell({ ...map, beyond: [true, false] }, 0, "ppfd")).toBe("(412)");
});

test("one line says how two maps stand", () => {
  expect(againstWords(map)).toBe(
    "the same on average; spots differ by 6 % (rms), by −12 % at most",
  );
  expect(againstWords({ ...map, mean_change: 0.031 })).toContain("+3 % on average");
  expect(againstWords({ ...map, rms_change: null })).toContain("nothing of it");
});
