import { render, screen } from "@testing-library/svelte";
import { afterEach, describe, expect, it, vi } from "vitest";

import type { Hanging, Run, Season } from "../src/api/client";
import { cut, dateOf, dayMonth, litRuns, stepPath, ticks } from "../src/parts/season/picture";
import SeasonPicture from "../src/parts/season/SeasonPicture.svelte";
import DoorCard from "../src/places/season/DoorCard.svelte";
import { SeasonState } from "../src/places/season/season.svelte";
import StageTable from "../src/places/season/StageTable.svelte";
import { groupsWords } from "../src/words/groups";
import { caught, soon } from "./replies";
import { sample } from "./sample";

import { user } from "./user";

type Day = Season["rows"][number];
type Stage = Season["stages"][number];

const said = (code: string, figures: Record<string, number | string>) => ({ code, figures });

function day(at: number, change: Partial<Day> = {}): Day {
  return {
    day: at,
    stage: at < 2 ? "Leafy" : "Flowering",
    on_minute: 360,
    off_minute: 1320,
    hours: 16,
    dial_pct: 50,
    watts: 120,
    lamp_cm: 80 + at,
    tops_cm: 40 + at,
    dli: 12,
    dli_low: 10,
    dli_high: 16,
    kwh: 2,
    cost: 0.6,
    tasks: [],
    windows: [{ on_minute: 360, hours: change.hours ?? 16 }],
    ...change,
  };
}

const bench = sample();
const HUNG: Hanging = {
  day: 0,
  last_day: 1,
  above_floor_cm: 80,
  above_tops_cm: 40,
  left_cm: 40,
  by_cm: 0,
  dial_pct: 50,
};
const RUN = { aim: "middle", lived: [], lift_cm: 5, gap_days: 7 } as unknown as Run;
function stage(change: Partial<Stage> = {}): Stage {
  return {
    stage_id: 1,
    from_day: 0,
    name: "Leafy",
    first_day: 0,
    days: 2,
    date: "2026-02-27",
    refused: "",
    dli_low: 10,
    dli_high: 16,
    hot_spot_cap: 600,
    response: "long-day",
    daylight_dli: 0,
    above_dli: 0,
    lost_h: 0,
    planned: {
      setting: { height_cm: 40, dial_pct: 50, hours: 16 },
      outcome: bench.outcome,
      on_minute: 360,
      off_minute: 1320,
      windows: [{ on_minute: 360, hours: 16 }],
      kept: false,
      relaxed: [],
      binding: ["evenness"],
      obstacles: [],
      certainty: bench.certainty,
      rehangs: [],
      hangings: [
        { ...HUNG, above_floor_cm: 82, above_tops_cm: 40, left_cm: 38 },
        { ...HUNG, day: 1, above_floor_cm: 90, by_cm: 8, dial_pct: 45 },
      ],
      trips: [0, 1],
      hurried: false,
      chance: 0.83,
      chance_read: 0.91,
      outside_maker: false,
      dial_kind: "continuous",
      easing: [],
      abrupt: false,
      night_conflict: null,
      groups: [],
      switches: [],
    },
    ...change,
  };
}

const season: Season = {
  ceiling_cm: 180,
  made_of: sample().made_of,
  first: "2026-02-27",
  days: 4,
  stages: [
    stage(),
    stage({ stage_id: 2, name: "Flowering", first_day: 2, planned: null, refused: "No headroom." }),
  ],
  rows: [
    day(0, {
      tasks: [
        said("season.begins", {
          stage: "Leafy",
          height_cm: 40,
          lamp_cm: 82,
          dial_pct: 50,
          watts: 120,
        }),
      ],
    }),
    day(1, { tasks: [said("season.raise", { by_cm: 8, lamp_cm: 90, height_cm: 48 })] }),
  ],
  kwh: 4,
  cost: 1.2,
  common_height: false,
  trips: 2,
  price: [],
};

afterEach(() => vi.unstubAllGlobals());

