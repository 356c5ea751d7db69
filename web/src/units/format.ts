/** Figures as growers read them; conversion happens here and nowhere else. */

export type LengthUnit = "cm" | "in";

const CM_PER_INCH = 2.54;

export function fromCm(cm: number, unit: LengthUnit): number {
  return unit === "cm" ? cm : cm / CM_PER_INCH;
}

export function toCm(value: number, unit: LengthUnit): number {
  return unit === "cm" ? value : value * CM_PER_INCH;
}

const KG_PER_LB = 0.45359237;
const BTU_PER_H_PER_W = 3.412;

export type TemperatureUnit = "C" | "F";

export function fromKg(kg: number, unit: LengthUnit): number {
  return unit === "cm" ? kg : kg / KG_PER_LB;
}

export function toKg(value: number, unit: LengthUnit): number {
  return unit === "cm" ? value : value * KG_PER_LB;
}

/** A weight with its unit: kilograms beside centimetres, pounds beside inches. */
export function weight(kg: number, unit: LengthUnit, decimals = 1): string {
  return `${trim(fromKg(kg, unit), decimals)} ${unit === "cm" ? "kg" : "lb"}`;
}

/** What ends as heat, of watts: in BTU/h beside inches. */
export function heat(watts: number, unit: LengthUnit): string {
  return unit === "cm" ? `${trim(watts, 1)} W` : `${Math.round(watts * BTU_PER_H_PER_W)} BTU/h`;
}

/** A temperature, or a difference of two, as it is shown. */
export function fromC(celsius: number, unit: TemperatureUnit, difference = false): number {
  return unit === "C" ? celsius : celsius * 1.8 + (difference ? 0 : 32);
}

export function toC(value: number, unit: TemperatureUnit, difference = false): number {
  return unit === "C" ? value : (value - (difference ? 0 : 32)) / 1.8;
}

/** A length with its unit, to the whole cm or the tenth of an inch. */
export function length(cm: number, unit: LengthUnit): string {
  return unit === "cm" ? `${Math.round(cm)} cm` : `${trim(cm / CM_PER_INCH, 1)} in`;
}

/** Where a lamp hangs, as a tape measure has it: whole cm, or quarters of an inch. */
export function hang(cm: number, unit: LengthUnit): string {
  return unit === "cm" ? length(cm, unit) : `${trim(Math.round((cm / CM_PER_INCH) * 4) / 4, 2)} in`;
}

/** A number with at most so many decimals and no trailing zeros. */
export function trim(value: number, decimals: number): string {
  return String(Number(value.toFixed(decimals)));
}

export function percent(share: number): string {
  return `${Math.round(share * 100)} %`;
}

/** Minutes after midnight as a clock time. */
export function clock(minute: number): string {
  const wrapped = ((minute % 1440) + 1440) % 1440;
  const hours = Math.floor(wrapped / 60);
  return `${String(hours).padStart(2, "0")}:${String(wrapped % 60).padStart(2, "0")}`;
}

/** When a lamp is on: 06:00 to 09:00 and 15:00 to 18:00. */
export function windowsWords(windows: { on_minute: number; hours: number }[]): string {
  return windows
    .map((w) => `${clock(w.on_minute)} to ${clock(w.on_minute + w.hours * 60)}`)
    .join(" and ");
}

/** A photoperiod: 11.5 -> 11 h 30. */
export function hours(value: number): string {
  const minutes = Math.round(value * 60);
  const rest = minutes % 60;
  return rest
    ? `${Math.floor(minutes / 60)} h ${String(rest).padStart(2, "0")}`
    : `${minutes / 60} h`;
}

export function money(amount: number, currency: string): string {
  const figure = amount.toFixed(2);
  return /^\p{L}/u.test(currency) ? `${figure} ${currency}` : `${currency}${figure}`;
}

const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

/** A day written like 2026-11-26 as people say it: 26 Nov 2026. */
export function dayWords(day: string): string {
  const [year, month, date] = day.split("-").map(Number);
  return `${date ?? ""} ${MONTHS[(month ?? 1) - 1] ?? ""} ${year ?? ""}`;
}
