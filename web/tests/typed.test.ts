import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { figure, Typed } from "../src/parts/typed/typed.svelte";
import { type Call, caught } from "./replies";

const AREA = {
  places: "cells" as const,
  inset_x_cm: 0,
  inset_y_cm: 0,
  width_cm: 100,
  depth_cm: 100,
  dli: 12,
  timer_step_min: 15 as const,
};
const settle = (ms = 200): Promise<unknown> => vi.advanceTimersByTimeAsync(ms);

let calls: Call[];
beforeEach(() => {
  vi.useFakeTimers();
  calls = caught();
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe("a map being typed", () => {
  it("reads decimal commas, tells nothing from no figure", () => {
    expect([figure(" 412,5 "), figure(""), figure("0")]).toEqual([412.5, null, 0]);
    expect(figure("much")).toBeNaN();
  });

  it("asks once the typing rests, and not while a cell holds no figure", async () => {
    const typed = new Typed();
    typed.ask(AREA);
    await settle();
    expect(calls).toHaveLength(0);
    typed.set(0, 1, "250");
    typed.ask(AREA);
    typed.set(0, 1, "2500");
    typed.ask(AREA);
    await settle();
    expect(calls.map((call) => call.body)).toEqual([
      { ...AREA, text: "", rows: [[null, 2500, null], [null, null, null], [null, null, null]] },
    ]); // prettier-ignore
    typed.set(1, 1, "bright");
    typed.ask(AREA);
    await settle();
    expect([calls.length, typed.wrong, typed.read]).toEqual([1, true, null]);
  });

  it("keeps what was typed when the grid changes its size, and none beyond reason", () => {
    const typed = new Typed();
    typed.set(2, 2, "90");
    typed.resize(4, 3);
    expect(typed.cells[2]).toEqual(["", "", "90"]);
    typed.resize(0, 3);
    typed.resize(4, 101);
    typed.resize(NaN, 2);
    expect([typed.rows, typed.columns]).toEqual([4, 3]);
  });

  it("takes a pasted block from its cell on, and grows for it", async () => {
    const typed = new Typed();
    const pasting = typed.paste(2, 2, "1\t2\n3", AREA);
    await settle(0);
    calls[0]?.reply(200, {
      rows: [[1, 2], [3, null]],
      notes: [{ code: "read.figure", figures: { text: "1.000", value: 1000 } }],
    }); // prettier-ignore
    await pasting;
    expect([typed.rows, typed.columns]).toEqual([4, 4]);
    expect(typed.cells[3]).toEqual(["", "", "3", ""]);
    expect(typed.notes).toHaveLength(1);
    const refused = typed.paste(0, 0, "x", AREA);
    await settle(0);
    calls[1]?.reply(422, { detail: 'Row 1, column 1: "x" is no figure.', errors: [] });
    await refused;
    expect(typed.sentence).toContain("no figure");
    expect(typed.cells[3]?.[2]).toBe("3");
  });
});
