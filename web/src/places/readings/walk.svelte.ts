/** A walk over the canopy: what was asked once, the spots, and what was read.
 *
 * Each step is kept on this device, so that a reload loses nothing, and goes to the server by the
 * outbox, which may take its time.
 */

import type { FitIn, WalkAsked, WalkEntry, WalkKept, WalkTable } from "../../api/client";
import { newKey } from "../../api/key";
import { iso } from "../../units/moment";
import { FIVE, type Layout, type Spot, spotsOf } from "./spots";

export type Wall = NonNullable<FitIn["open_read"]>;
export type DaylightHow = WalkAsked["daylight"];

export interface Asked {
  height_cm: number;
  dial_pct: number | null;
  plane_cm: number | null;
  sensor_id: number | null;
  /** What the sensor shows with the lamp off. */
  zero: number;
  /** At the plug, at this dial. */
  watts: number | null;
  daylight: DaylightHow;
  open_read: Wall;
  open_now: Wall;
  left_out: NonNullable<FitIn["left_out"]>;
}

/** A spot as it was read. */
export interface Taken {
  shown: number;
  /** With the lamp off. */
  unlit: number | null;
  spread: number | null;
  /** When, in milliseconds. */
  at: number;
}

/** By spot: as it was read, null where it was left out, nothing where it is to come. */
export type Read = (Taken | null | undefined)[];

/** A look at the daylight with the lamp off. */
export interface Look {
  shown: number;
  at: number;
}

/** When the lamp was lit, in milliseconds; "waived": it is read cold; null: nobody said. */
export type Warm = number | "waived" | null;

/** What the next figure is: with the lamp on, with it off, or a look at the daylight alone. */
export type Asking = "lit" | "unlit" | "look";

interface State {
  layout: Layout;
  asked: Asked;
  read: Read;
  own: Spot[];
  looks: Look[];
  /** A spot's figure with the lamp on, while the one with it off is to come. */
  lit: number | null;
  /** The last look at the daylight was left out. */
  unlooked: boolean;
  at: number;
  /** The walk's, and of the fit that would be made of it now. */
  id: string;
  key: string;
  warm: Warm;
}

export type Enter = (walk: string, asked: WalkAsked, entry: WalkEntry) => void;

const STORE = "idle-canopy walk";
const VERSION = 2;
const OUT = -1;
const SAME_CM = 1;

const nothing = (): Asked => ({
  height_cm: 45,
  dial_pct: null,
  plane_cm: null,
  sensor_id: null,
  zero: 0,
  watts: null,
  daylight: "none",
  open_read: "",
  open_now: "",
  left_out: [],
});

type Kept = Partial<Omit<State, "read">> & { read?: (Taken | typeof OUT | null)[] };

function stored(place: string): Kept {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(place) ?? "null");
    if (found && typeof found === "object" && "version" in found && found.version === VERSION)
      return found as Kept;
  } catch {
    // what cannot be read is as good as nothing kept
  }
  return {};
}

