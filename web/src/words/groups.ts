/** Groups of lamps that are set by themselves: A is the rails' own. */

import { trim, windowsWords } from "../units/format";

interface Group {
  group: number;
  own: boolean;
  own_timer: boolean;
  dial_pct: number;
  watts: number;
  windows: { on_minute: number; hours: number }[];
}

export function groupLetter(group: number): string {
  return String.fromCharCode("A".charCodeAt(0) + group);
}

/** What a group is set to, in a few words; nothing where it does as the rails say. */
export function groupWords(group: Group): string {
  const letter = groupLetter(group.group);
  if (!group.own) return "";
  if (group.dial_pct === 0) return `${letter} off`;
  const dial = `${letter} dial ${trim(group.dial_pct, 1)} (${Math.round(group.watts)} W)`;
  return group.own_timer ? `${dial}, ${windowsWords(group.windows)}` : dial;
}

/** All groups that are set, in a few words. */
export function groupsWords(groups: Group[]): string {
  return groups.map(groupWords).filter(Boolean).join("; ");
}
