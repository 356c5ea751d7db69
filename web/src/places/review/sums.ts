/** A run's sums in words, alike in its own table and beside another's. */

import type { Review } from "../../api/client";
import { money, trim } from "../../units/format";

export type Sums = Review["whole"];

export const UNIT_WORDS: Record<string, string> = { g: "g", pieces: "piece", "": "" };

const mol = (value: number | null): string => (value === null ? "–" : trim(value, 1));
const kwh = (value: number | null): string => (value === null ? "–" : `${trim(value, 1)} kWh`);
/** A price: a small one to as many decimals as it takes to be one. */
export function price(value: number | null, currency: string): string {
  if (value === null) return "–";
  if (value >= 0.1 || value <= 0) return money(value, currency);
  const decimals = Math.min(1 - Math.floor(Math.log10(value)), 6);
  return money(0, currency).replace("0.00", value.toFixed(decimals));
}

export const given = (sums: Sums): string =>
  sums.dli === null
    ? "not known"
    : `${trim(sums.dli, 1)} (${trim(sums.dli_low ?? 0, 1)}–${trim(sums.dli_high ?? 0, 1)})`;
export const plannedDli = (sums: Sums): string => mol(sums.planned_dli);
export const inside = (sums: Sums): string => `${sums.inside_days} of ${sums.known_days}`;
export const plannedKwh = (sums: Sums): string => kwh(sums.planned_kwh);
export const usedKwh = (sums: Sums): string => kwh(sums.kwh);
export const plannedMoney = (sums: Sums, currency: string): string =>
  sums.planned_cost === null ? "–" : money(sums.planned_cost, currency);
export const paid = (sums: Sums, currency: string): string => money(sums.cost, currency);

export interface Row {
  label: string;
  value: string;
}

/** What a run cost by what there was of it; only what is known. */
export function costRows({ shares, currency, harvest_unit, plants, harvest }: Review): Row[] {
  const unit = UNIT_WORDS[harvest_unit] ?? "";
  const found: (Row | null)[] = [
    shares.cost_a_plant === null
      ? null
      : {
          label: `A plant, of ${plants ?? 0}`,
          value: `${price(shares.cost_a_plant, currency)}, ${trim(shares.kwh_a_plant ?? 0, 1)} kWh`,
        },
    shares.cost_a_unit === null
      ? null
      : {
          label: `A ${unit} of ${trim(harvest ?? 0, 1)} harvested`,
          value: price(shares.cost_a_unit, currency),
        },
    shares.units_a_kwh === null
      ? null
      : { label: "Harvest for a kWh", value: `${trim(shares.units_a_kwh, 1)} ${unit}` },
    shares.cost_a_mol === null
      ? null
      : { label: "A mol on the canopy", value: price(shares.cost_a_mol, currency) },
    shares.carbon_kg === null
      ? null
      : { label: "Carbon of the grid", value: `${trim(shares.carbon_kg, 1)} kg` },
  ];
  return found.filter((row) => row !== null);
}

/** Two runs' figures, alike, so that they can stand beside each other. */
export function besideRows(review: Review): Row[] {
  const { whole, currency } = review;
  const a = (value: number): number => value / Math.max(whole.days, 1);
  const rows: Row[] = [
    { label: "Days", value: `${whole.days}` },
    { label: "Light a day, planned", value: plannedDli(whole) },
    { label: "Light a day, given", value: given(whole) },
    { label: "Days inside the band", value: inside(whole) },
    { label: "Energy", value: usedKwh(whole) },
    { label: "Energy a day", value: `${trim(a(whole.kwh), 2)} kWh` },
    { label: "Money", value: paid(whole, currency) },
    { label: "Money a day", value: price(a(whole.cost), currency) },
    { label: "Hands on the lamp", value: `${whole.moves}` },
    {
      label: "Harvest",
      value: review.harvest === null ? "–" : `${trim(review.harvest, 1)} ${review.harvest_unit}`,
    },
  ];
  const { shares } = review;
  return [
    ...rows,
    { label: "A plant", value: price(shares.cost_a_plant, currency) },
    { label: "A gram or piece", value: price(shares.cost_a_unit, currency) },
    { label: "A mol on the canopy", value: price(shares.cost_a_mol, currency) },
  ];
}
