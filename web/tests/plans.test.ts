import { render, screen } from "@testing-library/svelte";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import type { Fixture, Run } from "../src/api/client";
import { crops } from "../src/api/crops.svelte";
import { fixtures } from "../src/api/fixtures.svelte";
import { garden } from "../src/api/garden.svelte";
import { runs } from "../src/api/runs.svelte";
import { spaces } from "../src/api/spaces.svelte";
import Nowhere from "../src/app/Nowhere.svelte";
import { PLACES, titleOf } from "../src/app/places";
import { notice } from "../src/parts/notice.svelte";
import PlanMenu from "../src/parts/plan/PlanMenu.svelte";
import PlanStrip from "../src/parts/plan/PlanStrip.svelte";
import Pieces from "../src/places/fixtures/Pieces.svelte";
import History from "../src/places/season/History.svelte";
import { type Call, caught, soon } from "./replies";
import { user } from "./user";

const RUN = {
  id: 5, version: 3, name: "", copied_from_id: null, removed: false, ended_how: "", harvest: null, harvest_unit: "", space_id: 1, fixture_id: 2, crop_id: 3,
  stage_id: 12, over_cap: false, aim: "middle", started_on: "2026-09-01", on_wish: "fixed", on_minute: 360,
  rise_pct: 15, shift_days: 1, lift_cm: 5, gap_days: 7, beyond_maker: false, plants: null, begun_on: null, ended_on: null, lived: [],
} as Run; // prettier-ignore
const BEGUN: Run = {
  ...RUN,
  begun_on: "2026-09-01",
  lived: [
    { stage_id: 11, name: "Leafy", began_on: "2026-09-01", ended_on: "2026-09-20" },
    { stage_id: 12, name: "Flowering", began_on: "2026-09-20", ended_on: null },
    { stage_id: 13, name: "Ripening", began_on: null, ended_on: null },
  ],
};
let calls: Call[];
const answer = async (status: number, body: unknown): Promise<Call | undefined> => {
  await soon();
  const call = calls.shift();
  call?.reply(status, body);
  await soon();
  return call;
};
beforeEach(() => {
  calls = caught();
  spaces.all = [{ id: 1, version: 1, name: "Box room tent" }] as never;
  crops.all = [{ id: 3, version: 1, name: "Chrysanthemums", stages: [] }] as never;
  fixtures.all = [{ id: 2, version: 1, name: "Wickerlight Six" }] as never;
  runs.all = [RUN];
  garden.openPlan(5);
  notice.clear();
});
afterEach(() => vi.unstubAllGlobals());

