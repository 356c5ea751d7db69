/** What a season can be planned for, as it is chosen. */

import type { Run } from "../api/client";

const NAMES: Record<Run["aim"], string> = {
  likely: "Likeliest to hold",
  middle: "Middle of the band",
  energy: "Least energy",
  even: "Most even",
  gentle: "Gentlest peak",
  moves: "Fewest moves",
};

export const AIMS = Object.entries(NAMES).map(([value, label]) => ({
  value: value as Run["aim"],
  label,
}));

export function aimName(aim: Run["aim"]): string {
  return NAMES[aim];
}
