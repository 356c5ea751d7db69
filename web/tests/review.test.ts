import { render, screen } from "@testing-library/svelte";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import type { Brought, Drift, Review } from "../src/api/client";
import ArchiveIn from "../src/places/account/ArchiveIn.svelte";
import DriftCard from "../src/places/review/DriftCard.svelte";
import GivenPicture from "../src/places/review/GivenPicture.svelte";
import StageSums from "../src/places/review/StageSums.svelte";
import { besideRows, costRows, price } from "../src/places/review/sums";
import Taught from "../src/places/review/Taught.svelte";
import { broughtWords } from "../src/words/archive";
import { entryWords } from "../src/words/log";
import { caught, soon } from "./replies";
import { user } from "./user";

const SUMS: Review["whole"] = {
  first_day: 0,
  days: 3,
  known_days: 3,
  inside_days: 1,
  below_days: 1,
  above_days: 1,
  planned_dli: 12,
  dli: 11.5,
  dli_low: 10.4,
  dli_high: 12.6,
  mol_m2: 34.5,
  planned_kwh: 3.6,
  planned_cost: 1.08,
  kwh: 3.2,
  cost: 0.96,
  metered_days: 2,
  planned_trips: 1,
  moves: 2,
};
const day = (on: string, dli: number, more = {}): Review["days"][number] => ({
  on,
  stage: 0,
  planned_dli: 12,
  known: true,
  dli,
  low: dli - 1,
  high: dli + 1,
  ...more,
});
const REVIEW: Review = {
  run_id: 3,
  over: true,
  begun_on: "2026-09-01",
  last_on: "2026-09-03",
  currency: "€",
  days: [day("2026-09-01", 8), day("2026-09-02", 12), day("2026-09-03", 18)],
  stages: [
    {
      stage_id: 1,
      name: "Picking",
      dli_low: 10,
      dli_high: 16,
      planned_days: 5,
      sums: SUMS,
      grown: { days: 3, plant_start_cm: 4, plant_end_cm: 9.5 },
      planned_start_cm: 4,
      planned_end_cm: 18,
      done: true,
    },
  ],
  whole: SUMS,
  shares: {
    kwh_a_plant: 0.4,
    cost_a_plant: 0.12,
    kwh_a_unit: 0.01,
    cost_a_unit: 0.003,
    units_a_kwh: 100,
    units_a_mol: 9,
    cost_a_mol: 0.028,
    carbon_kg: null,
  },
  plants: 8,
  harvest: 320,
  harvest_unit: "g",
  ended_how: "harvested",
  signs: [
    {
      on: "2026-09-02",
      values: { what: "pale", part: "lower leaves" },
      tried: "dial 60",
      tried_on: "2026-09-02",
      outcome: "better",
      outcome_text: "greener",
    },
  ],
  fits: [{ id: 1, read_on: "2026-09-01", readings: 5, lines: [] }],
  taught: [{ code: "review.lamp", figures: { share: 0.91, low: 0.82, high: 1.02 } }],
  differs: true,
  lines: [],
};
const DRIFT: Drift = {
  walks: [
    { on: "2026-08-01", share: 1, readings: 5 },
    { on: "2026-11-01", share: 0.93, readings: 5 },
  ],
  course: [
    { on: "2026-08-01", low: 1, middle: 1, high: 1 },
    { on: "2026-11-01", low: 0.91, middle: 0.93, high: 0.96 },
  ],
  lines: [{ code: "drift.left", figures: { share: 0.93, low: 0.91, high: 0.96, days: 92 } }],
  causes: [
    {
      code: "dirt",
      name: { code: "drift.cause_dirt", figures: {} },
      likelihood: 0.84,
      do: { code: "drift.do_dirt", figures: {} },
    },
  ],
  left_out: 1,
  lost: true,
};