export class Walk {
  layout = $state<Layout>({ ...FIVE });
  asked = $state<Asked>(nothing());
  read = $state<Read>([]);
  /** Spots that were added to the layout's. */
  own = $state<Spot[]>([]);
  looks = $state<Look[]>([]);
  lit = $state<number | null>(null);
  unlooked = $state(false);
  at = $state(0);
  id = $state(newKey());
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
    private readonly enter: Enter = () => undefined,
  ) {
    const kept = stored(store);
    this.layout = { ...this.layout, ...kept.layout };
    this.asked = { ...this.asked, ...kept.asked };
    this.read = (kept.read ?? []).map((each) => (each === OUT ? null : (each ?? undefined)));
    this.own = kept.own ?? [];
    this.looks = kept.looks ?? [];
    this.lit = kept.lit ?? null;
    this.unlooked = kept.unlooked ?? false;
    this.at = kept.at ?? 0;
    this.id = kept.id ?? this.id;
    this.key = kept.key ?? this.key;
    this.warm = kept.warm ?? null;
    this.resumed = this.read.some(Boolean);
  }

  spots = $derived.by(() => [...spotsOf(this.layout, this.width, this.depth), ...this.own]);
  spot = $derived<Spot | null>(this.spots[this.at] ?? null);
  left = $derived(this.spots.filter((_, i) => this.read[i] === undefined).length);
  done = $derived(this.left === 0);
  count = $derived(this.spots.filter((_, i) => this.read[i]).length);
  /** When its first figure was read. */
  begun = $derived(
    Math.min(...[...this.read, ...this.looks].flatMap((each) => (each ? [each.at] : []))),
  );

  /** Whether daylight is to be looked at next: at first, and once more at the end. */
  private lookDue = $derived.by(() => {
    const { daylight } = this.asked;
    if (daylight === "background" && !this.looks.length) return true;
    if (!this.done || !this.count || this.unlooked) return false;
    if (daylight === "background") {
      const last = Math.max(...this.read.map((each) => each?.at ?? 0));
      return last > (this.looks.at(-1)?.at ?? 0);
    }
    // a spot that was read twice has shown already whether daylight moves
    return daylight === "each" && !this.looks.length && !this.twice;
  });
  private twice = $derived(
    this.spots.some(
      (spot, i) =>
        this.read[i] &&
        this.spots.some(
          (other, k) =>
            k < i &&
            this.read[k] &&
            Math.hypot(other.x_cm - spot.x_cm, other.y_cm - spot.y_cm) <= SAME_CM,
        ),
    ),
  );
  /** What the next figure is; null when all is read. */
  asking = $derived<Asking | null>(
    this.lookDue ? "look" : !this.spot ? null : this.lit === null ? "lit" : "unlit",
  );
  /** Where the daylight is looked at: in the middle, or again where the walk began. */
  lookAt = $derived<Spot>(
    (this.asked.daylight === "each" ? this.spots[this.read.findIndex(Boolean)] : null) ??
      this.middle(),
  );

  private middle(): Spot {
    return { x_cm: this.width / 2, y_cm: this.depth / 2, lift_cm: 0, dial_pct: null };
  }

  /** All of it, to be taken up again. */
  state(): State {
    const { layout, asked, read, own, looks, lit, unlooked, at, id, key, warm } = this;
    return $state.snapshot({ layout, asked, read, own, looks, lit, unlooked, at, id, key, warm });
  }

  /** Keep it on this device. */
  keep(): void {
    if (!this.store) return;
    const now = this.state();
    const read = Array.from(now.read, (each) => (each === null ? OUT : (each ?? null)));
    try {
      localStorage.setItem(this.store, JSON.stringify({ version: VERSION, ...now, read }));
    } catch {
      // full or forbidden: the page goes on without
    }
  }

  /** What was asked once, as the server keeps it. */
  private get once(): WalkAsked {
    const { layout, asked, warm } = this;
    return $state.snapshot({ ...asked, layout, cold: warm === "waived" });
  }

  private tell(
    state: WalkEntry["state"],
    number: number,
    spot: Spot,
    taken: Partial<Taken> = {},
  ): void {
    this.enter(this.id, this.once, {
      key: newKey(),
      number,
      state,
      x_cm: spot.x_cm,
      y_cm: spot.y_cm,
      height_cm: this.asked.height_cm + spot.lift_cm,
      dial_pct: spot.dial_pct ?? this.asked.dial_pct,
      shown: taken.shown ?? null,
      unlit: taken.unlit ?? null,
      spread: taken.spread ?? null,
      at: iso(taken.at ?? Date.now()),
    });
  }

  /** Take a figure for what is asked next, and go on. */
  take(shown: number, spread: number | null = null): void {
    const now = Date.now();
    if (this.asking === "look") {
      this.looks = [...this.looks, { shown, at: now }];
      this.tell("daylight", 0, this.lookAt, { shown, at: now });
      this.changed();
      return;
    }
    const { spot } = this;
    if (!spot) return;
    if (this.asked.daylight === "each" && this.lit === null) {
      this.lit = shown;
      this.keep();
      return;
    }
    const taken: Taken =
      this.lit === null
        ? { shown, unlit: null, spread, at: now }
        : { shown: this.lit, unlit: shown, spread, at: now };
    this.read[this.at] = taken;
    this.tell("read", this.at, spot, taken);
    this.onward();
  }

  /** Look at the daylight now, whatever is next. */
  look(shown: number): void {
    this.looks = [...this.looks, { shown, at: Date.now() }];
    this.tell("daylight", 0, this.lookAt, { shown });
    this.changed();
  }

  /** Leave out what is asked next. */
  skip(): void {
    const { spot } = this;
    if (this.asking === "look" && this.done) {
      this.unlooked = true;
      this.keep();
    } else if (spot) {
      this.read[this.at] = null;
      this.tell("left_out", this.at, spot);
      this.onward();
    }
  }

  private onward(): void {
    this.lit = null;
    const next = this.spots.findIndex((_, i) => i > this.at && this.read[i] === undefined);
    const open = this.spots.findIndex((_, i) => this.read[i] === undefined);
    this.at = next >= 0 ? next : open >= 0 ? open : this.spots.length;
    this.changed();
  }

  /** Go back to the spot read last, its figure taken away. */
  back(): void {
    if (this.lit !== null) {
      this.lit = null;
      this.keep();
      return;
    }
    const last = this.at - 1;
    const spot = this.spots[last];
    if (!spot) return;
    this.at = last;
    if (this.read[last] !== undefined) this.tell("taken_back", last, spot);
    this.read[last] = undefined;
    this.changed();
  }

  go(at: number): void {
    this.at = at;
    this.lit = null;
    this.keep();
  }

  warmUp(warm: Warm): void {
    this.warm = warm;
    this.keep();
  }

  lay(layout: Layout): void {
    this.layout = layout;
    this.clear();
  }

  add(spot: Spot): void {
    this.own = [...this.own, spot];
    this.at = this.spots.length - 1;
    this.changed();
  }

  /** Begin another walk, as what was asked once stands. */
  clear(): void {
    [this.read, this.own, this.looks, this.lit] = [[], [], [], null];
    [this.unlooked, this.at, this.id] = [false, 0, newKey()];
    this.changed();
  }

  /** Take a walk up again that was left. */
  restore(state: State): Promise<void> {
    Object.assign(this, state);
    this.changed();
    return Promise.resolve();
  }

  /** Take up a walk that the server has. */
  load(kept: WalkKept): void {
    const { layout, cold, ...asked } = kept.asked;
    this.layout = { ...FIVE, ...layout };
    this.asked = { ...nothing(), ...asked };
    [this.own, this.read, this.looks] = [[], [], []];
    for (const each of kept.spots) {
      const at = Date.parse(each.at);
      const { shown, unlit, spread } = each;
      if (each.state === "daylight") {
        if (shown !== null) this.looks.push({ shown, at });
        continue;
      }
      const spot: Spot = {
        x_cm: each.x_cm,
        y_cm: each.y_cm,
        lift_cm: each.height_cm - this.asked.height_cm,
        dial_pct: each.dial_pct === this.asked.dial_pct ? null : each.dial_pct,
      };
      // spots that were added come after the layout's; those that nobody read are forgotten
      const number = Math.min(each.number, this.spots.length);
      if (number === this.spots.length) this.own.push(spot);
      this.read[number] = shown === null ? null : { shown, unlit, spread, at };
    }
    this.warm = cold ? "waived" : null;
    const open = this.spots.findIndex((_, i) => this.read[i] === undefined);
    [this.id, this.at, this.lit] = [kept.key, open >= 0 ? open : this.spots.length, null];
    this.changed();
  }

  /** Take readings that come as a table for a walk of their own. */
  fill(readings: WalkTable["readings"]): void {
    const first = readings[0];
    if (!first) return;
    this.layout = { ...FIVE, name: "own", lift_cm: 0, dials: this.layout.dials };
    this.clear();
    // a table that has no dial was read with it where it stands
    const dial = first.dial_pct ?? this.asked.dial_pct;
    this.asked = { ...this.asked, height_cm: first.height_cm, dial_pct: dial };
    this.own = readings.map((row) => ({
      x_cm: row.x_cm,
      y_cm: row.y_cm,
      lift_cm: row.height_cm - first.height_cm,
      dial_pct: row.dial_pct === dial ? null : row.dial_pct,
    }));
    const at = Date.now();
    this.read = readings.map((row) => ({ shown: row.ppfd, unlit: null, spread: null, at }));
    this.spots.forEach((spot, i) => this.tell("read", i, spot, this.read[i] ?? {}));
    this.at = this.spots.length;
    this.changed();
  }

  /** What was changed is another walk to the server. */
  changed(): void {
    this.key = newKey();
    this.keep();
  }

  private since(at: number): number {
    return (at - this.begun) / 1000;
  }

  /** Daylight as it was looked at; of pairs the first spot's is the first look. */
  private backgrounds(): NonNullable<FitIn["backgrounds"]> {
    const { daylight } = this.asked;
    if (daylight !== "each" && daylight !== "background") return [];
    const first = this.read.find(Boolean);
    const pair =
      daylight === "each" && this.looks.length && first?.unlit != null
        ? [{ shown: first.unlit, at: first.at }]
        : [];
    return [...pair, ...this.looks].map(({ shown, at }) => ({ shown, at_s: this.since(at) }));
  }

  /** What is sent of it. */
  body = $derived.by<FitIn>(() => ({
    rows: this.spots.flatMap((spot, i) => {
      const taken = this.read[i];
      return taken
        ? [
            {
              x_cm: spot.x_cm,
              y_cm: spot.y_cm,
              height_cm: this.asked.height_cm + spot.lift_cm,
              dial_pct: spot.dial_pct ?? this.asked.dial_pct,
              reading: taken.shown,
              unlit: this.asked.daylight === "each" ? taken.unlit : null,
              at_s: this.since(taken.at),
            },
          ]
        : [];
    }),
    spots: this.spots.map((spot) => ({
      x_cm: spot.x_cm,
      y_cm: spot.y_cm,
      height_cm: this.asked.height_cm + spot.lift_cm,
      dial_pct: spot.dial_pct ?? this.asked.dial_pct,
    })),
    map_id: null,
    sensor_id: this.asked.sensor_id,
    left_out: this.asked.left_out,
    plane_cm: this.asked.plane_cm,
    floor_reflectance: null,
    edge_cm: null,
    zero: this.asked.zero,
    backgrounds: this.backgrounds(),
    watts: this.layout.name === "steps" ? null : this.asked.watts,
    daylight: this.asked.daylight === "left",
    open_read: this.asked.open_read,
    open_now: this.asked.open_now,
    read_on: null,
    walk: null,
    note: this.warm === "waived" ? "read cold" : "",
    height_cm: this.asked.height_cm,
  }));

  /** What a reading is of the lamp alone, as far as the daylight is known yet. */
  net(taken: Taken): number {
    if (this.asked.daylight === "each") return taken.shown - (taken.unlit ?? 0);
    if (this.asked.daylight === "background") return taken.shown - (this.looks.at(-1)?.shown ?? 0);
    return taken.shown - this.asked.zero;
  }
}

/** The walk of a grower in a space, as this device has it. */
export function walkOf(
  grower: string,
  spaceId: number,
  width: number,
  depth: number,
  enter: Enter,
): Walk {
  return new Walk(`${STORE}: ${grower}, ${spaceId}`, width, depth, enter);
}
