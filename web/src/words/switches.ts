/** The switches of a lamp that has several, as they stand at a stage. */

import { trim } from "../units/format";

interface Switch {
  name: string;
  dimmed: boolean;
  dial_pct: number | null;
}

/** Where a switch stands, in a few words; nothing where it does as the plan's dial. */
export function switchWords(one: Switch): string {
  if (one.dial_pct === null) return "";
  if (one.dial_pct === 0) return `${one.name} off`;
  return one.dimmed ? `${one.name} at ${trim(one.dial_pct, 1)}` : `${one.name} on`;
}

/** All switches that are set, in a few words. */
export function switchesWords(switches: Switch[]): string {
  return switches.map(switchWords).filter(Boolean).join(", ");
}
