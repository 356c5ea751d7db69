/** Where to read: layouts for a tent, in cm from the left and the front. */

export interface Spot {
  x_cm: number;
  y_cm: number;
  /** How much higher than at first the lamp hangs. */
  lift_cm: number;
  /** Where the dial stands there; null: as on the whole walk. */
  dial_pct: number | null;
}

export type LayoutName = "five" | "nine" | "twenty-five" | "grid" | "steps" | "own";

export interface Layout {
  name: LayoutName;
  columns: number;
  rows: number;
  /** In the middles of equal cells, or from edge to edge. */
  places: "cells" | "edges";
  /** How far from the walls the outermost stand, where not in cells' middles. */
  edge_cm: number;
  /** The middle is read once more with the lamp so much higher; 0: not. */
  lift_cm: number;
  /** The dial's positions that are gone through. */
  dials: number[];
}

export const LAYOUTS: { value: LayoutName; label: string }[] = [
  { value: "five", label: "Five quick: middle and corners" },
  { value: "nine", label: "3 × 3" },
  { value: "twenty-five", label: "5 × 5" },
  { value: "grid", label: "Rows of my own" },
  { value: "own", label: "Spots of my own" },
  { value: "steps", label: "Middle and corners, through the dial's steps" },
];

export const EDGE_CM = 8;
export const LIFT_CM = 20;

export const FIVE: Layout = {
  name: "five",
  columns: 3,
  rows: 3,
  places: "edges",
  edge_cm: EDGE_CM,
  lift_cm: LIFT_CM,
  dials: [],
};

/** A layout by its name, as the rest was chosen before. */
export function named(name: LayoutName, before: Layout): Layout {
  const { dials } = before;
  if (name === "five") return { ...FIVE, dials };
  if (name === "steps" || name === "own") return { ...FIVE, name, lift_cm: 0, dials };
  const side = name === "nine" ? 3 : name === "twenty-five" ? 5 : before.columns;
  const rows = name === "grid" ? before.rows : side;
  return { ...before, name, columns: side, rows, lift_cm: 0 };
}

function along(side: number, count: number, layout: Layout): number[] {
  if (layout.places === "cells" && layout.name !== "five")
    return Array.from({ length: count }, (_, i) => ((i + 0.5) * side) / count);
  const edge = Math.min(layout.edge_cm, side / 2);
  if (count === 1) return [side / 2];
  return Array.from({ length: count }, (_, i) => edge + (i * (side - 2 * edge)) / (count - 1));
}

/** The spots of a layout, in the order they are walked: to and fro, from the front. */
export function spotsOf(layout: Layout, width: number, depth: number): Spot[] {
  if (layout.name === "own") return [];
  if (layout.name === "steps") {
    const five = spotsOf({ ...layout, name: "five", lift_cm: 0 }, width, depth);
    return layout.dials.flatMap((dial_pct) => five.map((spot) => ({ ...spot, dial_pct })));
  }
  const xs = along(width, layout.columns, layout);
  const ys = along(depth, layout.rows, layout);
  const spot = (x: number, y: number): Spot => ({
    x_cm: x,
    y_cm: y,
    lift_cm: 0,
    dial_pct: null,
  });
  const middle = spot(width / 2, depth / 2);
  const first =
    layout.name === "five"
      ? [
          middle,
          spot(xs[0] ?? 0, ys[0] ?? 0),
          spot(xs[2] ?? 0, ys[0] ?? 0),
          spot(xs[2] ?? 0, ys[2] ?? 0),
          spot(xs[0] ?? 0, ys[2] ?? 0),
        ]
      : ys.flatMap((y, j) => (j % 2 ? [...xs].reverse() : xs).map((x) => spot(x, y)));
  return layout.lift_cm ? [...first, { ...middle, lift_cm: layout.lift_cm }] : first;
}
