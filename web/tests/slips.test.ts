import { describe, expect, it } from "vitest";

import { inchesFor, slipWords } from "../src/places/readings/slips";
import { FIVE, spotsOf } from "../src/places/readings/spots";

const SPOTS = spotsOf(FIVE, 120, 90);
const around = (middle: number) => ({ low: middle * 0.8, middle, high: middle * 1.25 });
const EXPECTED = [400, 250, 250, 250, 250, 330].map(around);

describe("a figure that is typed", () => {
  it("is kept where it may well be", () => {
    for (const value of [321, 400, 499]) expect(slipWords(value, 0, EXPECTED, [], SPOTS)).toBe("");
  });

  it("with a digit too many or too few is asked about", () => {
    expect(slipWords(4100, 0, EXPECTED, [], SPOTS)).toContain("a digit too many?");
    expect(slipWords(41, 0, EXPECTED, [], SPOTS)).toContain("a digit too few?");
    expect(slipWords(0, 0, EXPECTED, [], SPOTS)).toContain("covered?");
  });

  it("that was meant for another spot is asked about", () => {
    // the middle's figure at a corner, and the corner's in the middle before
    expect(slipWords(400, 1, EXPECTED, [250], SPOTS)).toContain("swapped?");
    expect(slipWords(250, 0, EXPECTED, [], SPOTS)).toContain("Another spot?");
  });

  it("does not rise as the lamp goes up", () => {
    expect(slipWords(420, 5, EXPECTED, [400], SPOTS)).toContain("does not rise");
    expect(
      slipWords(
        405,
        5,
        EXPECTED.map(() => around(400)),
        [400],
        SPOTS,
      ),
    ).toBe("");
  });

  it("that fits nothing says what was expected", () => {
    expect(slipWords(700, 0, EXPECTED, [], SPOTS)).toContain("between 320 and 500");
  });

  it("is asked about whichever spot and slip it is, and kept where it is none", () => {
    // a simple generator: the same each time
    let seed = 7;
    const chance = (): number => (seed = (seed * 48271) % 2147483647) / 2147483647;
    for (let turn = 0; turn < 400; turn++) {
      const middles = EXPECTED.map(({ middle }) => middle * (0.8 + 0.4 * chance()));
      const expected = middles.map(around);
      const at = Math.floor(chance() * 6);
      const true_ = (middles[at] ?? 0) * (0.85 + 0.3 * chance());
      expect(slipWords(true_, at, expected, [], SPOTS)).toBe("");
      for (const slip of [true_ * 10, true_ / 10, 0])
        expect(slipWords(slip, at, expected, [], SPOTS)).not.toBe("");
    }
  });

  it("is kept where nothing is known, as without a signal", () => {
    expect(slipWords(4100, 0, [], [], SPOTS)).toBe("");
    expect(slipWords(4100, 9, EXPECTED, [], SPOTS)).toBe("");
  });
});

describe("a height that is typed", () => {
  it("is asked about where it is the plan's in the other unit", () => {
    expect(inchesFor(18, 45)).toBe(true);
    expect(inchesFor(114, 45)).toBe(true);
    for (const height of [40, 45, 60, 30]) expect(inchesFor(height, 45)).toBe(false);
    expect(inchesFor(18, null)).toBe(false);
  });
});
