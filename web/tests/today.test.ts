import { render, screen, within } from "@testing-library/svelte";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import type { DayToday, Due, LightGiven, LogEntry, Run, ToSet } from "../src/api/client";
import { fromWalks, whence } from "../src/api/logbook.svelte";
import { outbox } from "../src/api/outbox.svelte";
import { photoOf } from "../src/api/photos";
import { runs } from "../src/api/runs.svelte";
import { today } from "../src/api/today.svelte";
import { dayOfRun, marksOf } from "../src/parts/season/picture";
import Causes from "../src/places/logbook/Causes.svelte";
import LightDays from "../src/places/logbook/LightDays.svelte";
import DueCard from "../src/places/today/DueCard.svelte";
import Stands from "../src/places/today/Stands.svelte";
import { entryWords } from "../src/words/log";
import { caught, soon } from "./replies";
import { user } from "./user";

const DUE: Due = {
  key: "set:clearance:3:0",
  kind: "set",
  on: "2026-11-24",
  late_days: 3,
  lines: [{ code: "season.raise", figures: { by_cm: 6, lamp_cm: 96, height_cm: 40 } }],
  why: { code: "due.near_late", figures: { days: 3 } },
  to_set: {
    height_cm: 40.2,
    lamp_cm: 96,
    dial_pct: 60,
    windows: [{ on_minute: 360, hours: 12 }],
  },
  holds_until: "2026-12-09",
  stage_id: null,
  of: null,
};
const entry = (kind: LogEntry["kind"], at: string, more: Partial<LogEntry> = {}): LogEntry => ({
  id: 1,
  key: `${kind} ${at}`,
  kind,
  at,
  values: {},
  text: "",
  edited: false,
  ...more,
});
interface Sent {
  run: number;
  entry: { kind: string; values: Record<string, unknown>; text: string };
}
const waiting = (): Sent["entry"][] => (outbox.bodies("log") as Sent[]).map((step) => step.entry);

beforeEach(() => {
  localStorage.clear();
  vi.useFakeTimers();
  vi.stubGlobal("fetch", () => Promise.reject(new TypeError("nobody answers")));
  outbox.open("Ada");
});
afterEach(() => {
  outbox.close();
  vi.useRealTimers();
});

describe("a thing that is due", () => {
  const show = (due: Due): void => {
    render(DueCard, { runId: 4, due, open: () => undefined });
  };

  it("says what, why, since when and for how long", () => {
    show(DUE);
    const card = screen.getByRole("listitem");
    expect(card.textContent).toContain("3 days late");
    expect(card.textContent).toContain("Raise the lamp by 6 cm, to 96 cm above the floor");
    expect(card.textContent).toContain("nearer than the lamp may come for 3 days");
    expect(card.textContent).toContain("holds until 9 Dec 2026");
  });

  it("done keeps what was really set, tops first, and then its answer", async () => {
    show(DUE);
    await user.click(screen.getByRole("button", { name: "Done…" }));
    const height = screen.getByLabelText<HTMLInputElement>("Lamp above the tops (cm)");
    // as the sentence has it, not to the millimetre
    expect(height.value).toBe("40");
    await user.clear(height);
    await user.type(height, "42");
    await user.type(screen.getByLabelText("Tops, if measured (cm)"), "55");
    await user.click(screen.getByRole("button", { name: "Keep it" }));
    expect(waiting().map(({ kind, values }) => [kind, values])).toEqual([
      ["tops", { tops_cm: 55 }],
      ["setting", { height_cm: 42, dial_pct: 60 }],
      ["answer", { due: DUE.key, what: "done" }],
    ]);
  });

  it("the timer alone keeps hours and when they begin, and a first setting all of it", async () => {
    show({ ...DUE, kind: "timer", key: "timer:x" });
    await user.click(screen.getByRole("button", { name: "Done…" }));
    expect(screen.queryByLabelText("Dial (%)")).toBeNull();
    await user.click(screen.getByRole("button", { name: "Keep it" }));
    expect(waiting()[0]?.values).toEqual({ hours: 12, on_minute: 360 });
  });

  it("a timer that is on twice a day is kept as it is, with the lamp as it hangs", async () => {
    const calls = caught();
    const windows = [
      { on_minute: 360, hours: 3 },
      { on_minute: 900, hours: 3.25 },
    ];
    const lived = [{ stage_id: 7, name: "x", began_on: "2026-11-01", ended_on: null }];
    runs.all = [{ id: 4, version: 1, lived } as unknown as Run];
    show({ ...DUE, kind: "timer", key: "timer:x", to_set: { ...(DUE.to_set as ToSet), windows } });
    await user.click(screen.getByRole("button", { name: "Done…" }));
    expect(screen.getByText("On 06:00 to 09:00 and 15:00 to 18:15")).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "Keep it" }));
    await soon();
    expect(calls[0]?.url).toBe("/api/runs/4/settings");
    expect(calls[0]?.body).toMatchObject({ stage_id: 7, kind: "set", windows, height_cm: 40.2 });
    calls[0]?.reply(201, {});
    await soon();
    expect(waiting().map(({ values }) => values)).toEqual([{ due: "timer:x", what: "done" }]);
    runs.all = [];
  });

  it("is put off, not needed, or looked at, in one tap", async () => {
    show({ ...DUE, kind: "look", key: "look:3", to_set: null });
    await user.click(screen.getByRole("button", { name: "Looked" }));
    show({ ...DUE, kind: "cut", key: "cut:3", to_set: null });
    await user.click(screen.getAllByRole("button", { name: "Not needed" }).at(-1) as HTMLElement);
    expect(waiting().map(({ kind, text, values }) => [kind, values.what ?? text])).toEqual([
      ["note", "plants look well"],
      ["answer", "done"],
      ["answer", "never"],
    ]);
  });

  it("goes out of sight as soon as it is answered, before the server has heard", async () => {
    const calls = caught();
    const loaded = today.load();
    await soon();
    const day = { due: [DUE, { ...DUE, key: "other" }] } as unknown as DayToday;
    calls[0]?.reply(200, [{ run_id: 4, day, why: null }]);
    await loaded;
    const keys = (): (string | undefined)[] | undefined =>
      today.runs[0]?.day?.due.map((due) => due.key);
    expect(keys()).toEqual([DUE.key, "other"]);
    today.answer(4, DUE, "later", "raise it");
    expect(keys()).toEqual(["other"]);
    // that of another run stays
    today.answer(5, { ...DUE, key: "other" }, "later", "x");
    expect(keys()).toEqual(["other"]);
  });
});

