import { render, screen } from "@testing-library/svelte";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import type { Crop, Fixture, ShelfAnswer, ShelfRow, Space } from "../src/api/client";
import { garden } from "../src/api/garden.svelte";
import MiniFloor from "../src/parts/floor/MiniFloor.svelte";
import { Picks } from "../src/places/fixtures/picks.svelte";
import { agedWords, reserveWords, shortReason, unequalLight } from "../src/words/reasons";
import Ranking from "../src/places/fixtures/Ranking.svelte";
import { type Call, caught, soon } from "./replies";
import { sample } from "./sample";
import { spaces } from "../src/api/spaces.svelte";
import { crops } from "../src/api/crops.svelte";
import { fixtures } from "../src/api/fixtures.svelte";
import { user } from "./user";

const bench = sample();
function row(change: Partial<ShelfRow> = {}): ShelfRow {
  return {
    fixture_id: 1,
    name: "Tallow Long",
    count: 1,
    refused: "",
    meets: true,
    exact: true,
    cannot_be: false,
    ppf_umol_s: 367,
    trust: "good",
    findings: [],
    pareto: true,
    setting: { height_cm: 40, dial_pct: 80, hours: 12 },
    outcome: bench.outcome,
    relaxed: [],
    obstacles: [],
    inside_share: 0.8,
    reserve: 1.25,
    reserve_aged: 1.1,
    dli_aged: 13,
    heat_btu_per_h: 512,
    cooling: "still",
    price_currency: "",
    purchase: 150,
    ppfd_low: 200,
    ppfd_high: 400,
    floor_x_cm: [30, 90],
    floor_y_cm: [20, 70],
    floor: [
      [100, 300],
      [450, 900],
    ],
    cost: {
      purchase: 150,
      energy: 611,
      replacement: 0,
      replaced: 0,
      kwh: 1971,
      mol: 14000,
      total: 761,
      per_mol: 0.054,
    },
    ...change,
  };
}
const SHELF: ShelfAnswer = {
  stage_id: 7,
  stage: "Flowering",
  dli_low: 10,
  dli_high: 20,
  currency: "€",
  x_cm: [30, 90],
  y_cm: [20, 70],
  rows: [
    row(),
    row({
      fixture_id: 2,
      name: "Weakling 600",
      meets: false,
      pareto: false,
      trust: "doubt",
      findings: [
        { check: "name_and_watts", trust: "doubt", sentence: "The number is no wattage." },
      ],
      obstacles: [
        { name: "dli_low", best: 4, asked: 10, change: "stronger_lamp", amount: 1.5, reach: 4 },
      ],
      cost: null,
    }),
    row({ fixture_id: 3, name: "Giant", meets: false, refused: "It does not go in.", setting: null,
          outcome: null, floor: [], cost: null }), // prettier-ignore
  ],
};

let calls: Call[];
beforeEach(() => {
  calls = caught();
  spaces.all = [{ id: 1, currency: "€" } as Space];
  crops.all = [{ id: 2, stages: [{ id: 7, hot_spot_cap: 800 }] } as Crop];
  garden.draft = { space_id: 1, crop_id: 2 };
});
afterEach(() => {
  vi.unstubAllGlobals();
  spaces.all = [];
  crops.all = [];
});

async function ranked(use = vi.fn()): Promise<typeof use> {
  render(Ranking, { runId: 5, picks: new Picks(), use });
  await soon();
  calls.shift()?.reply(200, SHELF);
  await soon(30);
  return use;
}

describe("what is said of light", () => {
  it("tells when two lamps are not compared at equal light", () => {
    expect(unequalLight(14.9, 3.7)).toBe("; not for equal light: 14.9 mol a day against 3.7");
    expect(unequalLight(12, 12.5)).toBe("");
    expect(unequalLight(undefined, 12)).toBe("");
    expect(unequalLight(12, 0)).toBe("");
  });

  it("tells what a lamp can spare, new and old, and when it no longer does the job", () => {
    expect(reserveWords(1.07, 0.97)).toBe("7 % to spare new, 3 % below plan when old");
    expect(reserveWords(1, 1)).toBe("nothing to spare, new and aged");
    const row = { meets: false, dli_aged: 11.5, obstacles: [], outcome: {} };
    expect(agedWords(row, 12)).toBe(
      "Meets every target new; at the end of its years 11.5 mol of the 12 wanted.",
    );
    expect(agedWords({ ...row, meets: true }, 12)).toBe("");
    expect(agedWords({ ...row, obstacles: [1] }, 12)).toBe("");
  });
});

