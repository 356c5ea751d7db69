import { render, screen } from "@testing-library/svelte";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import type { Device, FitFound, FitsHere } from "../src/api/client";
import { devices } from "../src/api/devices.svelte";
import DialWalk from "../src/places/fixtures/DialWalk.svelte";
import ChangeTried from "../src/places/readings/ChangeTried.svelte";
import DeviceFill from "../src/places/readings/DeviceFill.svelte";
import FitHistory from "../src/places/readings/FitHistory.svelte";
import FitMap from "../src/places/readings/FitMap.svelte";
import FitSaid from "../src/places/readings/FitSaid.svelte";
import NumberPad from "../src/places/readings/NumberPad.svelte";
import { FIVE, spotsOf } from "../src/places/readings/spots";
import { Walk } from "../src/places/readings/walk.svelte";
import WalkFloor from "../src/places/readings/WalkFloor.svelte";
import WarmUp from "../src/places/readings/WarmUp.svelte";
import { type Call, caught, soon } from "./replies";
import { user } from "./user";

const around = (middle: number) => ({ low: middle * 0.9, middle, high: middle * 1.1 });
const figure = (planned: number, middle: number) => ({
  planned,
  true: around(middle),
  read: around(middle * 0.98),
});
const residual = (off: number, x_cm = 60) => ({
  x_cm,
  y_cm: 45,
  height_cm: 45,
  dial_pct: 90,
  reading: 340 * (1 + off),
  measured: 340 * (1 + off),
  fitted: 340,
  off,
  outlier: Math.abs(off) > 0.3,
});
const next = { x_cm: 20, y_cm: 30, height_cm: 65, now: 0.12, then: 0.08, enough: false };

function found(change: Partial<FitFound> = {}): FitFound {
  return {
    read_on: "2026-11-20",
    sensor: "phone",
    sensor_sd: 0.06,
    open_read: "",
    open_now: "",
    lamps: ["Wickerlight Six"],
    width_cm: 120,
    depth_cm: 90,
    corrections: [
      {
        name: "compared",
        factor: 1.2,
        sd: 0.03,
        why: { code: "sensor.compared", figures: { times: 3, factor: 1.2 } },
        used: true,
      },
    ],
    parameters: [{ name: "lamp_scale", value: 0.93, low: 0.86, high: 1.01 }],
    findings: [],
    cannot_be: [],
    leans: [],
    notes: [],
    residuals: [residual(0.004), residual(-0.09, 8)],
    worst: 1,
    height_cm: 45,
    light_fraction: 0.89,
    x_cm: [20, 60, 100],
    y_cm: [20, 70],
    ppfd: [
      [200, 300, 210],
      [220, 330, 230],
    ],
    low: [
      [180, 280, 190],
      [200, 310, 210],
    ],
    high: [
      [220, 330, 230],
      [240, 350, 250],
    ],
    planned: [
      [250, 300, 210],
      [220, 300, 230],
    ],
    mean: figure(400, 340),
    brightest: figure(480, 420),
    dimmest: figure(260, 210),
    evenness: figure(0.7, 0.62),
    next_mean: next,
    next_brightest: { ...next, now: 0.08, then: 0.078, enough: true },
    walked: {
      height_cm: 45,
      count: 5,
      statistics: {
        mean: 300,
        area_mean: 330,
        minimum: 250,
        maximum: 412,
        min_over_max: 0.61,
        min_over_mean: 0.83,
        max_over_mean: 1.37,
        variation: 0.2,
        christiansen: 0.8,
      },
      canopy_umol_s: 356,
      efficacy: 1.74,
      captured: 0.62,
      bound: 1.11,
      wrong: null,
    },
    stages: [
      {
        name: "Leafy",
        verdict: "short",
        hours: 18,
        dli: 10.1,
        dli_low: 12,
        dli_high: 17,
        inside: 0.4,
      },
    ],
    ...change,
  };
}

describe("the pad", () => {
  it("keeps a figure typed or tapped, with a comma or a point", async () => {
    const kept: number[] = [];
    const props = {
      label: "Reading",
      keep: (v: number) => kept.push(v),
      skip: vi.fn(),
      back: null,
    };
    render(NumberPad, props);
    await user.type(screen.getByLabelText("Reading", { selector: "input" }), "41,5{Enter}");
    await user.click(screen.getByRole("button", { name: "4" }));
    await user.click(screen.getByRole("button", { name: "2" }));
    await user.click(screen.getByRole("button", { name: "Keep, next spot" }));
    expect(kept).toEqual([41.5, 42]);
  });

  it("asks once about what cannot be, and keeps it all the same", async () => {
    const keep = vi.fn();
    const doubt = (value: number): string => (value > 1000 ? "A digit too many?" : "");
    render(NumberPad, { label: "Reading", keep, skip: vi.fn(), back: null, doubt });
    const field = screen.getByLabelText("Reading", { selector: "input" });
    await user.type(field, "4120{Enter}");
    expect(screen.getByRole("alert").textContent).toBe("A digit too many?");
    expect(keep).not.toHaveBeenCalled();
    // another figure is another question
    await user.type(field, "{Backspace}{Enter}");
    expect(keep).toHaveBeenLastCalledWith(412);
    await user.type(field, "4120{Enter}{Enter}");
    expect(keep).toHaveBeenLastCalledWith(4120);
  });

  it("refuses what is no figure", async () => {
    const keep = vi.fn();
    render(NumberPad, { label: "Reading", keep, skip: vi.fn(), back: null });
    await user.type(screen.getByLabelText("Reading", { selector: "input" }), "4x{Enter}");
    expect(screen.getByText("That is no figure.")).toBeTruthy();
    expect(keep).not.toHaveBeenCalled();
  });
});

