/** Plans side by side, as words. */

import type { FloorDifference, PlanBeside } from "../../api/client";
import { money } from "../../units/format";

const signed = (value: number, unit: string, decimals = 0): string =>
  `${value > 0 ? "+" : "−"}${Math.abs(value).toFixed(decimals)}${unit}`;

/** A figure beside the first plan's, as a share: "+12 %"; nothing where they are the same. */
export function shareWords(value: number, first: number): string {
  if (!(first > 0)) return "";
  const whole = Math.round((value / first - 1) * 100);
  return whole ? signed(whole, " %") : "";
}

/** What a plan gains or costs beside the first one, in one sentence's worth of words. */
export function gainWords(
  plan: PlanBeside,
  first: PlanBeside,
  difference: FloorDifference | null,
): string {
  if (plan.refused || first.refused) return plan.refused || "the first of them cannot be planned";
  const said: string[] = [];
  const kwh = plan.kwh - first.kwh;
  if (Math.abs(kwh) >= 0.5) {
    const cost = Math.abs(plan.cost - first.cost);
    const price = plan.currency === first.currency ? `, ${money(cost, plan.currency)}` : "";
    said.push(`${Math.abs(kwh).toFixed(0)} kWh ${kwh < 0 ? "less" : "more"} in all${price}`);
  } else said.push("the same energy");
  const at = plan.stage?.outcome;
  const was = first.stage?.outcome;
  const stage = plan.stage?.name ?? "";
  if (at && was) {
    const dli = at.dli - was.dli;
    if (Math.abs(dli) >= 0.05) said.push(`${signed(dli, " mol a day", 1)} at ${stage}`);
    if (difference && Math.abs(difference.mean) >= 1)
      said.push(`its floor ${signed(Math.round(difference.mean), " µmol/m²/s")} on average`);
    const evenness = at.evenness - was.evenness;
    if (Math.abs(evenness) >= 0.01) said.push(`${evenness > 0 ? "more" : "less"} even`);
  }
  const trips = plan.trips - first.trips;
  if (trips)
    said.push(
      `${Math.abs(trips)} ${Math.abs(trips) === 1 ? "trip" : "trips"} ${trips < 0 ? "fewer" : "more"}`,
    );
  const short = plan.short.length - first.short.length;
  if (short)
    said.push(
      `${Math.abs(short)} ${Math.abs(short) === 1 ? "stage" : "stages"} ${short < 0 ? "fewer" : "more"} short of a target`,
    );
  return said.join("; ");
}
