import { describe, expect, it } from "vitest";

import { changeWords, parameterWords, rangeWords, verdictWords } from "../src/words/fits";

const figure = (planned: number, middle: number) => ({
  planned,
  true: { low: middle * 0.9, middle, high: middle * 1.1 },
  read: { low: 0, middle: 0, high: 0 },
});

describe("what a fit says", () => {
  it("says less, more, and as much", () => {
    expect(changeWords(figure(400, 340))).toBe("15 % less light than planned");
    expect(changeWords(figure(400, 460))).toBe("15 % more light than planned");
    expect(changeWords(figure(400, 402))).toBe("as much light as planned");
  });

  it("gives ranges in whole figures", () => {
    expect(rangeWords({ low: 339.6, middle: 372.4, high: 405.5 })).toBe("372 (340–406)");
  });

  it("says what the light is enough for", () => {
    const stage = { name: "Leafy", hours: 14, dli: 12.6, dli_low: 12, dli_high: 17, inside: null };
    expect(verdictWords({ ...stage, verdict: "enough" })).toBe(
      "enough, 14 h give 12.6 mol of 12–17",
    );
    expect(verdictWords({ ...stage, verdict: "short" })).toContain("short, even 14 h");
    expect(verdictWords({ ...stage, verdict: "much" })).toContain("too much");
    // what passes an end by little is told finely enough to see it
    expect(verdictWords({ ...stage, dli: 17.03, verdict: "much" })).toContain("17.03 mol of 12–17");
  });

  it("gives what was learnt in the unit people use", () => {
    const each = { value: 0.93, low: 0.86, high: 1.01 };
    expect(parameterWords({ name: "lamp_scale", ...each }, "cm")).toEqual([
      "Lamp, of its record",
      "93 % (86 %–101 %)",
    ]);
    expect(
      parameterWords({ name: "offset_x_cm", value: -2.54, low: -5.08, high: 0 }, "in")[1],
    ).toBe("−1 in (−2 in to 0 in)");
    expect(parameterWords({ name: "lamp_2", ...each }, "cm")[0]).toBe("Lamp 2, of the others");
  });
});