describe("the ranked shelf", () => {
  it("answers first, then says of each what it costs or what is in its way", async () => {
    const use = await ranked();
    expect(screen.getByText(/does\s+the job here/).textContent?.replace(/\s+/g, " ")).toContain(
      "1 does the job here. Cheapest over 3 years: Tallow Long, 40 cm up, dial 80, 12 h, €761.00",
    );
    const [, first, second, third] = screen.getAllByRole("row");
    expect(first?.textContent).toContain("25 % to spare new, 10 % to spare when old");
    expect(first?.textContent).toContain("none gives more for less");
    // one short reason a row, the rest a tap away
    expect(second?.textContent).toContain("✕ too dim: DLI 4 of 10; claims in doubt");
    expect(second?.textContent).not.toContain("The number is no wattage.");
    expect(second?.textContent).toContain("no price given");
    expect(third?.textContent).toContain("✕ kept out");
    await user.click(screen.getByRole("button", { name: "More of Weakling 600" }));
    expect(screen.getByText("The number is no wattage.")).toBeTruthy();
    expect(screen.getByText(/a lamp with 2.5 times the light would do/)).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "More of Giant" }));
    expect(screen.getByText("It does not go in.")).toBeTruthy();
    // where nothing more is to say the button is there for the phone's folded figures only
    const more = screen.getByRole("button", { name: "More of Tallow Long" });
    expect(more.classList.contains("sm:hidden")).toBe(true);
    // what does not go in cannot be used
    expect(screen.getAllByRole("button", { name: /^Use it/ })).toHaveLength(2);
    await user.click(screen.getByRole("button", { name: "Use it: Tallow Long" }));
    expect(use).toHaveBeenCalledWith(1);
  });

  it("asks again only when told, with the limits given", async () => {
    await ranked();
    await user.type(screen.getByLabelText("Budget (€)"), "300");
    await soon();
    expect(calls).toHaveLength(0);
    await user.click(screen.getByRole("button", { name: "Rank again" }));
    await soon();
    expect(calls[0]?.body).toMatchObject({ budget: 300, circuit_w: null, counts: [1], years: 3 });
  });

  it("keeps the old ranking when a limit is refused, and says which", async () => {
    await ranked();
    await user.click(screen.getByRole("button", { name: "Rank again" }));
    await soon();
    calls.shift()?.reply(422, {
      detail: "Not kept.",
      errors: [{ field: "years", sentence: "Years has to be more than 0." }],
    });
    await soon(30);
    expect(screen.getByRole("alert").textContent).toContain("more than 0");
    expect(screen.getByRole("button", { name: "Use it: Tallow Long" })).toBeTruthy();
  });
});

describe("one short reason", () => {
  const plain = row();
  it.each([
    [{}, "✓ meets every target, new and old"],
    [{ refused: "Too wide.", meets: false }, "✕ kept out"],
    [{ cannot_be: true }, "✕ its claims cannot be"],
    [{ meets: false, dli_aged: 9.4 }, "✕ too dim when old: DLI 9.4 of 10"],
  ])("is said of each row: %j", (change, words) => {
    expect(shortReason({ ...plain, ...change }, 10)).toBe(words);
  });
  it.each([
    ["hot_spot_cap", 905, 800, "a spot too bright: 905, cap 800"],
    ["evenness", 0.604, 0.61, "uneven: 0.6 of the mean, 0.61 wanted"],
    ["dli_low", 8, 12, "too dim: DLI 8 of 12"],
    ["dli_high", 24.2, 20, "too much: DLI 24.2, 20 at most"],
    ["ppfd_low", 180, 250, "too dim: mean 180 of 250"],
    ["ppfd_high", 460, 400, "too bright: mean 460, 400 at most"],
  ] as const)("says what stands in the way: %s", (name, best, asked, words) => {
    const one = { name, best, asked, change: "other_lamp", amount: 0, reach: 0 } as const;
    expect(shortReason({ ...plain, meets: false, obstacles: [one] }, 10)).toBe(`✕ ${words}`);
    const two = { ...plain, meets: false, obstacles: [one, one] };
    expect(shortReason(two, 10)).toBe(`✕ ${words} and 1 more`);
  });
});