describe("a plan's menu", () => {
  const menu = (run: Run): void => void render(PlanMenu, { run, close: () => undefined });

  it("begins a plan on a day, and says what that means", async () => {
    menu(RUN);
    expect(screen.getByText(/stands on a copy of its own/)).toBeTruthy();
    await user.type(screen.getByLabelText("On"), "2026-09-01");
    await user.click(screen.getByRole("button", { name: "Begin the run" }));
    const call = await answer(200, { ...BEGUN, version: 4 });
    expect([call?.method, call?.url, call?.body]).toEqual([
      "PUT",
      "/api/runs/5/begin",
      { on: "2026-09-01" },
    ]);
    expect(runs.of(5)?.begun_on).toBe("2026-09-01");
  });

  it("says why it cannot begin, and nothing is lost", async () => {
    menu(RUN);
    await user.click(screen.getByRole("button", { name: "Begin the run" }));
    await answer(422, {
      detail: "That day is still to come.",
      errors: [{ field: "on", sentence: "That day is still to come." }],
    });
    expect(screen.getAllByText("That day is still to come.").length).toBe(1);
    expect(runs.of(5)?.begun_on).toBeNull();
  });

  it("lets the next stage begin, the run end, and takes back what was a mistake", async () => {
    menu(BEGUN);
    expect(screen.getByText(/in Flowering since 20 Sep 2026/)).toBeTruthy();
    for (const [name, method, url] of [
      ["Ripening begins", "PUT", "/api/runs/5/stages/13/begin"],
      ["Flowering has not begun", "DELETE", "/api/runs/5/stages/12/begin"],
    ] as const) {
      await user.click(screen.getByRole("button", { name }));
      const call = await answer(200, BEGUN);
      expect([call?.method, call?.url]).toEqual([method, url]);
    }
  });

  it("ends a run with how and how much, and plans it anew by another plan of its crop", async () => {
    runs.all = [BEGUN, { ...RUN, id: 8, name: "Brighter" }];
    menu(BEGUN);
    await user.click(screen.getByRole("button", { name: "Plan anew…" }));
    await user.selectOptions(screen.getByLabelText("By"), "Brighter");
    await user.click(screen.getByRole("button", { name: "Plan anew" }));
    const anew = await answer(200, BEGUN);
    expect([anew?.method, anew?.url, anew?.body.by_id]).toEqual(["PUT", "/api/runs/5/plans", 8]);
    await user.click(screen.getByRole("button", { name: "The run ends…" }));
    await user.type(screen.getByLabelText("Harvest, if wanted"), "1400");
    await user.click(screen.getByRole("button", { name: "Let it end" }));
    const ended = await answer(200, { ...BEGUN, ended_on: "2026-11-01" });
    expect(ended?.url).toBe("/api/runs/5/end");
    expect(ended?.body).toMatchObject({ how: "harvested", harvest: 1400, unit: "g" });
  });

  it("of one that was given up says so, and of one that was harvested how much", () => {
    menu({
      ...BEGUN,
      ended_on: "2026-11-01",
      ended_how: "harvested",
      harvest: 22.5,
      harvest_unit: "g",
    });
    expect(screen.getByText("Ended on 1 Nov 2026, 22.5 g harvested.")).toBeTruthy();
    menu({ ...BEGUN, ended_on: "2026-11-02", ended_how: "given_up" });
    expect(screen.getByText("Given up on 2 Nov 2026.")).toBeTruthy();
  });

  it("of one that has ended only lets it go on", () => {
    menu({ ...BEGUN, ended_on: "2026-11-01" });
    expect(screen.getByText("Ended on 1 Nov 2026.")).toBeTruthy();
    expect(screen.getByRole("button", { name: "It goes on" })).toBeTruthy();
    expect(screen.queryByRole("button", { name: /begins/ })).toBeNull();
  });

  it("copies it and opens the copy", async () => {
    menu(RUN);
    await user.click(screen.getByRole("button", { name: "Copy to a new plan" }));
    const call = await answer(201, { ...RUN, id: 6, name: "Copied", copied_from_id: 5 });
    expect(call?.body).toEqual({
      name: "Box room tent · Chrysanthemums (copy)",
      own_space: false,
      space_name: "",
      lining: "",
    });
    expect([garden.runId, runs.all.map((run) => run.id)]).toEqual([6, [6, 5]]);
  });

  it("copies it with its space, and knows the new one", async () => {
    menu(RUN);
    await user.click(screen.getByRole("button", { name: "Copy, with its space" }));
    const call = await answer(201, { ...RUN, id: 6, space_id: 99, copied_from_id: 5 });
    expect(call?.body).toMatchObject({ own_space: true });
    // the space that the copy stands in is asked for before it is shown
    expect(garden.runId).toBe(5);
  });

  it("puts it away, and one press brings it back", async () => {
    menu(RUN);
    await user.click(screen.getByRole("button", { name: "Put it away" }));
    await answer(200, { ...RUN, removed: true });
    expect([garden.runId, runs.away.length]).toEqual([null, 1]);
    expect(notice.sentence).toContain("is put away");
    const back = notice.undo?.();
    await answer(200, RUN);
    await back;
    expect(garden.runId).toBe(5);
  });
});

