import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import type { WalkEntry } from "../src/api/client";

import { FIVE, named, spotsOf } from "../src/places/readings/spots";
import { Walk } from "../src/places/readings/walk.svelte";

describe("where to read", () => {
  it("is the middle, four corners and the middle with the lamp higher", () => {
    const spots = spotsOf(FIVE, 120, 90);
    expect(spots.map((s) => [s.x_cm, s.y_cm, s.lift_cm])).toEqual([
      [60, 45, 0],
      [8, 8, 0],
      [112, 8, 0],
      [112, 82, 0],
      [8, 82, 0],
      [60, 45, 20],
    ]);
  });

  it("is walked to and fro from the front", () => {
    const nine = spotsOf(named("nine", { ...FIVE, edge_cm: 10 }), 100, 80);
    expect(nine.map((s) => s.x_cm)).toEqual([10, 50, 90, 90, 50, 10, 10, 50, 90]);
    expect(nine.map((s) => s.y_cm)).toEqual([10, 10, 10, 40, 40, 40, 70, 70, 70]);
  });

  it("can be the middles of equal cells, one spot, or a line", () => {
    const cells = spotsOf(
      { name: "grid", columns: 2, rows: 2, places: "cells", edge_cm: 8, lift_cm: 0, dials: [] },
      100,
      60,
    );
    expect(cells.map((s) => [s.x_cm, s.y_cm])).toEqual([
      [25, 15],
      [75, 15],
      [75, 45],
      [25, 45],
    ]);
    const one = named("grid", { ...FIVE, name: "grid", columns: 1, rows: 1 });
    expect(spotsOf(one, 100, 60)).toEqual([{ x_cm: 50, y_cm: 30, lift_cm: 0, dial_pct: null }]);
  });

  it("never leaves the tent", () => {
    for (const side of [20, 60, 300])
      for (const edge of [0, 8, 200])
        for (const spot of spotsOf({ ...FIVE, edge_cm: edge }, side, side)) {
          expect(spot.x_cm).toBeGreaterThanOrEqual(0);
          expect(spot.x_cm).toBeLessThanOrEqual(side);
        }
  });
});

describe("a walk", () => {
  let walk: Walk;
  beforeEach(() => {
    localStorage.clear();
    walk = new Walk("w", 120, 90);
  });

  it("goes from spot to spot and comes to an end", () => {
    for (const value of [400, 250]) walk.take(value);
    walk.skip();
    for (const value of [240, 245]) walk.take(value);
    expect([walk.at, walk.left, walk.count]).toEqual([5, 1, 4]);
    walk.take(300);
    expect([walk.done, walk.spot]).toEqual([true, null]);
    expect(walk.body.rows?.map((row) => row.reading)).toEqual([400, 250, 240, 245, 300]);
    expect(walk.body.rows?.at(-1)?.height_cm).toBe(walk.asked.height_cm + 20);
  });

  it("survives a reload with what was left out and what is to come", () => {
    walk.take(400);
    walk.skip();
    const again = new Walk("w", 120, 90);
    expect(again.resumed).toBe(true);
    expect([again.read[0]?.shown, again.read[1], again.read[2]]).toEqual([400, null, undefined]);
    expect([again.at, again.left]).toEqual([2, 4]);
    expect([again.key, again.id]).toEqual([walk.key, walk.id]);
  });

  it("goes back, begins anew and can be taken up again", async () => {
    walk.take(400);
    walk.take(250);
    walk.back();
    expect([walk.at, walk.read[1]]).toEqual([1, undefined]);
    const before = walk.state();
    walk.clear();
    expect([walk.count, walk.id === before.id]).toEqual([0, false]);
    await walk.restore(before);
    expect([walk.count, walk.at, walk.id]).toEqual([1, 1, before.id]);
  });

  it("is another to the server with every change", () => {
    const keys = new Set([walk.key]);
    walk.take(400);
    keys.add(walk.key);
    walk.add({ x_cm: 30, y_cm: 30, lift_cm: 0, dial_pct: null });
    keys.add(walk.key);
    walk.lay(named("nine", walk.layout));
    keys.add(walk.key);
    expect(keys.size).toBe(4);
    expect([walk.count, walk.spots.length]).toEqual([0, 9]);
  });

  it("goes to a spot that was added, and a skipped one is come back to", () => {
    walk.take(1);
    walk.go(3);
    walk.take(2);
    expect(walk.at).toBe(4);
    walk.take(3);
    walk.take(4);
    // those passed over come last
    expect(walk.at).toBe(1);
    walk.add({ x_cm: 30, y_cm: 20, lift_cm: 15, dial_pct: null });
    expect(walk.spot).toEqual({ x_cm: 30, y_cm: 20, lift_cm: 15, dial_pct: null });
  });

  it("knows when the lamp was lit, over a reload, and says that it is read cold", () => {
    expect([walk.warm, walk.litAt]).toEqual([null, null]);
    walk.warmUp(1000);
    expect(new Walk("w", 120, 90).litAt).toBe(1000);
    expect(walk.body.note).toBe("");
    walk.warmUp("waived");
    expect([walk.litAt, walk.body.note]).toEqual([null, "read cold"]);
  });

  it("opens whatever the store holds", () => {
    for (const text of ["{", "null", "[]", '{"version":1,"at":9}', '"x"']) {
      localStorage.setItem("w", text);
      expect(new Walk("w", 120, 90).at).toBe(0);
    }
  });
});

