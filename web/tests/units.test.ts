import { describe, expect, it } from "vitest";

import { roundLevels, levels } from "../src/parts/floor/contours";
import { keyed, snap, stretchWords } from "../src/parts/rails/lever";
import {
  clock,
  fromC,
  fromCm,
  fromKg,
  heat,
  hours,
  length,
  money,
  toC,
  toCm,
  toKg,
  trim,
  weight,
} from "../src/units/format";
import { type Said, worded } from "../src/words/said";
import cases from "../../tests/contracts/worded.json";

describe("figures as growers read them", () => {
  it("converts lengths both ways, exactly", () => {
    expect(fromCm(2.54, "in")).toBe(1); // 1 in is 2.54 cm by definition
    expect(toCm(fromCm(93, "in"), "in")).toBeCloseTo(93, 12);
    expect(length(93, "cm")).toBe("93 cm");
    expect(length(93, "in")).toBe("36.6 in");
  });
  it("writes hours, clock times and money", () => {
    expect(hours(11.5)).toBe("11 h 30");
    expect(hours(12)).toBe("12 h");
    expect(clock(1440 + 75)).toBe("01:15");
    expect(money(0.564, "€")).toBe("€0.56");
    expect(money(3, "Kr")).toBe("3.00 Kr");
    expect(trim(15.0, 1)).toBe("15");
  });
});

describe("levers", () => {
  const travel = { low: 10, high: 12, step: 0.25, page: 1 };
  it("snaps to steps and stays on the rail", () => {
    expect(snap(10.4, travel)).toBe(10.5);
    expect(snap(99, travel)).toBe(12);
    expect(snap(60, { low: 25, high: 100, step: 1, page: 10, positions: [25, 50, 75] })).toBe(50);
  });
  it("moves by keys, a stepped dial from mark to mark", () => {
    expect(keyed("ArrowUp", 11, travel)).toBe(11.25);
    expect(keyed("Home", 11, travel)).toBe(10);
    expect(keyed("PageDown", 11.5, travel)).toBe(10.5);
    expect(keyed("x", 11, travel)).toBeNull();
    const steps = { low: 25, high: 100, step: 1, page: 10, positions: [25, 50, 100] };
    expect(keyed("ArrowRight", 50, steps)).toBe(100);
    expect(keyed("ArrowRight", 100, steps)).toBe(100);
  });
  it("says the lit stretch in words", () => {
    const part = { low: 10, high: 12, below: [], above: [] };
    const stretch = {
      lever: "hours" as const,
      lowest: 8,
      highest: 14,
      nearest: 10,
      parts: [part],
      sure: [],
    };
    expect(stretchWords(stretch, hours)).toBe("meets the targets at 10 h to 12 h");
    expect(stretchWords({ ...stretch, parts: [] }, hours)).toContain("nowhere");
  });
});

describe("contours", () => {
  it("chooses round levels", () => {
    expect(roundLevels(118, 402, 6)).toEqual([150, 200, 250, 300, 350, 400]);
    expect(roundLevels(5, 5, 6)).toEqual([]);
  });
  it("cuts a slope where the level is crossed", () => {
    // values 0 and 10 in two columns: level 5 lies midway, at x = 10 of 20 px
    const [level] = levels([[0, 10], [0, 10]], [5], 10, 10); // prettier-ignore
    expect(level?.path).toMatch(/10\.0 /);
    expect(levels([[1, 1]], [5], 10, 10)[0]?.path).toBe("");
  });
});

describe("what is said", () => {
  // worded by hand; the core's tests hold its own wording to the same
  it.each(cases)("$code is worded as the core words it", (one) => {
    expect(worded(one as unknown as Said, "cm")).toBe(one.cm);
    expect(worded(one as unknown as Said, "in")).toBe(one.in);
  });
});

describe("pounds, degrees and heat beside inches", () => {
  it("go both ways, exactly where a unit is defined", () => {
    expect(fromKg(0.45359237, "in")).toBe(1); // a pound is 0.45359237 kg by definition
    expect(toKg(fromKg(6.2, "in"), "in")).toBeCloseTo(6.2, 12);
    expect([weight(6.2, "cm"), weight(6.2, "in")]).toEqual(["6.2 kg", "13.7 lb"]);
    // water boils at 212 °F; 10 °C warmer are 18 °F warmer
    expect([fromC(100, "F"), fromC(10, "F", true), fromC(35, "C")]).toEqual([212, 18, 35]);
    expect(toC(95, "F")).toBeCloseTo(35, 12);
    expect(toC(18, "F", true)).toBeCloseTo(10, 12);
    // NIST SP 811: 3.412 BTU/h a watt
    expect([heat(630, "cm"), heat(630, "in")]).toEqual(["630 W", "2150 BTU/h"]);
  });
});