describe("the plan's row", () => {
  it("calls plans by their names, and marks those that run", () => {
    runs.all = [
      { ...BEGUN, name: "Autumn show" },
      { ...RUN, id: 6 },
    ];
    render(PlanStrip);
    const plans = screen.getByLabelText<HTMLSelectElement>("Plan");
    expect([...plans.options].map((option) => option.text)).toEqual([
      "Autumn show (running)",
      "Box room tent · Chrysanthemums",
    ]);
    // a begun run stands on its own copy: nothing else can be put into it
    for (const label of ["Space", "Crop", "Lamp"])
      expect(screen.getByLabelText<HTMLSelectElement>(label).disabled).toBe(true);
  });

  it("still offers what was put away where it is in use", () => {
    spaces.all = [
      { id: 1, version: 1, name: "Box room tent", removed: true },
      { id: 7, version: 1, name: "Old tent", removed: true },
    ] as never;
    render(PlanStrip);
    const offered = screen.getByLabelText<HTMLSelectElement>("Space");
    expect([...offered.options].map((option) => option.text)).toEqual(["Box room tent"]);
  });
});

describe("the lamps one has", () => {
  const LAMP = {
    id: 2, version: 1, name: "Wickerlight Six", watts: 240, life_h: 50_000, dial_kind: "continuous",
    dial_table: [{ position_pct: 100, watts_fraction: 1, light_fraction: 1 }],
    layout: { bars: 3, bar_length_cm: 50, spread_cm: 40 },
    pieces: [{ id: 8, version: 1, removed: false, name: "The old one", note: "", burned_h: 4200, watts: 231, dial_table: [], dead_bars: [2] }],
  } as unknown as Fixture; // prettier-ignore

  it("tell their past in a line", () => {
    render(Pieces, { lamp: LAMP });
    expect(screen.getByText("4200 h burnt, 231 W measured, 1 bar dead")).toBeTruthy();
  });

  it("are kept with what is their own", async () => {
    render(Pieces, { lamp: LAMP });
    await user.click(screen.getByRole("button", { name: "I have one of these" }));
    await user.type(screen.getByLabelText("Watts you measured (W)"), "236");
    await user.click(screen.getByRole("button", { name: "Bar 1 lights" }));
    await user.click(screen.getByRole("button", { name: "Keep it" }));
    const call = await answer(201, LAMP);
    expect([call?.method, call?.url]).toEqual(["POST", "/api/fixtures/2/pieces"]);
    expect(call?.body).toMatchObject({ name: "Wickerlight Six 2", watts: 236, dead_bars: [0] });
  });
});

describe("a run's history", () => {
  it("tells what was set and measured with its moment by the grower's clock", async () => {
    const row = {
      id: 1, stage_id: 12, plan_number: 1, level: 0, group: 0, channel: null, kind: "set",
      holds_from: "2026-11-20T07:00:00Z", windows: [{ on_minute: 360, hours: 11.5 }],
      height_cm: 40, dial_pct: 55, watts: null, locked: [], freed: false, made_at: "2026-11-20T07:00:00Z",
    }; // prettier-ignore
    render(History, { run: BEGUN, stages: [{ id: 12, name: "Flowering" }] });
    await answer(200, [row, { ...row, id: 2, kind: "measured", watts: 146, dial_pct: null }]);
    const [set, measured] = screen.getAllByRole("listitem").map((item) => item.textContent);
    expect(set).toContain(
      "20 Nov 2026, 07:00, Flowering: set to 40 cm, dial 55, 11 h 30 from 06:00",
    );
    expect(measured).toContain("measured 40 cm, 146 W");
  });
});

describe("an address", () => {
  it("names its place in the title; one that is none says so", () => {
    expect(titleOf("/")).toBe("Bench – Idle Canopy");
    expect(titleOf("/season")).toBe("Season – Idle Canopy");
    expect(titleOf("/nothing")).toContain("Not found");
    render(Nowhere);
    expect(screen.getByRole("heading").textContent).toContain("nothing at this address");
    expect(screen.getAllByRole("link").length).toBe(PLACES.length);
  });
});
