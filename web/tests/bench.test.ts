import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { BenchState } from "../src/places/bench/bench.svelte";
import { type Call, caught, soon } from "./replies";
import { sample } from "./sample";

let calls: Call[];

beforeEach(() => {
  calls = caught();
});
afterEach(() => vi.unstubAllGlobals());

async function opened(): Promise<BenchState> {
  const desk = new BenchState();
  void desk.open(1, 7);
  await soon();
  calls.shift()?.reply(200, sample());
  await soon();
  return desk;
}

describe("the bench's levers", () => {
  it("open at what the server keeps", async () => {
    const desk = await opened();
    expect(desk.levers).toEqual({
      height_cm: 40,
      dial_pct: 50,
      hours: 12,
      on_minute: 360,
      locked: [],
    });
    expect(desk.keeping).toBe("kept");
  });

  it("ask once at a time and then only for the newest wish", async () => {
    const desk = await opened();
    for (const height_cm of [41, 42, 43, 44]) desk.move({ height_cm });
    await soon();
    expect(calls.map((c) => c.body.height_cm)).toEqual([41]);
    expect(desk.levers?.height_cm).toBe(44);
    calls.shift()?.reply(200, sample());
    await soon();
    expect(calls.map((c) => c.body.height_cm)).toEqual([44]);
    calls.shift()?.reply(200, sample({ setting: { height_cm: 44, dial_pct: 50, hours: 12 } }));
    await soon();
    expect(calls).toEqual([]);
    expect(desk.bench?.setting.height_cm).toBe(44);
  });

  it("of a run that has ended are moved to see, and not kept", async () => {
    const desk = await opened();
    desk.over = true;
    desk.move({ height_cm: 60 });
    await soon(2000);
    expect(calls.map((c) => c.method)).toEqual(["POST"]);
    expect(desk.keeping).toBe("kept");
    desk.flush();
    await soon();
    expect(calls.length).toBe(1);
  });

  it("do not carry one stage's levers into the next", async () => {
    const desk = await opened();
    void desk.open(1, 8);
    await soon();
    desk.move({ height_cm: 60 });
    await soon();
    expect(calls.map((c) => c.method)).toEqual(["GET"]);
    expect(desk.levers?.height_cm).toBe(40);
  });

  it("keep what settles, and say when it was not kept", async () => {
    const desk = await opened();
    desk.move({ dial_pct: 80 });
    expect(desk.keeping).toBe("moving");
    await soon();
    calls.shift()?.reply(200, sample());
    void desk.keep();
    await soon();
    const put = calls.shift();
    expect([put?.method, put?.url]).toEqual(["PUT", "/api/runs/1/stages/7/setting"]);
    put?.reply(500, { detail: "no" });
    await soon();
    expect(desk.keeping).toBe("failed");
    void desk.keep();
    await soon();
    expect(calls[0]?.body.dial_pct).toBe(80);
    calls.shift()?.reply(200, {});
    await soon();
    expect(desk.keeping).toBe("kept");
  });

  it("are kept at once when another stage opens", async () => {
    const desk = await opened();
    desk.move({ hours: 10 });
    await soon();
    calls.shift()?.reply(200, sample());
    await soon();
    void desk.open(1, 8);
    await soon();
    expect(calls.map((c) => [c.method, c.url])).toContainEqual([
      "PUT",
      "/api/runs/1/stages/7/setting",
    ]);
  });

  it("pass on the server's sentence", async () => {
    const desk = new BenchState();
    void desk.open(1, 7);
    await soon();
    const detail = "5 cm more headroom is needed.";
    calls.shift()?.reply(422, { detail, errors: [{ field: "height_cm", sentence: detail }] });
    await soon();
    expect(desk.bench).toBeNull();
    expect(desk.refused?.message).toBe(detail);
    expect(desk.refused?.fields.height_cm).toBe(detail);
  });
});
