/** What an archive's rows became, in words. */

import type { Brought } from "../api/client";

/** Kinds a grower knows, in the order they are told; the rest go along with them. */
const KINDS: [string, string, string][] = [
  ["spaces", "space", "spaces"],
  ["fixtures", "lamp", "lamps"],
  ["crops", "crop", "crops"],
  ["runs", "plan or run", "plans and runs"],
  ["maps", "light map", "light maps"],
  ["sensors", "sensor", "sensors"],
  ["walks", "walk with the sensor", "walks with the sensor"],
  ["fits", "fit", "fits"],
  ["entries", "entry of the log", "entries of the log"],
  ["photos", "photo", "photos"],
  ["devices", "device", "devices"],
];
const READINGS = ["readings", "five_minutes", "hours"];

function counted(counts: Record<string, number>): string {
  const found = KINDS.flatMap(([kind, one, many]) => {
    const count = counts[kind] ?? 0;
    return count ? [`${count} ${count === 1 ? one : many}`] : [];
  });
  const readings = READINGS.reduce((sum, kind) => sum + (counts[kind] ?? 0), 0);
  if (readings) found.push(`${readings} readings of devices and their sums`);
  return found.join(", ");
}

/** What was new, later, known and unknown; empty where there is nothing of it. */
export function broughtWords(told: Brought): Record<"new" | "later" | "kept" | "ignored", string> {
  const [fresh, later, kept] = [counted(told.new), counted(told.later), counted(told.kept)];
  const others = Object.values(told.new).reduce((sum, count) => sum + count, 0);
  const comes = told.done ? "Came in: " : "Would come in: ";
  return {
    new: fresh
      ? `${comes}${fresh}.`
      : others
        ? `${comes}${others} rows.`
        : "All of it is here already.",
    later: later
      ? `${told.done ? "Taken over" : "Would be taken over"} as changed since: ${later}.`
      : "",
    kept: kept ? `Here already: ${kept}.` : "",
    ignored: told.ignored.length ? `Not known here and left out: ${told.ignored.join(", ")}.` : "",
  };
}