describe("the season's picture", () => {
  it("joins days with the same clock times", () => {
    const rows = [day(0), day(1), day(2, { hours: 12 }), day(4, { hours: 12 })];
    expect(litRuns(rows)).toEqual([
      { from: 0, to: 2, on: 360, minutes: 960 },
      { from: 2, to: 3, on: 360, minutes: 720 },
      // a day is missing between
      { from: 4, to: 5, on: 360, minutes: 720 },
    ]);
  });

  it("joins the two windows of a day each with its own", () => {
    const windows = [
      { on_minute: 360, hours: 3 },
      { on_minute: 900, hours: 3 },
    ];
    expect(litRuns([day(0, { windows }), day(1, { windows })])).toEqual([
      { from: 0, to: 2, on: 360, minutes: 180 },
      { from: 0, to: 2, on: 900, minutes: 180 },
    ]);
  });

  it("cuts a span at midnight", () => {
    expect(cut(360, 720)).toEqual([[360, 1080]]);
    expect(cut(1200, 720)).toEqual([
      [1200, 1440],
      [0, 480],
    ]);
    expect(cut(300, 1440)).toEqual([[0, 1440]]);
  });

  it("draws a level line over each day, broken where a day is missing", () => {
    const path = stepPath(
      [day(0), day(1), day(3)],
      (row) => row.lamp_cm,
      (d) => d * 10,
      (v) => v,
    );
    expect(path).toBe("M0.0 80.0H10.0L10.0 81.0H20.0M30.0 83.0H40.0");
  });

  it("has round steps and true dates", () => {
    expect(ticks(22, 4)).toEqual([0, 10, 20]);
    expect(ticks(180, 3)).toEqual([0, 100]);
    // 2026 has no 29 February
    expect(dayMonth("2026-02-27", 2)).toBe("1 Mar");
    expect(dateOf("2026-12-31", 1).getUTCFullYear()).toBe(2027);
  });

  it("reads every day out by the arrow keys", async () => {
    render(SeasonPicture, { season, unit: "cm", ceiling: 180, rampMin: 30 });
    const said = (): string =>
      (document.querySelector("#season-day")?.textContent ?? "").replace(/\s+/g, " ");
    expect(said()).toContain("day 1 of 4, Leafy: lamp 40 cm above the tops");
    expect(said()).toContain("DLI 12 inside 10–16");
    screen.getByRole("application").focus();
    await user.keyboard("{ArrowRight}");
    expect(said()).toContain("Raise the lamp by 8 cm");
    await user.keyboard("{PageUp}");
    // the last planned days are missing: the reading stays at a day there is
    expect(said()).toContain("of 4");
  });
});

describe("the stages' table", () => {
  const open = vi.fn();
  const free = vi.fn();
  it("says what to do, when to raise it, why and how sure", async () => {
    render(StageTable, { run: RUN, season, unit: "in", open, free });
    const row = screen.getByRole("row", { name: /Leafy/ });
    const text = row.textContent?.replace(/\s+/g, " ");
    expect(text).toContain("28 Feb: 35.5 in above the floor, dial 45; 15.75 in above the tops");
    expect(text).toContain("It would be better without the evenness goal.");
    expect(text).toContain("about 8 in 10; a reading that agrees would make it 9.");
    expect(row.textContent).toContain("Mean ± 15 %");
    expect(screen.getByRole("row", { name: /Flowering/ }).textContent).toContain("No headroom.");
    await user.click(screen.getByRole("button", { name: "Open Leafy on the bench" }));
    expect(open).toHaveBeenCalledWith(1, 0);
  });

  it("shows what is given up, what the night lacks and what eases in", async () => {
    const plan = stage().planned;
    if (!plan) throw new Error("the sample is planned");
    const hard = stage({
      daylight_dli: 3.2,
      lost_h: 0.5,
      planned: {
        ...plan,
        kept: true,
        hurried: true,
        rehangs: [],
        relaxed: ["dli_low"],
        obstacles: [
          { name: "dli_low", best: 8, asked: 10, change: "stronger_lamp", amount: 0.25, reach: 8 },
        ],
        easing: [{ day: 0, height_cm: 40, dial_pct: 30, dli: 8 }],
        abrupt: true,
        night_conflict: {
          code: "night.short_apart",
          figures: { night_h: 10.25, needed_h: 12 },
        },
      },
    });
    render(StageTable, {
      run: { ...RUN, gap_days: 14 },
      season: { ...season, stages: [hard] },
      unit: "cm",
      open,
      free,
    });
    const text = screen.getByRole("row", { name: /Leafy/ }).textContent?.replace(/\s+/g, " ") ?? "";
    expect(text).toContain("a lamp with 25 % more light would do");
    expect(text).toContain("The night is 10.25 h with the daylight and this stage needs 12 h");
    expect(text).toContain("1 day of easing: dial 30, then 50");
    expect(text).toContain("cannot go low enough");
    expect(text).toContain("Trips come closer than 5 cm and 14 days: nothing else keeps");
    expect(text).toContain("3.2 of it daylight");
    expect(text).toContain("0 h 30 of light lost");
    await user.click(screen.getByRole("button", { name: "Let the plan choose for Leafy" }));
    expect(free).toHaveBeenCalledWith(1, 0);
  });
});

