import { render, screen, within } from "@testing-library/svelte";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import type { Compared, Crop, Fixture, Listing, ShelfRow, Space } from "../src/api/client";
import { garden } from "../src/api/garden.svelte";
import ClaimList from "../src/places/fixtures/ClaimList.svelte";
import Compare from "../src/places/fixtures/Compare.svelte";
import CostLines from "../src/places/fixtures/CostLines.svelte";
import { figuresOf, layoutOf } from "../src/places/fixtures/layout";
import { pieces, valueWords } from "../src/places/fixtures/listing";
import ListingReader from "../src/places/fixtures/ListingReader.svelte";
import { Picks } from "../src/places/fixtures/picks.svelte";
import { blank, bodyOf, detailWords, fromLamp, NO_DETAILS } from "../src/places/fixtures/record";
import RecordCard from "../src/places/fixtures/RecordCard.svelte";
import { sameWords, tableWords } from "../src/places/fixtures/shelftable";
import ShelfFiles from "../src/places/fixtures/ShelfFiles.svelte";
import { type Call, caught, soon } from "./replies";
import { sample } from "./sample";
import { spaces } from "../src/api/spaces.svelte";
import { crops } from "../src/api/crops.svelte";
import { fixtures } from "../src/api/fixtures.svelte";
import { user } from "./user";

const LAMP = {
  ...blank().form,
  id: 1,
  name: "Tallow Long",
  kind: "board",
  layout: { board_x_cm: 74, board_y_cm: 12 },
  ppf_umol_s: 360,
  watts: 150,
  efficacy_umol_j: 2.4,
  frame_x_cm: 76,
  frame_y_cm: 14,
  weight_kg: 2.6,
  light_source: "model",
  light_map_id: null,
  maps: [],
  pieces: [],
  photometry: null,
  light: {
    lux_per_umol: 68.04,
    red_blue: 2.5,
    far_red_share: 0.03,
    par_share: 0.97,
    highest_efficacy: 4.7,
  },
  findings: [{ check: "ppf_over_watts", trust: "good", sentence: "They agree." }],
  trust: "good",
  details: { ...NO_DETAILS, ip: "IP44", cord_cm: 180, leafy_x_cm: 120, leafy_y_cm: 60 },
  origins: { watts: "measured" },
} as unknown as Fixture;

let calls: Call[];
beforeEach(() => {
  calls = caught();
  spaces.all = [{ id: 1, currency: "€" } as Space];
  crops.all = [{ id: 2, stages: [{ id: 7, hot_spot_cap: 800 }] } as Crop];
  fixtures.all = [LAMP, { ...LAMP, id: 2, name: "Old Sodium" }];
  garden.draft = { space_id: 1, crop_id: 2 };
});
afterEach(() => {
  vi.unstubAllGlobals();
  spaces.all = [];
  crops.all = [];
  fixtures.all = [];
});

describe("the form's layouts", () => {
  it("come back as they were, or are kept when the form has no fields for them", () => {
    const bars = { bars: 4, bar_length_cm: 54, spread_cm: 48 };
    expect(layoutOf("bars", figuresOf("bars", bars) ?? {})).toEqual(bars);
    const strip = { bars: 1, bar_length_cm: 56, spread_cm: 0 };
    expect(layoutOf("strip", figuresOf("strip", strip) ?? {})).toEqual(strip);
    expect(figuresOf("bars", { bar_x_cm: [-20, 0, 30], bar_length_cm: 50 })).toBeNull();
    expect(figuresOf("bulb", { point: true })).toEqual({});
  });

  it("send a lamp back unchanged", () => {
    const body = bodyOf(fromLamp(LAMP));
    expect(body.layout).toEqual(LAMP.layout);
    expect(body.details).toEqual(LAMP.details);
    expect(body.origins).toEqual({ watts: "measured" });
    const odd = {
      ...LAMP,
      kind: "bars",
      layout: { bar_x_cm: [1, 2], bar_length_cm: 50 },
    } as Fixture;
    expect(bodyOf(fromLamp(odd)).layout).toEqual(odd.layout);
  });
});

