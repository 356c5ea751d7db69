/** The places, in the order of the work; Bench and Season are loaded when they are first opened. */

import { createRouter } from "sv-router";

import FixturesPlace from "../places/fixtures/FixturesPlace.svelte";
import SpacePlace from "../places/space/SpacePlace.svelte";

export const { p, navigate, isActive, route } = createRouter({
  "/": () => import("../places/bench/BenchPlace.svelte"),
  "/space": SpacePlace,
  "/fixtures": FixturesPlace,
  "/bench": () => import("../places/bench/BenchPlace.svelte"),
  "/season": () => import("../places/season/SeasonPlace.svelte"),
  "*": SpacePlace,
});

export const PLACES = [
  { path: "/space", name: "Space & crop", key: "1" },
  { path: "/fixtures", name: "Fixtures", key: "2" },
  { path: "/bench", name: "Bench", key: "3" },
  { path: "/season", name: "Season", key: "4" },
] as const;