describe("a stage in parts, and groups of lamps", () => {
  const planned = stage().planned;
  if (!planned) throw new Error("the sample is planned");
  const group = {
    group: 1,
    lamps: 2,
    own: true,
    own_timer: true,
    dial_pct: 60,
    windows: [{ on_minute: 720, hours: 2.5 }],
    watts: 72.6,
    kwh_per_day: 0.18,
  };
  const parts = [
    stage({ planned: { ...planned, groups: [group] } }),
    stage({ first_day: 1, from_day: 1, days: 1, planned: { ...planned, kept: true } }),
  ];

  it("are told in the table: from when, and taken out again", async () => {
    const [open, free] = [vi.fn(), vi.fn()];
    render(StageTable, { run: RUN, season: { ...season, stages: parts }, unit: "cm", open, free });
    expect(screen.getByText("B dial 60 (73 W), 12:00 to 14:30")).toBeTruthy();
    expect(screen.getByRole("rowheader", { name: /Leafy, changed/ })).toBeTruthy();

    await user.click(screen.getByRole("button", { name: "Open Leafy from 28 Feb on the bench" }));
    expect(open).toHaveBeenCalledWith(1, 1);
    await user.click(
      screen.getByRole("button", { name: "Take it out: the change of Leafy from 28 Feb" }),
    );
    expect(free).toHaveBeenCalledWith(1, 1);
  });

  it("say what they are set to, and nothing where nothing is", () => {
    expect(groupsWords([group, { ...group, group: 2, own: false }])).toBe(
      "B dial 60 (73 W), 12:00 to 14:30",
    );
    expect(groupsWords([{ ...group, dial_pct: 0, own_timer: false }])).toBe("B off");
    expect(groupsWords([{ ...group, group: 3, own_timer: false }])).toBe("D dial 60 (73 W)");
  });
});

describe("the card for the door", () => {
  it("holds the stages, the tasks with their dates and the cautions", () => {
    render(DoorCard, { season, title: "Mums in the tent", unit: "cm" });
    expect(screen.getByRole("heading", { level: 1 }).textContent).toBe("Mums in the tent");
    const raise = "☐ 28 Feb: Raise the lamp by";
    expect(
      screen.getByText(`${raise} 8 cm, to 90 cm above the floor, 48 cm above the tops`),
    ).toBeTruthy();
    render(DoorCard, { season, title: "Mums in the tent", unit: "in" });
    // quarters of an inch, with the lamp above the floor beside each
    expect(
      screen.getByText(`${raise} 3.25 in, to 35.5 in above the floor, 19 in above the tops`),
    ).toBeTruthy();
    expect(screen.getAllByText("No headroom.")).toHaveLength(2);
    expect(screen.getAllByText(/Unplug before you move the lamp/)).toHaveLength(2);
  });
});

describe("asking for a season", () => {
  it("shows the newest answer and none that is late", async () => {
    const calls = caught();
    const desk = new SeasonState();
    void desk.open(1);
    void desk.open(2);
    await soon();
    calls[1]?.reply(200, { ...season, days: 22 });
    await soon();
    calls[0]?.reply(200, { ...season, days: 11 });
    await soon();
    expect(desk.season?.days).toBe(22);
    expect(desk.busy).toBe(false);
  });

  it("keeps the season when a wish is refused, and says why", async () => {
    const calls = caught();
    const desk = new SeasonState();
    void desk.open(1);
    await soon();
    calls.shift()?.reply(200, season);
    await soon();
    const wishes = { aim: "even", started_on: "2026-01-01", on_wish: "cheap", on_minute: 0,
                     rise_pct: 0, shift_days: 1 } as const; // prettier-ignore
    const kept = desk.wish(1, wishes);
    await soon();
    calls.shift()?.reply(422, { detail: "Rise has to be more than 0.", errors: [] });
    expect(await kept).toBe(false);
    expect(desk.refused?.message).toContain("Rise");
    expect(desk.season?.days).toBe(4);
  });
});