describe("a record", () => {
  it("says how far to trust it, where figures come from, and what its light is", () => {
    render(RecordCard, { lamp: LAMP, change: vi.fn(), aside: vi.fn() });
    expect(screen.getByText("Its figures go together: plan with them.")).toBeTruthy();
    const row = screen.getByRole("row", { name: /Watts at the wall/ });
    expect(row.textContent).toContain("measured here");
    expect(screen.getByText("divide what a lux meter shows by 68.0")).toBeTruthy();
    expect(screen.getByText("IP44")).toBeTruthy();
  });

  it("puts the worst claim first, each with a word besides its sign", () => {
    const findings = (["good", "wrong", "missing", "doubt"] as const).map((trust) => ({
      check: trust,
      trust,
      sentence: `It is ${trust}.`,
    }));
    render(ClaimList, { findings, trust: "wrong" });
    const items = screen.getAllByRole("listitem").map((item) => item.textContent);
    expect(items[0]).toContain("Wrong: It is wrong.");
    expect(items.at(-1)).toContain("Agrees: It is good.");
  });

  it("words details once each, pairs together, in the grower's unit", () => {
    const details = {
      ...LAMP.details,
      ...NO_DETAILS,
      volts_low: 120,
      volts_high: 120,
      leafy_x_cm: 122,
      leafy_y_cm: 61,
    };
    const words = Object.fromEntries(detailWords(details, "in").map((d) => [d.label, d.value]));
    // 122 cm are 48 in, 61 cm are 24 in
    expect(words["Leafy growth over"]).toBe("48 in × 24 in");
    expect(words["Mains"]).toBe("120 V");
    expect(words["Protection"]).toBeUndefined();
  });
});

const TEXT = "Lamp 1000, 100 W, dimmable";
const LISTING = {
  text: TEXT,
  readings: [
    { field: "watts", state: "read", value: 100, why: "", mentions: [{ value: 100, start: 11, end: 16, words: "100 W" }] },
    { field: "dimming", state: "ask", value: null, why: "How does it dim?",
      mentions: ["stepped", "continuous"].map((value) => ({ value, start: 18, end: 26, words: "dimmable" })) },
  ],
  record: { name: "Lamp 1000", watts: 100, kind: "board", layout: { board_x_cm: 20, board_y_cm: 20 }, details: {}, origins: {} },
  light: null,
  findings: [{ check: "name_and_watts", trust: "doubt", sentence: "The number is no wattage." }],
  trust: "doubt",
} as unknown as Listing; // prettier-ignore

describe("a pasted listing", () => {
  it("is cut at the words its figures came from", () => {
    const cut = pieces(TEXT, LISTING.readings);
    expect(cut.map((piece) => piece.text).join("")).toBe(TEXT);
    expect(cut.filter((piece) => piece.of.length)).toEqual([
      { text: "100 W", of: [1] },
      { text: "dimmable", of: [2] },
    ]);
  });

  it("shows values as growers say them", () => {
    expect(valueWords("size_cm", [60, 30.48, 5], "cm")).toBe("60 cm × 30 cm × 5 cm");
    expect(valueWords("hang_cm", [45, 45], "cm")).toBe("45 cm");
    expect(valueWords("band_nm", [380, 780], "cm")).toBe("380 to 780 nm");
    expect(valueWords("cct_k", [3000, 5000], "cm")).toBe("3000, 5000 K");
    expect(valueWords("dimming", "stepped", "cm")).toBe("in steps");
  });

  it("asks what is ambiguous, reads again with the answer, and makes a lamp", async () => {
    const make = vi.fn();
    render(ListingReader, { make });
    await user.type(screen.getByRole("textbox"), TEXT);
    await user.click(screen.getByRole("button", { name: "Read it" }));
    await soon();
    calls.shift()?.reply(200, LISTING);
    await soon(30);
    expect(screen.getByText(/1 can be read in more than one way/)).toBeTruthy();
    expect(screen.getByText("The number is no wattage.")).toBeTruthy();
    await user.click(screen.getByRole("radio", { name: /in steps/ }));
    await soon();
    expect(calls[0]?.body.choices).toEqual({ dimming: 0 });
    const settled = structuredClone(LISTING);
    if (settled.readings[1]) settled.readings[1].value = "stepped";
    calls.shift()?.reply(200, settled);
    await soon(30);
    expect(screen.getByText(/Nothing is left to\s+ask/)).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "Make it a lamp on the shelf" }));
    const draft = make.mock.calls[0]?.[0] as ReturnType<typeof blank>;
    expect(draft.form.name).toBe("Lamp 1000");
    expect(draft.figures).toEqual({ board_x_cm: 20, board_y_cm: 20 });
    // what it does not say is empty, not invented
    expect(draft.form.ppf_umol_s).toBeNaN();
  });

  it("keeps the words when they cannot be read", async () => {
    render(ListingReader, { make: vi.fn() });
    await user.type(screen.getByRole("textbox"), "x");
    await user.click(screen.getByRole("button", { name: "Read it" }));
    await soon();
    calls.shift()?.reply(422, { detail: "Paste the text first.", errors: [] });
    await soon(30);
    expect(screen.getByRole("alert").textContent).toContain("Paste the text first.");
    expect((screen.getByRole("textbox") as HTMLTextAreaElement).value).toBe("x");
  });
});

