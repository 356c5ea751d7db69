import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { Device, DeviceCurve, LastReading } from "../src/api/client";
import { devices } from "../src/api/devices.svelte";
import { drawn } from "../src/parts/live/curve";
import { every } from "../src/parts/live/every";
import { caught, soon } from "./replies";
import { ago, figure, inOrder } from "../src/words/devices";

beforeEach(() => vi.useFakeTimers());
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});

it("keeps what was changed while a list was on its way", async () => {
  const calls = caught();
  devices.all = [{ id: 1, version: 1 } as Device];
  const list = devices.load();
  const paused = devices.pause(1, true);
  await soon();
  calls[1]?.reply(200, { id: 1, version: 2, paused: true });
  await paused;
  calls[0]?.reply(200, [{ id: 1, version: 1, paused: false }]);
  await list;
  expect(devices.of(1)?.version).toBe(2);
  const again = devices.load();
  await soon();
  calls[2]?.reply(200, [{ id: 1, version: 3 }]);
  await again;
  expect(devices.of(1)?.version).toBe(3);
});

const curve = (at: number[], mean: number[]): DeviceCurve => ({
  unit: "W",
  since_ms: 0,
  until_ms: 1000,
  at_ms: at,
  low: mean.map((v) => v - 1),
  mean,
  high: mean.map((v) => v + 1),
});

it("draws a curve from its lowest to its highest, broken where nothing was heard", () => {
  const found = drawn(curve([0, 100, 200, 300, 900, 1000], [1, 5, 9, 5, 5, 9]), 100, 50);
  expect([found.low, found.high]).toEqual([0, 10]);
  expect(found.line.match(/M/g)).toHaveLength(2);
  expect(found.line).toContain("M0.0 45.0L10.0 25.0L20.0 5.0L30.0 25.0");
  expect(found.band.match(/Z/g)).toHaveLength(2);
});

it("draws what hardly moves as hardly moving, one reading as a dot, and none", () => {
  const flat = drawn(curve([0, 500, 1000], [1000, 1001, 1000]), 100, 50);
  expect(flat.line).toMatch(/M0.0 25.\dL50.0 24.\dL/);
  expect(drawn(curve([500], [4]), 100, 50).line).toBe("M50.0 25.0h0.1");
  expect(drawn(curve([], []), 100, 50).line).toBe("");
});

it("says how long ago and how much", () => {
  const now = Date.parse("2026-11-26T12:00:00Z");
  const at = (s: number): string => new Date(now - s * 1000).toISOString();
  expect([8, 300, 7200, 259_200].map((s) => ago(at(s), now))).toEqual([
    "8 s ago",
    "5 min ago",
    "2 h ago",
    "3 days ago",
  ]);
  expect([ago(null, now), ago(at(-5), now)]).toEqual(["never", "0 s ago"]);
  expect(figure("temperature", 20, "F")).toBe("68 °F");
  expect([figure("power", 60.04, "C"), figure("switch", 0, "C")]).toEqual(["60 W", "off"]);
});

it("shows first what a device is known by", () => {
  const one = (quantity: string, channel = 1): LastReading =>
    ({ quantity, channel, unit: "", at: null, value: 1 }) as LastReading;
  const found = inOrder([one("energy"), one("power", 2), one("voltage"), one("power")]);
  expect(found.map((each) => `${each.quantity} ${each.channel}`)).toEqual([
    "power 1",
    "power 2",
    "energy 1",
    "voltage 1",
  ]);
});

it("asks again and again, once at a time, and not while nobody looks", async () => {
  let done: () => void = () => undefined;
  const work = vi.fn(() => new Promise<void>((resolve) => (done = resolve)));
  const end = every(10, work);
  expect(work).toHaveBeenCalledTimes(1);
  await vi.advanceTimersByTimeAsync(25_000);
  expect(work).toHaveBeenCalledTimes(1);
  done();
  await vi.advanceTimersByTimeAsync(10_000);
  expect(work).toHaveBeenCalledTimes(2);
  done();
  const hidden = vi.spyOn(document, "hidden", "get").mockReturnValue(true);
  await vi.advanceTimersByTimeAsync(30_000);
  expect(work).toHaveBeenCalledTimes(2);
  hidden.mockReturnValue(false);
  document.dispatchEvent(new Event("visibilitychange"));
  expect(work).toHaveBeenCalledTimes(3);
  done();
  end();
  await vi.advanceTimersByTimeAsync(30_000);
  expect(work).toHaveBeenCalledTimes(3);
});

it("goes on asking after it could not be answered", async () => {
  const work = vi.fn(() => Promise.reject(new Error("away")));
  const end = every(10, work);
  await vi.advanceTimersByTimeAsync(10_000);
  expect(work).toHaveBeenCalledTimes(2);
  end();
});
