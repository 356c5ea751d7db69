/** What a fit says, in words. */

import type { FitFound, LightFigure } from "../api/client";
import { hours, length, type LengthUnit, percent, trim } from "../units/format";

/** A change of light as people say it. */
export function changeWords(figure: LightFigure): string {
  const share = figure.true.middle / figure.planned - 1;
  if (Math.abs(share) < 0.01) return "as much light as planned";
  return `${percent(Math.abs(share))} ${share < 0 ? "less" : "more"} light than planned`;
}

/** What the light is enough for at a stage. */
export function verdictWords(stage: FitFound["stages"][number]): string {
  const band = `${trim(stage.dli_low, 1)}–${trim(stage.dli_high, 1)}`;
  // what misses an end by little is told finely enough to see it
  const end = stage.verdict === "short" ? stage.dli_low : stage.dli_high;
  const near = stage.verdict !== "enough" && Math.abs(stage.dli - end) < 0.1;
  const day = `${hours(stage.hours)} give ${trim(stage.dli, near ? 3 : 1)} mol`;
  if (stage.verdict === "enough") return `enough, ${day} of ${band}`;
  return stage.verdict === "short"
    ? `short, even ${day} of ${band}`
    : `too much, even ${day} of ${band}`;
}

export function rangeWords(range: { low: number; middle: number; high: number }): string {
  return `${Math.round(range.middle)} (${Math.round(range.low)}–${Math.round(range.high)})`;
}

const WALLS: Record<string, string> = {
  left: "the left side",
  right: "the right side",
  front: "the front",
  back: "the back",
};

export const WALL_CHOICES: { value: "" | "left" | "right" | "front" | "back"; label: string }[] = [
  { value: "", label: "all closed" },
  { value: "front", label: "the front open" },
  { value: "back", label: "the back open" },
  { value: "left", label: "the left side open" },
  { value: "right", label: "the right side open" },
];

export function wallWords(side: string): string {
  return WALLS[side] ?? "";
}

export const SENSOR_WORDS: Record<FitFound["sensor"], string> = {
  quantum: "Quantum sensor, calibrated",
  cheap: "Cheap quantum sensor",
  phone: "Phone",
  lux: "Lux meter",
};

export const CORRECTION_WORDS: Record<FitFound["corrections"][number]["name"], string> = {
  factor: "its calibration",
  compared: "compared with something trusted",
  lux: "lux to µmol",
  band: "light it does not see",
};

type Parameter = FitFound["parameters"][number];

/** A thing learnt: its name, and its value with its range. */
export function parameterWords(each: Parameter, unit: LengthUnit): [string, string] {
  const shares = (name: string): [string, string] => [
    name,
    `${percent(each.value)} (${percent(each.low)}–${percent(each.high)})`,
  ];
  switch (each.name) {
    case "lamp_scale":
      return shares("Lamp, of its record");
    case "sensor_scale":
      return shares("Sensor, of the true light");
    case "wall_reflectance":
      return shares("Walls reflect");
    case "beam_power":
      return [
        "Beam: power of the cosine",
        `${trim(each.value, 2)} (${trim(each.low, 2)}–${trim(each.high, 2)})`,
      ];
    case "offset_x_cm":
      return ["Lamp further right by", lengths(each, unit)];
    case "offset_y_cm":
      return ["Lamp further back by", lengths(each, unit)];
    default:
      return shares(each.name.replace("lamp_", "Lamp ") + ", of the others");
  }
}

function lengths(each: Parameter, unit: LengthUnit): string {
  const said = [each.value, each.low, each.high].map(
    (cm) => `${cm < 0 ? "−" : ""}${length(Math.abs(cm), unit)}`,
  );
  return `${said[0]} (${said[1]} to ${said[2]})`;
}
