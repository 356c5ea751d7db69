import type { Bench } from "../api/client";

type PartName = Bench["certainty"]["parts"][number]["name"];

/** What of an answer is not known. */
export const DOUBT_WORDS: Record<PartName, string> = {
  ppf: "the lamp's PPF",
  footprint: "where on the lamp its light comes from",
  lining: "how much the lining reflects",
  room: "mirrors, canopy, how true it hangs, and what no model has",
  sensor: "the sensor's calibration",
  spots: "between and beyond the spots read",
  dial: "the dial, whose table is assumed",
  fit: "what your readings leave open, the sensor's calibration in it",
};

/** What would make the largest of them smaller; nothing where nothing helps. */
export const DOUBT_HELP: Partial<Record<PartName, string>> = {
  ppf: "Five readings in your space would take its place.",
  footprint: "Give the lamp's layout in its record.",
  lining: "Five readings in your space would take its place.",
  room: "Five readings in your space would take its place.",
  sensor: "A quantum sensor reads to about 2 %.",
  spots: "Read the middle and four corners, here and 20 cm higher.",
  dial: "Read the middle at this dial, or its watts.",
  fit: "Readings says where one more would help most.",
};