describe("the floor of a walk", () => {
  it("names every spot and what became of it", () => {
    const spots = spotsOf(FIVE, 120, 90);
    const go = vi.fn();
    const props = {
      width_cm: 120,
      depth_cm: 90,
      spots,
      at: 2,
      unit: "cm" as const,
      found: null,
      go,
    };
    render(WalkFloor, { ...props, read: [412, null] });
    const names = screen.getAllByRole("button").map((each) => each.getAttribute("aria-label"));
    expect(names[0]).toBe("Spot 1, 60 cm from the left, 45 cm from the front: 412 read");
    expect(names[1]).toContain("left out");
    expect(names[2]).toContain("to read");
    expect(names[5]).toContain("lamp 20 cm higher");
    expect(screen.getAllByRole("button")[2]?.getAttribute("aria-current")).toBe("step");
  });
});

describe("what a fit says", () => {
  it("gives the light with its range, what it is enough for, and what would help", async () => {
    const add = vi.fn();
    render(FitSaid, { found: found(), add });
    expect(screen.getByText("15 % less light than planned")).toBeTruthy();
    expect(screen.getByText(/short, even 18 h give 10.1 mol of 12–17/)).toBeTruthy();
    expect(screen.getByText(/the worst is 9 % off/)).toBeTruthy();
    expect(screen.getByText(/For the brightest spot: good enough/)).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "Add this spot" }));
    expect(add).toHaveBeenCalledWith(next);
  });

  it("lets a correction be left out while walking, not once it is kept", async () => {
    const correct = vi.fn();
    const { unmount } = render(FitSaid, { found: found(), correct });
    await user.click(screen.getByRole("checkbox"));
    expect(correct).toHaveBeenCalledWith("compared", false);
    unmount();
    render(FitSaid, { found: found() });
    expect(screen.getByRole<HTMLInputElement>("checkbox").disabled).toBe(true);
  });

  it("says what is wrong and what cannot be", () => {
    const findings = [
      {
        code: "open_side",
        line: { code: "fit.open_side", figures: { side: "front" } },
        likelihood: 0.86,
      },
    ];
    const wrong = found().walked;
    render(FitSaid, { found: found({ findings, walked: { ...wrong, efficacy: null } }) });
    expect(screen.getByText(/as if the front side were open/)).toBeTruthy();
    expect(screen.getByText("Belief 86 %.")).toBeTruthy();
    expect(screen.queryByText("of each joule at the plug")).toBeNull();
  });
});

describe("the map of a fit", () => {
  it("shows light, what it changes of the plan, and how sure it is, spot by spot", async () => {
    render(FitMap, { found: found() });
    expect(screen.getByText("330 µmol")).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "against the plan, %" }));
    const corner = screen.getByRole("button", { name: /^20 cm from the left, 20 cm/ });
    expect(corner.textContent).toBe("−20");
    await user.click(screen.getByRole("button", { name: "how sure, %" }));
    expect(corner.textContent).toBe("±10");
    await user.click(corner);
    expect(screen.getByText("200 µmol")).toBeTruthy();
  });
});