describe("the shelf's files", () => {
  it("keeps nothing from a table with bad rows until told", async () => {
    render(ShelfFiles);
    const file = new File(["name,ppf_umol_s\n"], "shelf.csv");
    await user.upload(screen.getByLabelText(/Bring lamps in/), file);
    await soon(30);
    expect(calls[0]?.body).toEqual({
      content: btoa("name,ppf_umol_s\n"),
      keep: "all",
      same: "ask",
    });
    const troubles = [{ row: 3, column: "watts", sentence: "“many” is not a number." }];
    const none = { added: 0, replaced: 0, skipped: 0, same: [] };
    calls.shift()?.reply(200, { ...none, good: ["A"], troubles, ignored: [] });
    await soon(30);
    expect(screen.getByText("Nothing is kept yet.")).toBeTruthy();
    expect(screen.getByRole("row", { name: "3 watts “many” is not a number." })).toBeTruthy();
    await user.click(screen.getByRole("button", { name: /Keep the 1 lamp that/ }));
    await soon();
    expect(calls[0]?.body.keep).toBe("good");
    calls.shift()?.reply(200, { ...none, added: 1, good: ["A"], troubles, ignored: ["taste"] });
    await soon();
    calls.shift()?.reply(200, [LAMP]);
    await soon(30);
    expect(screen.getByRole("status").textContent).toContain(
      "1 lamp added to your shelf. Not known and left: taste.",
    );
  });
});

describe("the same shelf twice", () => {
  it("asks what becomes of lamps that are there, and tells what it did", async () => {
    render(ShelfFiles);
    const file = new File(["name,ppf_umol_s\n"], "shelf.csv");
    await user.upload(screen.getByLabelText(/Bring lamps in/), file);
    await soon(30);
    const read = { good: ["A", "B", "C"], same: ["A", "B"], troubles: [], ignored: [] };
    calls.shift()?.reply(200, { ...read, added: 0, replaced: 0, skipped: 0 });
    await soon(30);
    const words = "Lamps named A and B are on your shelf already. 1 lamp would be new.";
    expect(screen.getByText(words, { exact: false })).toBeTruthy();
    expect(screen.queryByRole("table")).toBeNull();
    await user.click(screen.getByRole("button", { name: "Leave mine as they are" }));
    await soon();
    expect(calls[0]?.body).toMatchObject({ keep: "all", same: "skip" });
    calls.shift()?.reply(200, { ...read, added: 1, replaced: 0, skipped: 2 });
    await soon();
    calls.shift()?.reply(200, [LAMP]);
    await soon(30);
    expect(screen.getByRole("status").textContent).toContain(
      "1 lamp added to your shelf. 2 lamps left as before.",
    );
  });

  it("names a few of many", () => {
    expect(sameWords(["A"], 1)).toBe("A lamp named A is on your shelf already. What of it?");
    expect(sameWords(["A", "B", "C", "D", "E"], 5)).toContain("A, B, C, D and E");
    expect(sameWords(["A", "B", "C", "D", "E", "F"], 6)).toContain("A, B, C, D and 2 others");
    expect(tableWords({ added: 0, replaced: 1, skipped: 0 })).toBe(
      "1 lamp given the table’s figures.",
    );
  });
});

describe("picking lamps", () => {
  it("stops at four, and counts two of a lamp apart from one", () => {
    const picks = new Picks();
    for (const id of [1, 2, 3]) picks.toggle(id);
    picks.toggle(1, 2);
    picks.toggle(9);
    expect(picks.list).toHaveLength(4);
    expect([picks.has(1), picks.has(1, 2), picks.has(9)]).toEqual([true, true, false]);
    picks.toggle(1, 2);
    expect([picks.list.length, picks.full, picks.enough]).toEqual([3, false, true]);
  });
});

