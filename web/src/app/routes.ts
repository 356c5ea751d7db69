/** Which place stands at which address; most are loaded when they are first opened. */

import { createRouter } from "sv-router";

import FixturesPlace from "../places/fixtures/FixturesPlace.svelte";
import SpacePlace from "../places/space/SpacePlace.svelte";
import Nowhere from "./Nowhere.svelte";

export const { p, navigate, isActive, route } = createRouter({
  "/": () => import("../places/bench/BenchPlace.svelte"),
  "/today": () => import("../places/today/TodayPlace.svelte"),
  "/space": SpacePlace,
  "/fixtures": FixturesPlace,
  "/bench": () => import("../places/bench/BenchPlace.svelte"),
  "/sums": () => import("../places/sums/SumsPlace.svelte"),
  "/power": () => import("../places/power/PowerPlace.svelte"),
  "/install": () => import("../places/install/InstallPlace.svelte"),
  "/devices": () => import("../places/devices/DevicesPlace.svelte"),
  "/readings": () => import("../places/readings/ReadingsPlace.svelte"),
  "/logbook": () => import("../places/logbook/LogbookPlace.svelte"),
  "/review": () => import("../places/review/ReviewPlace.svelte"),
  "/account": () => import("../places/account/AccountPlace.svelte"),
  "/plans": () => import("../places/plans/PlansPlace.svelte"),
  "/season": () => import("../places/season/SeasonPlace.svelte"),
  "*": Nowhere,
});