describe("what was seen", () => {
  it("says what came of it in one tap, of the sign it is of", async () => {
    const due = { ...DUE, kind: "seen" as const, key: "seen:3", to_set: null, of: "a-sign" };
    render(DueCard, { runId: 4, due, open: () => undefined });
    await user.click(screen.getByRole("button", { name: "As before" }));
    expect(waiting().map(({ kind, values }) => [kind, values])).toEqual([
      ["outcome", { of: "a-sign", what: "same" }],
      ["answer", { due: "seen:3", what: "done" }],
    ]);
  });

  it("shows causes with what speaks for and against, and keeps what is tried", async () => {
    const calls = caught();
    const said = (code: string, figures: Record<string, number> = {}) => ({ code, figures });
    const cause = (name: string, share: number, to_set: Due["to_set"]) => ({
      cause: name,
      name: said(`seen.cause_${name}`),
      share,
      speaks_for: [said("seen.at_top")],
      against: [said("seen.steady")],
      change: { lines: [said("seen.do_raise")], to_set },
    });
    const row = entry("symptom", "2026-11-20T10:00:00Z", { values: { what: "pale" } });
    render(Causes, { runId: 4, entry: row });
    await soon();
    const others = ["heat", "water", "feed"].map((name) => cause(name, 0.1, null));
    calls[0]?.reply(200, {
      causes: [cause("near_lamp", 0.7, DUE.to_set), ...others],
      note: null,
      how: said("seen.try_light"),
    });
    await soon();
    const shown = screen.getByRole("region", { name: "What may be behind it" });
    expect(shown.textContent).toContain("For it: It shows at the top");
    expect(shown.textContent).toContain("Against it: The light has hardly changed");
    expect(shown.textContent).not.toContain("Feed: too much or too little");
    await user.click(screen.getByRole("button", { name: "All it could be" }));
    expect(shown.textContent).toContain("Feed: too much or too little");
    await user.click(screen.getByRole("button", { name: /^Set so: I try this/ }));
    expect(waiting().map(({ kind, values }) => [kind, values])).toEqual([
      ["setting", { height_cm: 40, dial_pct: 60 }],
      ["try", { of: row.key, cause: "near_lamp" }],
    ]);
    // one thing at a time
    const more = screen.getAllByRole("button", { name: /^I try this/ });
    expect(more.every((button) => (button as HTMLButtonElement).disabled)).toBe(true);
  });
});