describe("what a tent is planned by", () => {
  let calls: Call[];
  beforeEach(() => {
    vi.useFakeTimers();
    calls = caught();
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });
  const here: FitsHere = {
    fits: [
      {
        id: 7,
        made_at: "2026-11-20T10:00:00Z",
        note: "read cold",
        read_on: "2026-11-20",
        readings: 5,
        sensor: "cheap",
        lamps: ["Wickerlight Six"],
        in_use: true,
      },
    ],
    in_use: 7,
    changed_since: false,
    maps: [],
    lamps: ["Wickerlight Six"],
    dials: [100, 75, 50, 25],
    width_cm: 120,
    depth_cm: 90,
    height_cm: 180,
    pot_cm: 20,
  };

  it("is changed back with one tap", async () => {
    render(FitHistory, { runId: 3, here, seen: null, see: vi.fn() });
    expect(screen.getByText(/5 readings of 2026-11-20/).textContent).toContain("in use");
    expect(screen.queryByRole("button", { name: /Plan by this/ })).toBeNull();
    await user.click(screen.getByRole("button", { name: "Plan by the record" }));
    expect(calls[0]).toMatchObject({
      url: "/api/readings/runs/3/fits/choice",
      body: { fit_id: null },
    });
  });

  it("is the record alone where no fit is in use", async () => {
    const fits = here.fits.map((row) => ({ ...row, in_use: false }));
    render(FitHistory, {
      runId: 3,
      here: { ...here, fits, in_use: null },
      seen: null,
      see: vi.fn(),
    });
    expect(screen.getByText("The lamp's record alone, in use")).toBeTruthy();
    await user.click(screen.getByRole("button", { name: /Plan by this/ }));
    expect(calls[0]?.body).toEqual({ fit_id: 7 });
  });

  it("hears what a change did, and refuses what is no figure", async () => {
    render(ChangeTried);
    const figures = screen.getAllByRole("textbox", { hidden: true });
    await user.type(figures[0] as HTMLElement, "307 167");
    await user.type(figures[1] as HTMLElement, "432; 278,5");
    await user.click(screen.getByRole("button", { name: "What did it do?", hidden: true }));
    expect(calls[0]?.body).toEqual({ before: [307, 167], after: [432, 278.5], again: null });
    const gain = { share: 0.41, low: 0.36, high: 0.46, real: true };
    const noise = { share: 0.01, low: -0.02, high: 0.04, real: false };
    calls[0]?.reply(200, { spots: [gain, noise], mean: gain, drift: 0, noise: 0.015 });
    await soon();
    expect(screen.getByText("+41 % light on the whole")).toBeTruthy();
    expect(screen.getByText(/within the noise/)).toBeTruthy();
    await user.type(figures[1] as HTMLElement, " x");
    await user.click(screen.getByRole("button", { name: "What did it do?", hidden: true }));
    expect(calls.length).toBe(1);
    expect(screen.getByRole("alert", { hidden: true }).textContent).toContain("above 0");
  });

  it("has a dial's curve by watts and light, taken for one lamp", async () => {
    const take = vi.fn();
    render(DialWalk, { positions: [50, 100], marked: true, take });
    await user.type(screen.getByLabelText("Watts, row 1 (W)"), "240");
    await user.type(screen.getByLabelText("Watts, row 2 (W)"), "90");
    await user.click(screen.getByRole("button", { name: "Work the curve out" }));
    expect(calls[0]?.body).toEqual({
      rows: [
        { position_pct: 100, watts: 240, ppfd: [null, null, null] },
        { position_pct: 50, watts: 90, ppfd: [null, null, null] },
      ],
    });
    const point = (position_pct: number, watts_fraction: number, light_fraction: number) => ({
      row: { position_pct, watts_fraction, light_fraction },
      light_low: light_fraction - 0.03,
      light_high: Math.min(light_fraction + 0.03, 1),
    });
    const points = [point(50, 0.375, 0.42222), point(100, 1, 1)];
    calls[0]?.reply(200, { points, by_light: false, by_watts: true, notes: [] });
    await soon();
    expect(screen.getByText(/By watts alone/)).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "Take this curve for this lamp" }));
    expect(take).toHaveBeenCalledWith(
      [
        { position_pct: 50, watts_fraction: 0.375, light_fraction: 0.4222 },
        { position_pct: 100, watts_fraction: 1, light_fraction: 1 },
      ],
      240,
    );
  });

  it("is read by a sensor that reports, once it has come to rest", async () => {
    vi.setSystemTime(new Date("2026-11-20T10:00:00Z"));
    const device = (value: number): Device =>
      ({
        id: 4,
        name: "Canopy sensor",
        version: 1,
        removed: false,
        series: [
          {
            quantity: "ppfd",
            channel: 1,
            unit: "umol/m2/s",
            at: new Date().toISOString(),
            value,
          },
        ],
      }) as unknown as Device;
    devices.all = [device(400)];
    const take = vi.fn();
    const hand = { space_id: 1, x_cm: 8, y_cm: 8, height_cm: 45, dial_pct: null, lit: true };
    render(DeviceFill, { here: [device(400)], lux: false, hand, take });
    for (const value of [400, 404, 402, 402]) {
      await soon(2000);
      calls.at(-1)?.reply(200, [device(value)]);
      await soon();
    }
    expect(screen.getByText(/steady to/)).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "Take 402" }));
    expect(take.mock.calls[0]?.[0]).toBeCloseTo(402, 0);
  });
});

describe("the lamp's warming up", () => {
  beforeEach(() => {
    localStorage.clear();
    vi.useFakeTimers();
  });
  afterEach(() => vi.useRealTimers());

  it("counts half an hour down, and then says nothing more of it", async () => {
    const walk = new Walk("w", 120, 90);
    render(WarmUp, { walk });
    await user.click(screen.getByRole("button", { name: "I switch it on now" }));
    await soon(61_000);
    expect(screen.getByRole("timer").textContent).toContain("28:5");
    await soon(30 * 60_000);
    expect(screen.getByText("The lamp is warm.")).toBeTruthy();
  });
});
