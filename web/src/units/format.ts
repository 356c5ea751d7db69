/** Figures as growers read them; conversion happens here and nowhere else. */

export type LengthUnit = "cm" | "in";

const CM_PER_INCH = 2.54;

export function fromCm(cm: number, unit: LengthUnit): number {
  return unit === "cm" ? cm : cm / CM_PER_INCH;
}

export function toCm(value: number, unit: LengthUnit): number {
  return unit === "cm" ? value : value * CM_PER_INCH;
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
