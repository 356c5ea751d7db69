/** Day or night, as the grower chose it or as the device asks for it. */

const KEY = "idle-canopy-theme";
export type Theme = "bench-day" | "bench-night";

function preferred(): Theme {
  const kept = localStorage.getItem(KEY);
  if (kept === "bench-day" || kept === "bench-night") return kept;
  return matchMedia("(prefers-color-scheme: dark)").matches ? "bench-night" : "bench-day";
}

export const theme = $state<{ now: Theme }>({ now: "bench-day" });

export function applyTheme(chosen?: Theme): void {
  theme.now = chosen ?? preferred();
  if (chosen) localStorage.setItem(KEY, chosen);
  document.documentElement.dataset.theme = theme.now;
}
