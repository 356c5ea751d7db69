/** What was changed of a plan, as words. */

import type { TakenBack } from "../api/client";
import { groupLetter } from "./groups";

const WHAT: Record<TakenBack["what"], string> = {
  made_of: "which space, crop and lamp it has",
  lamps: "where its lamps hang",
  wishes: "what its season is planned by",
  name: "its name",
  levers: "height, dial and hours",
  switch: "a switch of the lamp",
  group: "group",
  space: "the space",
  crop: "the crop and its stages",
  fixture: "the lamp's record",
  light: "where the lamp's light is taken from",
};

/** What a change was about, and at which stage: "height, dial and hours at Flowering". */
export function changeWords({ what, group }: TakenBack, stage: string): string {
  const words = what === "group" ? `group ${groupLetter(group)}` : WHAT[what];
  return stage ? `${words} at ${stage}` : words;
}