describe("a walk in daylight, or through the dial's steps", () => {
  let told: WalkEntry[];
  let walk: Walk;
  beforeEach(() => {
    localStorage.clear();
    vi.useFakeTimers({ now: 1_000_000 });
    told = [];
    walk = new Walk("w", 120, 90, (_walk, _asked, entry) => told.push(entry));
  });
  afterEach(() => vi.useRealTimers());

  const take = (...values: number[]): void => {
    for (const value of values) {
      vi.advanceTimersByTime(10_000);
      walk.take(value);
    }
  };

  it("reads each spot with the lamp on, then off", () => {
    walk.asked = { ...walk.asked, daylight: "each" };
    expect(walk.asking).toBe("lit");
    take(400);
    expect([walk.asking, walk.at, told.length]).toEqual(["unlit", 0, 0]);
    // a reload in between loses nothing
    expect(new Walk("w", 120, 90).lit).toBe(400);
    take(60);
    expect([walk.asking, walk.at]).toEqual(["lit", 1]);
    expect(told[0]).toMatchObject({ state: "read", number: 0, shown: 400, unlit: 60 });
    expect(walk.body.rows?.[0]).toMatchObject({ reading: 400, unlit: 60 });
    const taken = walk.read[0];
    expect(taken && walk.net(taken)).toBe(340);
    take(300);
    walk.back();
    expect([walk.asking, walk.lit, walk.at]).toEqual(["lit", null, 1]);
  });

  it("looks once more where it began, unless a spot was read twice", () => {
    walk.lay(named("nine", walk.layout));
    walk.asked = { ...walk.asked, daylight: "each" };
    for (let i = 0; i < 9; i++) take(400 + i, 60);
    expect([walk.done, walk.asking, walk.lookAt]).toEqual([true, "look", walk.spots[0]]);
    take(90);
    expect(walk.asking).toBeNull();
    expect(walk.body.backgrounds).toEqual([
      { shown: 60, at_s: 0 },
      { shown: 90, at_s: 170 },
    ]);
    // the five quick come back to the middle by themselves
    walk.lay(named("five", walk.layout));
    for (let i = 0; i < 6; i++) take(400, 60);
    expect(walk.asking).toBeNull();
  });

  it("takes one look first and one at the end, which can be left out", () => {
    walk.asked = { ...walk.asked, daylight: "background" };
    expect(walk.asking).toBe("look");
    take(50);
    expect(told[0]).toMatchObject({ state: "daylight", shown: 50, x_cm: 60, y_cm: 45 });
    take(400, 300, 300, 300, 300, 350);
    expect(walk.asking).toBe("look");
    walk.skip();
    expect(walk.asking).toBeNull();
    walk.look(55);
    expect(walk.body.backgrounds?.map((look) => look.shown)).toEqual([50, 55]);
    // the first figure of all is the beginning
    expect(walk.body.backgrounds?.[0]?.at_s).toBe(0);
    expect(walk.body.rows?.[0]?.at_s).toBe(10);
  });

  it("goes through the dial's steps, the five at each", () => {
    walk.lay(named("steps", { ...walk.layout, dials: [100, 50] }));
    expect(walk.spots.map((spot) => spot.dial_pct)).toEqual([
      ...Array(5).fill(100),
      ...Array(5).fill(50),
    ]);
    take(400);
    expect(told[0]?.dial_pct).toBe(100);
    expect(walk.body.rows?.[0]?.dial_pct).toBe(100);
  });

  it("tells the server what was read, left out and taken back, each with its key", () => {
    walk.asked = { ...walk.asked, dial_pct: 70 };
    take(400);
    walk.skip();
    walk.back();
    expect(told.map((entry) => [entry.state, entry.number, entry.dial_pct])).toEqual([
      ["read", 0, 70],
      ["left_out", 1, 70],
      ["taken_back", 1, 70],
    ]);
    expect(new Set(told.map((entry) => entry.key)).size).toBe(3);
  });

  it("takes up a walk that the server has, as it stands there", () => {
    const at = "2026-11-20T10:00:00Z";
    const asked = { ...walk.asked, layout: { ...FIVE }, cold: true, height_cm: 50, zero: 3 };
    const spot = (number: number, shown: number | null, more = {}) => ({
      number,
      state: shown === null ? ("left_out" as const) : ("read" as const),
      x_cm: 1,
      y_cm: 2,
      height_cm: 50,
      dial_pct: null,
      shown,
      unlit: null,
      spread: null,
      at,
      ...more,
    });
    walk.load({
      key: "k",
      version: 1,
      removed: false,
      begun_at: at,
      asked,
      spots: [spot(0, 400), spot(1, null), spot(8, 210, { x_cm: 30, y_cm: 31, height_cm: 60 })],
      fit_id: null,
    });
    expect([walk.id, walk.warm, walk.asked.zero, walk.at]).toEqual(["k", "waived", 3, 2]);
    expect([walk.read[0]?.shown, walk.read[1], walk.read[6]?.shown]).toEqual([400, null, 210]);
    expect(walk.spots[6]).toEqual({ x_cm: 30, y_cm: 31, lift_cm: 10, dial_pct: null });
    expect(told).toEqual([]);
  });

  it("takes readings from a table as a walk of their own", () => {
    const row = { x_cm: 10, y_cm: 20, height_cm: 40, dial_pct: 80, ppfd: 333 };
    walk.fill([row, { ...row, x_cm: 50, height_cm: 60, dial_pct: 50, ppfd: 222 }]);
    expect([walk.count, walk.done, told.length]).toEqual([2, true, 2]);
    expect(walk.body.rows).toMatchObject([
      { x_cm: 10, height_cm: 40, dial_pct: 80, reading: 333 },
      { x_cm: 50, height_cm: 60, dial_pct: 50, reading: 222 },
    ]);
  });
});