describe("of several reasons", () => {
  it("the one that is missed by most is said", () => {
    const change = { change: "other_lamp", amount: 0, reach: 0 } as const;
    const obstacles = [
      { name: "evenness", best: 0.52, asked: 0.6, ...change } as const,
      { name: "dli_low", best: 0.9, asked: 10, ...change } as const,
    ];
    expect(shortReason({ ...row(), meets: false, obstacles }, 10)).toBe(
      "✕ too dim: DLI 0.9 of 10 and 1 more",
    );
  });
});

describe("a short shelf", () => {
  it("shows each lamp as it hangs, and the order once all do", async () => {
    fixtures.all = Array.from({ length: 5 }, (_, id) => ({ id }) as Fixture);
    render(Ranking, { runId: 5, picks: new Picks(), use: vi.fn() });
    await soon();
    expect((calls[0]?.body.fixture_ids as number[]).length).toBe(3);
    calls.shift()?.reply(200, { ...SHELF, rows: [row({ fixture_id: 9, name: "Early" })] });
    await soon(30);
    expect(screen.getByText(/in order once all do/)).toBeTruthy();
    expect(screen.getByText("Early")).toBeTruthy();
    expect(screen.queryByText("none gives more for less")).toBeNull();
    expect(screen.getByRole("status").textContent).toContain("3 of 5");
    // the others are soon there, so all are asked for
    expect((calls[0]?.body.fixture_ids as number[]).length).toBe(5);
    calls.shift()?.reply(200, SHELF);
    await soon(30);
    expect(screen.queryByText("Early")).toBeNull();
    expect(screen.getByText(/does\s+the job here/)).toBeTruthy();
    fixtures.all = [];
  });
});

describe("a long shelf", () => {
  const asked = (): number => (calls[0]?.body.fixture_ids as number[]).length;
  async function replied(): Promise<void> {
    calls.shift()?.reply(200, SHELF);
    await soon(30);
  }
  /** Every part takes so long, by the clock. */
  function taking(ms: number): void {
    let now = 0;
    vi.spyOn(performance, "now").mockImplementation(() => (now += ms));
  }
  beforeEach(() => {
    fixtures.all = Array.from({ length: 60 }, (_, id) => ({ id }) as Fixture);
  });
  afterEach(() => {
    fixtures.all = [];
    vi.restoreAllMocks();
  });

  it("is asked for in parts, tells how far it is, and can be stopped", async () => {
    taking(900);
    render(Ranking, { runId: 5, picks: new Picks(), use: vi.fn() });
    await soon();
    expect(asked()).toBe(12);
    await replied();
    expect(screen.getByRole("status").textContent).toContain("12 of 60");
    // 75 ms each: twice as many take less than two seconds, all the others do not
    expect(asked()).toBe(24);
    await user.click(screen.getByRole("button", { name: "Stop here" }));
    await replied();
    // what was hung so far is ranked in the end, and there is nothing left to stop
    expect(asked()).toBe(36);
    expect(screen.queryByRole("button", { name: "Stop here" })).toBeNull();
    expect(screen.getByRole("status").textContent).toContain("36 of 60");
    await replied();
    expect(screen.getByText(/Stopped: 3 ranked, not all/)).toBeTruthy();
  });

  it.each([
    ["no more at once while they take long", 1500, [12, 12, 12, 12, 60]],
    ["all the others once they are soon there", 400, [12, 60]],
  ])("is asked for %s", async (_, ms, parts) => {
    taking(ms);
    render(Ranking, { runId: 5, picks: new Picks(), use: vi.fn() });
    await soon();
    for (const count of parts) {
      expect(asked()).toBe(count);
      await replied();
    }
    expect(calls).toHaveLength(0);
    expect(screen.queryByText(/not all/)).toBeNull();
  });
});

describe("a small floor", () => {
  it("tells those who hear it how much lies short, inside and above", () => {
    render(MiniFloor, { row: row(), x: [30, 90], y: [20, 70], cap: 800 });
    const floor = screen.getByRole("img");
    // of four spots one is short of 200, one inside, one above 400 and one over the cap
    expect(floor.getAttribute("aria-label")).toBe("Its floor: 25 % short, 25 % inside, 50 % above");
    const drawn = (what: string): number =>
      floor.querySelector(`.${what}`)?.getAttribute("d")?.match(/M/g)?.length ?? 0;
    expect(["short", "mark", "inside", "above", "over", "dot"].map(drawn)).toEqual([
      1, 1, 1, 1, 1, 2,
    ]);
  });
});
