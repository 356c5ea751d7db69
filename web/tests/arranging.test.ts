import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import type { LampIn, RunLamp } from "../src/api/client";
import { Arranging } from "../src/places/bench/arranging.svelte";
import { type Call, caught } from "./replies";

const LAMP: RunLamp = {
  fixture_id: 3,
  x_cm: 60,
  y_cm: 45,
  turn_deg: 0,
  tilt_deg: 0,
  raise_cm: 0,
  bars_off: [],
  own_dial_pct: null,
  group: 0,
  bars_x_cm: [-20, 0, 20],
};
const SETTLED = 400;

const soon = (ms = 5): Promise<unknown> => vi.advanceTimersByTimeAsync(ms);

let calls: Call[];
let settled: ReturnType<typeof vi.fn>;
beforeEach(() => {
  vi.useFakeTimers();
  calls = caught();
  settled = vi.fn();
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

async function added(desk: Arranging, lamp: Partial<RunLamp>): Promise<void> {
  void desk.add(lamp.fixture_id ?? 3);
  await soon();
  calls.find((call) => call.url.endsWith("/another"))?.reply(200, { ...LAMP, ...lamp });
  calls.splice(0, calls.length, ...calls.filter((call) => !call.url.endsWith("/another")));
  await soon();
}

async function begun(): Promise<Arranging> {
  const desk = new Arranging(settled as unknown as () => void);
  void desk.begin(9);
  await soon();
  calls.shift()?.reply(200, [LAMP]);
  await soon();
  return desk;
}
const sent = (call: Call | undefined): LampIn[] => call?.body.lamps as LampIn[];

describe("where the lamps hang", () => {
  it("opens at what the server keeps", async () => {
    const desk = await begun();
    expect(desk.open).toBe(true);
    expect(desk.lamps).toEqual([LAMP]);
  });

  it("keeps a change a moment after the last of several", async () => {
    const desk = await begun();
    desk.change(0, { x_cm: 61 });
    desk.change(0, { x_cm: 62 });
    expect(desk.lamps[0]?.x_cm).toBe(62);
    expect(calls).toHaveLength(0);
    await soon(SETTLED);
    expect(calls).toHaveLength(1);
    expect(sent(calls[0])[0]).toMatchObject({ x_cm: 62, fixture_id: 3 });
    // the bars' places are the server's to know
    expect(sent(calls[0])[0]).not.toHaveProperty("bars_x_cm");
    calls[0]?.reply(200, [{ ...LAMP, x_cm: 62 }]);
    await soon();
    expect(settled).toHaveBeenCalledOnce();
  });

  it("hangs another as the server says, and says why it cannot", async () => {
    const desk = await begun();
    await added(desk, { fixture_id: 5, own_dial_pct: 100 });
    await added(desk, {});
    expect(desk.lamps.map((lamp) => lamp.own_dial_pct)).toEqual([null, 100, null]);
    expect(desk.chosen).toBe(2);
    void desk.add(3);
    await soon();
    const another = calls.find((call) => call.url.endsWith("/another"));
    another?.reply(422, { detail: "16 lamps are the most.", errors: [] });
    await soon();
    expect(desk.refused?.message).toContain("the most");
    expect(desk.lamps).toHaveLength(3);
  });

  it("takes back step by step what was done", async () => {
    const desk = await begun();
    await added(desk, { fixture_id: 5, own_dial_pct: 100 });
    desk.change(1, { tilt_deg: 10 });
    desk.takeOut(1);
    expect(desk.lamps).toHaveLength(1);
    desk.undo();
    expect(desk.lamps[1]?.tilt_deg).toBe(10);
    desk.undo();
    expect(desk.lamps[1]?.tilt_deg).toBe(0);
    desk.undo();
    expect(desk.lamps).toEqual([LAMP]);
    desk.undo();
    expect(desk.lamps).toEqual([LAMP]);
  });

  it("leaves the last lamp, and figures that are none, alone", async () => {
    const desk = await begun();
    desk.takeOut(0);
    desk.change(0, { x_cm: NaN });
    desk.change(4, { x_cm: 1 });
    expect(desk.lamps).toEqual([LAMP]);
    expect(desk.past).toHaveLength(0);
  });

  it("lets no late answer undo what was done since, and sends one request at a time", async () => {
    const desk = await begun();
    desk.change(0, { x_cm: 61 });
    await soon(SETTLED);
    desk.change(0, { x_cm: 2 });
    await soon(SETTLED);
    // the second waits for the first
    expect(calls).toHaveLength(1);
    calls.shift()?.reply(200, [{ ...LAMP, x_cm: 61 }]);
    await soon();
    expect(desk.lamps[0]?.x_cm).toBe(2);
    calls.shift()?.reply(422, { detail: "Lamp 1 sticks out.", errors: [] });
    await soon();
    expect(desk.refused?.message).toContain("sticks out");
    // nor does one to a change made while it was out clear what is said
    desk.undo();
    await soon();
    desk.change(0, { x_cm: 3 });
    calls.shift()?.reply(200, [{ ...LAMP, x_cm: 61 }]);
    await soon();
    expect(desk.lamps[0]?.x_cm).toBe(3);
    desk.flush();
    await soon();
    expect(sent(calls[0])[0]?.x_cm).toBe(3);
  });

  it("sends what was not kept yet to the plan it was changed in", async () => {
    const desk = await begun();
    desk.change(0, { x_cm: 61 });
    void desk.begin(10);
    await soon();
    const kept = calls.find((call) => call.method === "PUT");
    expect(kept?.url).toContain("/runs/9/");
    expect(sent(kept)[0]?.x_cm).toBe(61);
    kept?.reply(200, [{ ...LAMP, x_cm: 61 }]);
    calls.find((call) => call.method === "GET")?.reply(200, [{ ...LAMP, x_cm: 20 }]);
    await soon();
    expect(desk.lamps[0]?.x_cm).toBe(20);
  });

  it("says why an arrangement cannot be and keeps it in hand", async () => {
    const desk = await begun();
    desk.change(0, { x_cm: 2 });
    await soon(SETTLED);
    calls.shift()?.reply(422, {
      detail: "Not kept.",
      errors: [{ field: "lamps.0", sentence: "Lamp 1 sticks out 40 cm at the left side." }],
    });
    await soon(50);
    expect(desk.refused?.fields["lamps.0"]).toContain("sticks out");
    expect(desk.lamps[0]?.x_cm).toBe(2);
    expect(settled).not.toHaveBeenCalled();
    // undoing it sends what was good at once
    desk.undo();
    await soon();
    expect(sent(calls[0])[0]?.x_cm).toBe(60);
  });
});