const bench = sample();
const COST = {
  purchase: 150,
  energy: 300,
  replacement: 0,
  replaced: 0,
  kwh: 900,
  mol: 9000,
  total: 450,
  per_mol: 0.05,
};
const ROW = {
  fixture_id: 1, name: "Tallow Long", count: 1, refused: "", meets: true, exact: true, floor_x_cm: [30, 90], floor_y_cm: [20, 70], cannot_be: false, ppf_umol_s: 367, trust: "good", findings: [],
  pareto: false, setting: { height_cm: 40, dial_pct: 80, hours: 12 }, outcome: bench.outcome,
  relaxed: [], obstacles: [], inside_share: 0.8, reserve: 1.25, reserve_aged: 1.1, dli_aged: 13, ppfd_low: 200,
  ppfd_high: 400, floor: [[100, 300], [450, 900]], heat_btu_per_h: 512, cooling: "", price_currency: "", purchase: 150,
  cost: COST,
} as ShelfRow; // prettier-ignore
const COMPARED: Compared = {
  stage_id: 7, stage: "Flowering", dli_low: 10, dli_high: 20, currency: "€", x_cm: [30, 90], y_cm: [20, 70],
  rows: [ROW, { ...ROW, fixture_id: 2, name: "Old Sodium", refused: "", cost: { ...COST, total: 600 } }],
  cheapest: 0,
  lines: [[{ year: 0, cost: 150 }, { year: 3, cost: 450 }], [{ year: 0, cost: 0 }, { year: 3, cost: 600 }]],
  payback_years: [1.5, null],
  differences: [null, { mean: -20, largest: -80, brighter: 0, dimmer: 0.25, floor: [[0, -80], [0, 0]] }],
  notes: [{ code: "maps.none", figures: { name: "Old Sodium" } }],
}; // prettier-ignore

describe("lamps side by side", () => {
  it("answers first, then figures, payback, differences and what to know of maps", async () => {
    const lamps = [1, 2].map((fixture_id) => ({ fixture_id, count: 1 as const }));
    render(Compare, { runId: 5, lamps, use: vi.fn() });
    await soon();
    calls.shift()?.reply(200, COMPARED);
    await soon(30);
    await user.selectOptions(screen.getByLabelText("The lamp there now"), "1");
    await user.click(screen.getByRole("button", { name: "Compare again" }));
    await soon();
    expect(calls[0]?.body).toMatchObject({ present: 1, lamps, years: 3 });
    calls.shift()?.reply(200, COMPARED);
    await soon(30);
    const answer = screen.getByText(/does the job at/).textContent?.replace(/\s+/g, " ");
    expect(answer).toContain(
      "Of these, Tallow Long does the job at Flowering for the least over 3 years, €450.00",
    );
    const paid = within(screen.getByRole("row", { name: /^Pays back/ }));
    expect(paid.getByText("after 1.5 years")).toBeTruthy();
    expect(paid.getByText("the lamp there now")).toBeTruthy();
    expect(screen.getByText(/−20 on average, −80 at most/)).toBeTruthy();
    expect(screen.getByText("Old Sodium comes without a map or a mean.")).toBeTruthy();
    // what is alike is folded away, what differs stands first
    const heads = (): (string | null)[] =>
      screen.getAllByRole("rowheader").map((head) => head.textContent);
    const before = heads();
    expect(before).toContain("In all");
    expect(before).not.toContain("Weight of one");
    await user.click(screen.getByRole("button", { name: /^Show \d+ figures alike/ }));
    expect(heads().indexOf("Weight of one")).toBeGreaterThan(heads().indexOf("In all"));
    expect(screen.getByText(/^Not said of any: /)).toBeTruthy();
  });

  it("puts one and two of a lamp side by side, whatever is said twice", async () => {
    const lamps = [1, 2].map((count) => ({ fixture_id: 1, count: count as 1 | 2 }));
    render(Compare, { runId: 5, lamps, use: vi.fn() });
    await soon();
    const note = { code: "maps.none", figures: { name: "Tallow Long" } };
    calls.shift()?.reply(200, { ...COMPARED, notes: [note, note] });
    await soon(30);
    expect(screen.getAllByText("Tallow Long comes without a map or a mean.")).toHaveLength(2);
  });

  it("draws costs with their crossing, told apart by dash", () => {
    const { container } = render(CostLines, {
      names: ["New", "Old"],
      lines: COMPARED.lines,
      payback: COMPARED.payback_years,
      currency: "€",
    });
    expect(screen.getByRole("img").getAttribute("aria-label")).toContain(
      "New ends at €450.00; Old ends at €600.00",
    );
    expect(container.querySelectorAll("circle")).toHaveLength(1);
    const dashes = [...container.querySelectorAll("polyline")].map((l) =>
      l.getAttribute("stroke-dasharray"),
    );
    expect(new Set(dashes).size).toBe(2);
  });
});
