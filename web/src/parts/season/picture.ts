/** The season's picture in numbers: scales and the shapes that follow from the day rows. */

import type { LogEntry, Season } from "../../api/client";

export type Day = Season["rows"][number];

/** Something of a day of the run, counted from 0. */
export type Placed<T> = T & { day: number };

/** A day that has entries in the log; a loud one was no mere measurement. */
export interface Marked {
  day: number;
  entries: LogEntry[];
  loud: boolean;
}

const QUIET: LogEntry["kind"][] = ["tops", "watts", "temperature", "answer"];

/** The day of a run a moment is in, by the browser's clock, as the log shows it. */
export function dayOfRun(first: string, at: string): number {
  const moment = new Date(at);
  const here = Date.UTC(moment.getFullYear(), moment.getMonth(), moment.getDate());
  return Math.round((here - Date.parse(`${first}T00:00:00Z`)) / 86_400_000);
}

/** A log's entries by the days of the run, those of a day in order. */
export function marksOf(first: string, entries: LogEntry[]): Marked[] {
  const days: Record<number, LogEntry[]> = {};
  for (const entry of entries.toReversed()) {
    if (entry.kind === "answer") continue;
    (days[dayOfRun(first, entry.at)] ??= []).push(entry);
  }
  return Object.entries(days).map(([day, found]) => ({
    day: Number(day),
    entries: found,
    loud: found.some((entry) => !QUIET.includes(entry.kind)),
  }));
}

/** Days in a row with the same clock times. */
export interface Lit {
  from: number;
  to: number;
  on: number;
  minutes: number;
}

const DAY = 1440;

export function litRuns(rows: Day[]): Lit[] {
  const runs: Lit[] = [];
  for (const row of rows) {
    for (const window of row.windows) {
      const [on, minutes] = [window.on_minute, Math.round(window.hours * 60)];
      const same = runs.find((r) => r.to === row.day && r.on === on && r.minutes === minutes);
      if (same) same.to = row.day + 1;
      else runs.push({ from: row.day, to: row.day + 1, on, minutes });
    }
  }
  return runs;
}

/** A span of minutes cut at midnight. */
export function cut(on: number, minutes: number): [number, number][] {
  if (minutes >= DAY) return [[0, DAY]];
  const end = on + minutes;
  return end <= DAY ? [[on, end]] : [[on, DAY], [0, end - DAY]]; // prettier-ignore
}

/** A line through the days, level over each, broken where days are missing. */
export function stepPath<T extends { day: number }>(
  rows: T[],
  value: (row: T) => number,
  x: (day: number) => number,
  y: (value: number) => number,
): string {
  let path = "";
  let before = NaN;
  for (const row of rows) {
    const [a, b, at] = [x(row.day), x(row.day + 1), y(value(row))];
    path += `${before === row.day ? "L" : "M"}${a.toFixed(1)} ${at.toFixed(1)}H${b.toFixed(1)}`;
    before = row.day + 1;
  }
  return path;
}

/** Round steps over a range, about so many. */
export function ticks(most: number, count: number): number[] {
  const rough = most / count;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((m) => m * power).find((s) => s >= rough) ?? rough;
  return Array.from({ length: Math.floor(most / step) + 1 }, (_, i) => i * step);
}

/** A day of the run as a date of the year. */
export function dateOf(first: string, day: number): Date {
  const date = new Date(`${first}T00:00:00Z`);
  date.setUTCDate(date.getUTCDate() + day);
  return date;
}

export function dayMonth(first: string, day: number): string {
  return dateOf(first, day).toLocaleDateString("en-GB", {
    day: "numeric",
    month: "short",
    timeZone: "UTC",
  });
}
