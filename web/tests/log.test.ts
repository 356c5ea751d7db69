import { describe, expect, it } from "vitest";

import type { LogEntry, PastSetting } from "../src/api/client";
import { fromBench, standing } from "../src/api/logbook.svelte";
import { entryWords, lasting, setBefore } from "../src/words/log";

const entry = (kind: LogEntry["kind"], values: LogEntry["values"], text = ""): LogEntry => ({
  id: 1,
  key: "k",
  kind,
  at: "2026-11-20T10:00:00Z",
  values,
  text,
  edited: false,
});
const words = (
  kind: LogEntry["kind"],
  values: LogEntry["values"],
  text = "",
  before = {},
): string => entryWords(entry(kind, values, text), before, "cm", "C");

describe("an entry in words", () => {
  it("says what was set, and what it was before where that was another", () => {
    const before = { height_cm: 40, dial_pct: 60, hours: 12 };
    expect(words("setting", { height_cm: 44, dial_pct: 60 }, "", before)).toBe(
      "lamp 44 cm above the tops (was 40 cm above the tops), dial 60",
    );
    expect(words("setting", { hours: 11.5, on_minute: 390 })).toBe("on for 11 h 30, from 06:30");
  });

  it("says the rest as people do", () => {
    expect(words("tops", { tops_cm: 31, where: "left" })).toBe("31 cm above the floor, left");
    expect(words("watts", { watts: 118.5 })).toBe("118.5 W");
    expect(entryWords(entry("temperature", { celsius: 25 }), {}, "in", "F")).toBe("77 °F");
    expect(words("outage", { minutes: 150, from_minute: 1330 })).toBe("2 h 30 min, from 22:10");
    expect(words("symptom", { what: "curled", part: "tips" })).toBe("tips curled up");
    expect(words("note", {}, "looks happy")).toBe("looks happy");
    expect([lasting(0), lasting(60), lasting(17)]).toEqual(["0 min", "1 h", "17 min"]);
  });

  it("knows what stood set before each, the newest first", () => {
    const log = [
      entry("setting", { dial_pct: 55 }),
      entry("note", {}, "x"),
      entry("setting", { height_cm: 40, dial_pct: 60 }),
    ];
    expect(setBefore(log)).toEqual([
      { height_cm: 40, dial_pct: 60 },
      { height_cm: 40, dial_pct: 60 },
      {},
    ]);
  });
});

describe("what was set at the bench", () => {
  it("stands in the log too, and what was freed or only measured does not", () => {
    const row = {
      id: 3,
      kind: "set",
      freed: false,
      holds_from: "2026-11-20T10:00:00Z",
      height_cm: 44,
      dial_pct: 70,
      windows: [
        { on_minute: 360, hours: 8 },
        { on_minute: 1000, hours: 4 },
      ],
    } as PastSetting;
    const rows = [row, { ...row, freed: true }, { ...row, kind: "measured" as const }];
    expect(fromBench(rows).map((each) => each.values)).toEqual([
      { height_cm: 44, dial_pct: 70, hours: 12, on_minute: 360 },
    ]);
  });
});

describe("what stands in a log", () => {
  it("is what the server has with what is still on its way, once", () => {
    const kept = [{ ...entry("watts", { watts: 120 }), key: "a" }];
    const coming = (key: string, more = {}) => ({
      key,
      kind: "watts" as const,
      at: "2026-11-20T11:00:00Z",
      values: { watts: 112 },
      text: "",
      replaces: null,
      gone: false,
      ...more,
    });
    const edit = coming("b", { replaces: "a" });
    expect(standing(kept, [edit]).map((each) => [each.key, each.edited])).toEqual([["b", true]]);
    const gone = coming("c", { replaces: "b", gone: true });
    expect(standing(kept, [edit, gone])).toEqual([]);
    const back = coming("d", { replaces: "c" });
    expect(standing(kept, [edit, gone, back]).map((each) => each.key)).toEqual(["d"]);
    // what the server has already told of is not shown twice
    const told = [{ ...entry("watts", { watts: 112 }), key: "b" }];
    expect(standing(told, [edit]).map((each) => each.key)).toEqual(["b"]);
  });
});
