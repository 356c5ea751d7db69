/** What was looked at last, kept by the browser: this tab's own, else the last of any tab. */

export interface Looked {
  plan?: number;
  /** The stage looked at, by plan. */
  stages: Record<string, number>;
  /** The day of that stage from which it is looked at, where that is not its first. */
  days: Record<string, number>;
}

const key = (grower: string): string => `idle-canopy looked at: ${grower}`;

export function lookedAt(grower: string): Looked {
  for (const store of stores()) {
    try {
      const kept = JSON.parse(store.getItem(key(grower)) ?? "null") as Partial<Looked> | null;
      if (kept && typeof kept === "object")
        return {
          plan: Number(kept.plan) || undefined,
          stages: { ...kept.stages },
          days: { ...kept.days },
        };
    } catch {
      // what cannot be read is as good as nothing kept
    }
  }
  return { stages: {}, days: {} };
}

export function keepLooked(grower: string, looked: Looked): void {
  for (const store of stores()) {
    try {
      store.setItem(key(grower), JSON.stringify(looked));
    } catch {
      // full or forbidden: the page goes on without
    }
  }
}

function stores(): Storage[] {
  try {
    return [globalThis.sessionStorage, globalThis.localStorage].filter(Boolean);
  } catch {
    return [];
  }
}
