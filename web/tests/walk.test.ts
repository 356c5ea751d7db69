import { beforeEach, describe, expect, it } from "vitest";

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
      { name: "grid", columns: 2, rows: 2, places: "cells", edge_cm: 8, lift_cm: 0 },
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
    expect(spotsOf(one, 100, 60)).toEqual([{ x_cm: 50, y_cm: 30, lift_cm: 0 }]);
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
    for (const value of [400, 250, null, 240, 245]) walk.take(value);
    expect([walk.at, walk.left, walk.count]).toEqual([5, 1, 4]);
    walk.take(300);
    expect([walk.done, walk.spot]).toEqual([true, null]);
    expect(walk.body.rows?.map((row) => row.reading)).toEqual([400, 250, 240, 245, 300]);
    expect(walk.body.rows?.at(-1)?.height_cm).toBe(walk.asked.height_cm + 20);
  });

  it("survives a reload with what was left out and what is to come", () => {
    walk.take(400);
    walk.take(null);
    const again = new Walk("w", 120, 90);
    expect(again.resumed).toBe(true);
    expect([again.read[0], again.read[1], again.read[2]]).toEqual([400, null, undefined]);
    expect([again.at, again.left]).toEqual([2, 4]);
    expect(again.key).toBe(walk.key);
  });

  it("takes the sensor's zero off each reading, and never below nothing", () => {
    walk.asked = { ...walk.asked, zero: 10 };
    walk.take(400);
    walk.take(4);
    expect(walk.body.rows?.map((row) => row.reading)).toEqual([390, 0]);
    // what was read stays as it was read
    expect(walk.read[0]).toBe(400);
  });

  it("goes back, begins anew and can be taken up again", async () => {
    walk.take(400);
    walk.take(250);
    walk.back();
    expect([walk.at, walk.read[1]]).toEqual([1, undefined]);
    const read = [...walk.read];
    walk.clear();
    expect(walk.count).toBe(0);
    await walk.restore(read, [], 1);
    expect([walk.count, walk.at]).toEqual([1, 1]);
  });

  it("is another to the server with every change", () => {
    const keys = new Set([walk.key]);
    walk.take(400);
    keys.add(walk.key);
    walk.add({ x_cm: 30, y_cm: 30, lift_cm: 0 });
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
    walk.add({ x_cm: 30, y_cm: 20, lift_cm: 15 });
    expect(walk.spot).toEqual({ x_cm: 30, y_cm: 20, lift_cm: 15 });
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
    for (const text of ["{", "null", "[]", '{"version":2,"at":9}', '"x"']) {
      localStorage.setItem("w", text);
      expect(new Walk("w", 120, 90).at).toBe(0);
    }
  });
});