describe("where things stand", () => {
  it("tells the light so far, the range of the tops, and a lamp that is off", () => {
    const day = {
      stage: "Leafy",
      dli_low: 10,
      dli_high: 16,
      tops_cm: 40,
      tops_low: 38.4,
      tops_high: 41.6,
      until: null,
      make_up: null,
      stands: {
        height_cm: 35,
        closest_cm: 15,
        dial_pct: 60,
        windows: [{ on_minute: 0, hours: 0 }],
        set_on: "2026-11-20",
        dli_so_far: 4.25,
        dli: 12,
      },
    } as unknown as DayToday;
    render(Stands, { day });
    const shown = screen.getByRole("region", { name: "Where things stand" }).textContent;
    expect(shown).toMatch(/4\.3 of 12 mol/);
    expect(shown).toContain("38 cm to 42 cm");
    expect(shown).toContain("off");
  });
});

describe("the log beside the season", () => {
  it("puts what happened at the days of the run, by the clock here", () => {
    const at = (day: number, hour: number): string => new Date(2026, 10, day, hour).toISOString();
    expect(dayOfRun("2026-11-01", at(1, 0))).toBe(0);
    expect(dayOfRun("2026-11-01", at(3, 23))).toBe(2);
    const marks = marksOf("2026-11-01", [
      entry("note", at(4, 10)),
      entry("tops", at(3, 9)),
      entry("tops", at(3, 8)),
      entry("answer", at(2, 8)),
    ]);
    expect(marks.map((mark) => [mark.day, mark.entries.length, mark.loud])).toEqual([
      [2, 2, false],
      [3, 1, true],
    ]);
    expect(marks[0]?.entries.map((each) => each.at)).toEqual([at(3, 8), at(3, 9)]);
  });

  it("has walks of the run's days, and says where they are changed", () => {
    const walk = {
      key: "w",
      version: 1,
      removed: false,
      begun_at: "2026-11-03T10:00:00Z",
      lamp: "x",
      readings: 5,
      height_cm: 45,
      dial_pct: 100,
      mean: 411.6,
      lowest: 1,
      highest: 2,
      fit_id: null,
    };
    const older = { ...walk, key: "old", begun_at: "2026-10-01T10:00:00Z" };
    const rows = fromWalks([walk, older, { ...walk, key: "away", removed: true }], "2026-11-01");
    expect(rows.map((row) => [row.text, whence(row)])).toEqual([
      ["walk with the sensor: 5 spots, mean 412", "from the readings"],
    ]);
    expect(whence(entry("note", "2026-11-03T10:00:00Z"))).toBe("");
  });

  it("words answers and photos", () => {
    const said = entry("answer", "2026-11-03T10:00:00Z", {
      text: "Raise the lamp",
      values: { due: "x", what: "later" },
    });
    expect(entryWords(said, {}, "cm", "C")).toBe("put off until tomorrow: Raise the lamp");
    const sign = { what: "pale", part: "tips", many: "one", since_days: 1 };
    expect(entryWords(entry("symptom", "x", { values: sign }), {}, "cm", "C")).toBe(
      "tips pale, one plant, for 1 day",
    );
    const came = entry("outcome", "x", { values: { what: "same" }, text: "tips still pale" });
    expect(entryWords(came, {}, "cm", "C")).toBe("as before: tips still pale");
    const photo = entry("photo", "2026-11-03T10:00:00Z", { values: { photo: 7 }, text: "front" });
    expect(entryWords(photo, {}, "cm", "C")).toBe("front");
    expect(photoOf(photo, true)).toBe("/api/logbook/photos/7?small=true");
  });
});

describe("the light of each day", () => {
  it("holds each against the band of its own stage", () => {
    const day = (on: string, dli: number, low: number, high: number, stage: string) => ({
      on,
      dli,
      low: dli,
      high: dli,
      lit_h: 12,
      known: true,
      stage,
      dli_low: low,
      dli_high: high,
      lamp_cm: 80,
      tops_cm: 40,
      spans: [],
    });
    const light = {
      days: [
        day("2026-11-01", 6, 4, 8, "Cuttings"),
        day("2026-11-02", 9, 4, 8, "Cuttings"),
        day("2026-11-03", 9, 10, 16, "Leafy"),
      ],
      dli_low: 10,
      dli_high: 16,
      stage: "Leafy",
    } as unknown as LightGiven;
    const { container } = render(LightDays, { light });
    const bars = [...container.querySelectorAll("rect.day")].map((bar) => bar.classList);
    expect(bars.map((bar) => ["short", "inside", "above"].find((is) => bar.contains(is)))).toEqual([
      "inside",
      "above",
      "short",
    ]);
    expect(container.querySelectorAll("rect.band")).toHaveLength(2);
    expect(within(container as HTMLElement).getByRole("img")).toBeTruthy();
  });
});
