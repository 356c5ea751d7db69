/** What stands in a log, in words. */

import type { LogEntry } from "../api/client";
import {
  clock,
  fromC,
  hours,
  length,
  type LengthUnit,
  type TemperatureUnit,
  trim,
} from "../units/format";

export const KIND_WORDS: Record<LogEntry["kind"], string> = {
  tops: "Tops",
  setting: "Set",
  watts: "Meter",
  temperature: "Temperature",
  outage: "Power cut",
  dead: "Dead diodes",
  symptom: "Seen",
  cover: "Cover or lining",
  cleaned: "Cleaned",
  water: "Water, feed",
  note: "Note",
  answer: "Due",
  photo: "Photo",
  try: "Tried",
  outcome: "Came of it",
};

/** What was cleaned. */
export const CLEANED_WORDS: Record<string, string> = {
  lamp: "the lamp",
  lining: "the lining",
  both: "lamp and lining",
};

/** What came of what was tried. */
export const OUTCOME_WORDS: Record<string, string> = {
  better: "better",
  same: "as before",
  worse: "worse",
};

export const MANY_WORDS: Record<string, string> = {
  one: "one plant",
  some: "some plants",
  all: "all plants",
};

/** What was answered to what is due. */
export const ANSWER_WORDS: Record<string, string> = {
  done: "done",
  later: "put off until tomorrow",
  never: "not needed",
};

export const SEEN_WORDS: Record<string, string> = {
  bleached: "bleached",
  burnt: "burnt",
  curled: "curled up",
  stretched: "stretched",
  yellow: "yellow",
  pale: "pale",
  brown: "brown",
  wilted: "wilted",
  leaning: "leaning",
  dropped: "dropped",
  small: "small",
};

type Values = LogEntry["values"];

const figure = (values: Values, name: string): number | null => {
  const value = values[name];
  return typeof value === "number" ? value : null;
};

/** A length of time as people say it. */
export function lasting(minutes: number): string {
  const [h, m] = [Math.floor(minutes / 60), Math.round(minutes % 60)];
  return [h ? `${h} h` : "", m || !h ? `${m} min` : ""].filter(Boolean).join(" ");
}

/** A setting, each figure with what it was before where that was another. */
function settingWords(values: Values, before: Values, unit: LengthUnit): string {
  const said: [string, string, (value: number) => string][] = [
    ["height_cm", "lamp", (cm) => `${length(cm, unit)} above the tops`],
    ["dial_pct", "dial", (pct) => trim(pct, 1)],
    ["hours", "on for", (h) => hours(h)],
    ["on_minute", "from", (minute) => clock(minute)],
  ];
  return said
    .flatMap(([name, label, words]) => {
      const [now, old] = [figure(values, name), figure(before, name)];
      if (now === null) return [];
      const was = old !== null && old !== now ? ` (was ${words(old)})` : "";
      return [`${label} ${words(now)}${was}`];
    })
    .join(", ");
}

/** An entry in a line; ``before`` are the figures that were set before it. */
export function entryWords(
  entry: Pick<LogEntry, "kind" | "values" | "text">,
  before: Values,
  unit: LengthUnit,
  degrees: TemperatureUnit,
): string {
  const { kind, values, text } = entry;
  const where = typeof values.where === "string" ? `, ${values.where}` : "";
  switch (kind) {
    case "tops":
      return `${length(figure(values, "tops_cm") ?? 0, unit)} above the floor${where}`;
    case "setting":
      return settingWords(values, before, unit);
    case "watts":
      return `${trim(figure(values, "watts") ?? 0, 1)} W`;
    case "temperature":
      return `${trim(fromC(figure(values, "celsius") ?? 0, degrees), 1)} °${degrees}${where}`;
    case "outage": {
      const from = figure(values, "from_minute");
      const long = lasting(figure(values, "minutes") ?? 0);
      return from === null ? long : `${long}, from ${clock(from)}`;
    }
    case "dead":
      return `${figure(values, "count") ?? 0}`;
    case "symptom": {
      const part = typeof values.part === "string" ? `${values.part} ` : "";
      const since = figure(values, "since_days");
      return [
        `${part}${SEEN_WORDS[String(values.what)] ?? String(values.what)}${where}`,
        typeof values.many === "string" ? MANY_WORDS[values.many] : "",
        since === null ? "" : `for ${trim(since, 1)} ${since === 1 ? "day" : "days"}`,
      ]
        .filter(Boolean)
        .join(", ");
    }
    case "cleaned":
      return CLEANED_WORDS[String(values.what)] ?? text;
    case "outcome":
      return [OUTCOME_WORDS[String(values.what)] ?? String(values.what), text]
        .filter(Boolean)
        .join(": ");
    case "answer":
      return `${ANSWER_WORDS[String(values.what)] ?? String(values.what)}: ${text}`;
    default:
      return text;
  }
}

/** What stood set before each entry, newest first: figures of all older settings together. */
export function setBefore(entries: LogEntry[]): Values[] {
  let now: Values = {};
  return [...entries]
    .reverse()
    .map((entry) => {
      const before = now;
      if (entry.kind === "setting") now = { ...now, ...entry.values };
      return before;
    })
    .reverse();
}
