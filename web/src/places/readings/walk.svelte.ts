/** A walk over the canopy: what was asked once, the spots, and what was read; kept on this device
 * until it is planned by, so that a reload loses nothing. */

import type { FitIn } from "../../api/client";
import { newKey } from "../../api/key";
import { FIVE, type Layout, type Spot, spotsOf } from "./spots";

export type Wall = NonNullable<FitIn["open_read"]>;

export interface Asked {
  height_cm: number;
  dial_pct: number | null;
  plane_cm: number | null;
  sensor_id: number | null;
  /** What the sensor shows with the lamp off. */
  zero: number;
  daylight: boolean;
  open_read: Wall;
  open_now: Wall;
  left_out: NonNullable<FitIn["left_out"]>;
}

/** When the lamp was lit, in milliseconds; "waived": it is read cold; null: nobody said. */
export type Warm = number | "waived" | null;

interface Kept {
  layout: Layout;
  asked: Asked;
  /** By spot; null where it is to come, OUT where it was left out. */
  read: (number | null)[];
  own: Spot[];
  at: number;
  key: string;
  warm: Warm;
}

const STORE = "idle-canopy walk";
const VERSION = 1;
const OUT = -1;

const nothing = (): Asked => ({
  height_cm: 45,
  dial_pct: null,
  plane_cm: null,
  sensor_id: null,
  zero: 0,
  daylight: false,
  open_read: "",
  open_now: "",
  left_out: [],
});

function stored(key: string): Partial<Kept> {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(key) ?? "null");
    if (found && typeof found === "object" && "version" in found && found.version === VERSION)
      return found as Partial<Kept>;
  } catch {
    // what cannot be read is as good as nothing kept
  }
  return {};
}

export class Walk {
  layout = $state<Layout>({ ...FIVE });
  asked = $state<Asked>(nothing());
  /** By spot; null where it was left out, nothing where it is to come. */
  read = $state<(number | null | undefined)[]>([]);
  /** Spots that were added to the layout's. */
  own = $state<Spot[]>([]);
  at = $state(0);
  /** Sent with what is kept, so that it is kept once. */
  key = $state(newKey());
  warm = $state<Warm>(null);
  litAt = $derived(typeof this.warm === "number" ? this.warm : null);
  /** Whether anything was found on this device when it was opened. */
  readonly resumed: boolean;

  constructor(
    private readonly store: string,
    readonly width: number,
    readonly depth: number,
  ) {
    const kept = stored(store);
    this.layout = { ...this.layout, ...kept.layout };
    this.asked = { ...this.asked, ...kept.asked };
    this.read = (kept.read ?? []).map((value) => (value === OUT ? null : (value ?? undefined)));
    this.own = kept.own ?? [];
    this.at = kept.at ?? 0;
    this.key = kept.key ?? this.key;
    this.warm = kept.warm ?? null;
    this.resumed = this.read.some((value) => typeof value === "number");
  }

  spots = $derived.by(() => [...spotsOf(this.layout, this.width, this.depth), ...this.own]);
  spot = $derived<Spot | null>(this.spots[this.at] ?? null);
  left = $derived(this.spots.filter((_, i) => this.read[i] === undefined).length);
  done = $derived(this.left === 0);
  count = $derived(this.spots.filter((_, i) => typeof this.read[i] === "number").length);

  /** Keep it on this device. */
  keep(): void {
    const { layout, asked, read, own, at, key, warm } = this;
    const now = $state.snapshot({ layout, asked, read, own, at, key, warm });
    const values = Array.from(now.read, (value) => (value === null ? OUT : (value ?? null)));
    const kept = { version: VERSION, ...now, read: values };
    try {
      localStorage.setItem(this.store, JSON.stringify(kept));
    } catch {
      // full or forbidden: the page goes on without
    }
  }

  /** Take a figure for the spot that is next, and go on. */
  take(value: number | null): void {
    this.read[this.at] = value;
    const next = this.spots.findIndex((_, i) => i > this.at && this.read[i] === undefined);
    const open = this.spots.findIndex((_, i) => this.read[i] === undefined);
    this.at = next >= 0 ? next : open >= 0 ? open : this.spots.length;
    this.changed();
  }

  /** Go back to the spot read last, its figure taken away. */
  back(): void {
    const last = this.at - 1;
    if (last < 0) return;
    this.at = last;
    this.read[last] = undefined;
    this.changed();
  }

  go(at: number): void {
    this.at = at;
    this.keep();
  }

  warmUp(warm: Warm): void {
    this.warm = warm;
    this.keep();
  }

  lay(layout: Layout): void {
    this.layout = layout;
    this.read = [];
    this.own = [];
    this.at = 0;
    this.changed();
  }

  add(spot: Spot): void {
    this.own = [...this.own, spot];
    this.at = this.spots.length - 1;
    this.changed();
  }

  /** Begin anew, as what was asked once stands. */
  clear(): void {
    this.read = [];
    this.own = [];
    this.at = 0;
    this.changed();
  }

  /** Take a walk up again that was cleared. */
  restore(read: Walk["read"], own: Spot[], at: number): Promise<void> {
    [this.read, this.own, this.at] = [read, own, at];
    this.changed();
    return Promise.resolve();
  }

  /** What was changed is another walk to the server. */
  changed(): void {
    this.key = newKey();
    this.keep();
  }

  /** What is sent of it. */
  body = $derived.by<FitIn>(() => ({
    rows: this.spots.flatMap((spot, i) => {
      const value = this.read[i];
      return typeof value === "number"
        ? [
            {
              x_cm: spot.x_cm,
              y_cm: spot.y_cm,
              height_cm: this.asked.height_cm + spot.lift_cm,
              dial_pct: this.asked.dial_pct,
              reading: Math.max(value - this.asked.zero, 0),
            },
          ]
        : [];
    }),
    spots: this.spots.map((spot) => ({
      x_cm: spot.x_cm,
      y_cm: spot.y_cm,
      height_cm: this.asked.height_cm + spot.lift_cm,
    })),
    map_id: null,
    sensor_id: this.asked.sensor_id,
    left_out: this.asked.left_out,
    plane_cm: this.asked.plane_cm,
    floor_reflectance: null,
    edge_cm: null,
    daylight: this.asked.daylight,
    open_read: this.asked.open_read,
    open_now: this.asked.open_now,
    read_on: null,
    note: this.warm === "waived" ? "read cold" : "",
    height_cm: this.asked.height_cm,
  }));
}

/** The walk of a grower in a space, as this device has it. */
export function walkOf(grower: string, spaceId: number, width: number, depth: number): Walk {
  return new Walk(`${STORE}: ${grower}, ${spaceId}`, width, depth);
}
