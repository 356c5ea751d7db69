/** The places, in the order of the work. */

export const PLACES = [
  { path: "/today", name: "Today", key: "t" },
  { path: "/space", name: "Space & crop", key: "1" },
  { path: "/fixtures", name: "Fixtures", key: "2" },
  { path: "/bench", name: "Bench", key: "3" },
  { path: "/season", name: "Season", key: "4" },
  { path: "/install", name: "Install", key: "5" },
  { path: "/readings", name: "Readings", key: "6" },
  { path: "/logbook", name: "Logbook", key: "7" },
  { path: "/review", name: "Review", key: "8" },
  { path: "/sums", name: "Sums", key: "0" },
] as const;

/** Places one goes to from within another. */
const ASIDE = [
  { path: "/plans", name: "Plans side by side" },
  { path: "/power", name: "Power" },
  { path: "/devices", name: "Devices" },
  { path: "/account", name: "Your account" },
] as const;

/** What the browser's tab is called at an address. */
export function titleOf(path: string): string {
  const place = [...PLACES, ...ASIDE].find((one) => one.path === (path === "/" ? "/bench" : path));
  return `${place?.name ?? "Not found"} – Idle Canopy`;
}