beforeEach(() => vi.useFakeTimers());
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe("a run's sums", () => {
  it("writes a small price with as many decimals as it takes", () => {
    expect(price(0.0032, "€")).toBe("€0.0032");
    expect(price(0.028, "kr")).toBe("0.028 kr");
    expect(price(1.2, "€")).toBe("€1.20");
    expect([price(null, "€"), price(0, "€")]).toEqual(["–", "€0.00"]);
  });

  it("tells costs by what there was of it, and nothing nobody said", () => {
    const labels = costRows(REVIEW).map((row) => row.label);
    expect(labels).toEqual([
      "A plant, of 8",
      "A g of 320 harvested",
      "Harvest for a kWh",
      "A mol on the canopy",
    ]);
    const none = { ...REVIEW.shares, cost_a_plant: null, cost_a_unit: null, units_a_kwh: null };
    expect(costRows({ ...REVIEW, shares: none }).map((row) => row.label)).toEqual([
      "A mol on the canopy",
    ]);
  });

  it("puts two runs into the same rows", () => {
    const other = { ...REVIEW, harvest: null, harvest_unit: "" as const };
    expect(besideRows(other).map((row) => row.label)).toEqual(
      besideRows(REVIEW).map((row) => row.label),
    );
    expect(besideRows(other).find((row) => row.label === "Harvest")?.value).toBe("–");
  });

  it("stands stage by stage, planned beside given", () => {
    render(StageSums, { review: REVIEW });
    const row = screen.getByRole("row", { name: /^Picking/ });
    for (const cell of [
      "3 of 5",
      "12",
      "11.5 (10.4–12.6)",
      "1 of 3",
      "3.6 kWh",
      "3.2 kWh",
      "1 / 2",
    ])
      expect(row.textContent).toContain(cell);
    expect(screen.getByText(/of 2 of 3 days by the meter/)).toBeTruthy();
    // one stage alone is the whole
    expect(screen.queryByRole("row", { name: /In all/ })).toBeNull();
  });

  it("draws days short of the band and above it otherwise than those inside", () => {
    const { container } = render(GivenPicture, { review: REVIEW });
    const kinds = [...container.querySelectorAll("rect.day")].map((bar) => bar.classList[1]);
    expect(kinds).toEqual(["short", "inside", "above"]);
  });

  it("breaks the plan's line where it had no day", () => {
    const days = REVIEW.days.map((each, i) => (i === 1 ? { ...each, planned_dli: null } : each));
    const { container } = render(GivenPicture, { review: { ...REVIEW, days } });
    expect(container.querySelector("path.plan")?.getAttribute("d")?.match(/M/g)).toHaveLength(2);
  });

  it("says what plants showed, what was tried and what came of it", () => {
    render(Taught, { review: REVIEW });
    expect(screen.getByText(/lower leaves pale/)).toBeTruthy();
    expect(screen.getByText(/Tried on 2 Sep 2026: dial 60; it was better, greener\./)).toBeTruthy();
    expect(screen.getByText(/The lamp gives 91 % of its record/)).toBeTruthy();
    expect(screen.getByText(/Plants ended 10 cm tall/)).toBeTruthy();
  });
});

describe("what was lost", () => {
  it("is told with its causes, how likely, and what to do", async () => {
    const calls = caught();
    render(DriftCard, { runId: 3 });
    expect(screen.getByRole("status")).toBeTruthy();
    await soon();
    calls[0]?.reply(200, DRIFT);
    await soon();
    expect(screen.getByText(/93 % of the light is left after 92 days/)).toBeTruthy();
    expect(screen.getByRole("listitem").textContent).toMatch(/Dust on the lamp\s+84 %/);
    expect(screen.getByText(/1 walk is of another tent/)).toBeTruthy();
  });

  it("of one walk is nothing, and says so", async () => {
    const calls = caught();
    render(DriftCard, { runId: 3 });
    await soon();
    const lines = [{ code: "drift.one_walk", figures: {} }];
    calls[0]?.reply(200, { ...DRIFT, walks: [], course: [], causes: [], lines });
    await soon();
    expect(screen.getByText(/One walk so far/)).toBeTruthy();
    expect(screen.queryByRole("img")).toBeNull();
    expect(screen.getByRole("button", { name: "To the readings" })).toBeTruthy();
  });

  it("and a lamp that was wiped are words in the log", () => {
    const entry = { kind: "cleaned" as const, values: { what: "both" }, text: "" };
    expect(entryWords(entry, {}, "cm", "C")).toBe("lamp and lining");
  });
});

const TOLD: Brought = {
  new: { runs: 1, entries: 12, readings: 5, stages: 3 },
  later: { fixtures: 2 },
  kept: { spaces: 1 },
  ignored: [],
  done: false,
};

describe("an archive on its way in", () => {
  it("is told in words a grower knows", () => {
    expect(broughtWords(TOLD)).toEqual({
      new: "Would come in: 1 plan or run, 12 entries of the log, 5 readings of devices and their sums.",
      later: "Would be taken over as changed since: 2 lamps.",
      kept: "Here already: 1 space.",
      ignored: "",
    });
    expect(broughtWords({ ...TOLD, new: {}, later: {} }).new).toBe("All of it is here already.");
    expect(broughtWords({ ...TOLD, ignored: ["notes.txt"] }).ignored).toContain("notes.txt");
  });

  it("is sent, tried, and brought in only when that is wished", async () => {
    const asked: string[] = [];
    vi.stubGlobal("fetch", (request: Request) => {
      const { pathname, search } = new URL(request.url);
      asked.push(pathname.replace(/[0-9a-f-]{36}/, "KEY") + search);
      const told = { ...TOLD, done: search.includes("true") };
      const sent = pathname.endsWith("/bring") ? told : { bytes: 3 };
      // what is loaded anew afterwards is empty
      const others = pathname.endsWith("/session") ? { grower: null } : [];
      const body = pathname.includes("/archive") ? sent : others;
      return Promise.resolve(Response.json(body));
    });
    render(ArchiveIn);
    const file = new File(["zip"], "mine.canopy.zip", { type: "application/zip" });
    await user.upload(screen.getByLabelText(/An archive/), file);
    await soon(50);
    expect(asked).toEqual([
      "/api/archive/arriving/KEY?at=0",
      "/api/archive/arriving/KEY/bring?really=false",
    ]);
    await user.click(screen.getByRole("button", { name: "Bring it in" }));
    await soon(50);
    expect(asked[2]).toBe("/api/archive/arriving/KEY/bring?really=true");
    expect(screen.getByText(/Done: nothing of what was here was lost/)).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Bring it in" })).toBeNull();
  });
});
