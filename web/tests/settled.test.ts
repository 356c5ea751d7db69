import { describe, expect, it } from "vitest";

import { LAST_MS, settled, type Shown, taken } from "../src/parts/live/settled";

const series = (values: number[], every = 2000): Shown[] =>
  values.reduce<Shown[]>((before, value, i) => taken(before, { at: i * every, value }), []);

describe("a sensor that reports", () => {
  it("has come to rest when its last seconds agree", () => {
    expect(settled(series([400, 404, 402]))).toMatchObject({ mean: 402, steady: true, count: 3 });
    expect(settled(series([300, 380, 410]))?.steady).toBe(false);
  });

  it("is not steady by one or two readings", () => {
    expect(settled([])).toBeNull();
    expect(settled(series([400]))?.steady).toBe(false);
    expect(settled(series([400, 400]))?.steady).toBe(false);
  });

  it("forgets what came before the last seconds", () => {
    const shown = series([10, 10, 10, 10, 400, 400, 400, 400, 400]);
    expect(shown.length).toBe(LAST_MS / 2000);
    expect(settled(shown)?.mean).toBe(400);
  });

  it("does not count the same reading twice, nor an older one", () => {
    const once = taken([], { at: 5000, value: 400 });
    expect(taken(once, { at: 5000, value: 900 })).toEqual(once);
    expect(taken(once, { at: 1000, value: 900 })).toEqual(once);
  });

  it("is dark, and steady in the dark", () => {
    expect(settled(series([0, 0, 0]))).toMatchObject({ mean: 0, spread: 0, steady: true });
  });
});
