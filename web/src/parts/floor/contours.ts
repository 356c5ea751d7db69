/** Drawing only: level lines of the server's map. */

import { contours } from "d3-contour";

/** A map with its outermost values repeated one cell outwards, so that lines reach the walls. */
function padded(rows: number[][]): { values: number[]; nx: number; ny: number } {
  const wide = rows.map((row) => [row[0] ?? 0, ...row, row.at(-1) ?? 0]);
  const all = [wide[0] ?? [], ...wide, wide.at(-1) ?? []];
  return { values: all.flat(), nx: all[0]?.length ?? 0, ny: all.length };
}

export interface Level {
  at: number;
  path: string;
}

/** The area at or above each level, as SVG paths in px; the y axis of the floor points up. */
export function levels(rows: number[][], at: number[], cellX: number, cellY: number): Level[] {
  const { values, nx, ny } = padded(rows);
  if (!nx || !ny) return [];
  const height = rows.length * cellY;
  const shape = contours().size([nx, ny]);
  return at.map((level) => {
    const { coordinates } = shape.contour(values, level);
    const rings = coordinates.flat().map((ring) =>
      ring
        .map((point, i) => {
          const [x = 0, y = 0] = point;
          const px = ((x - 1) * cellX).toFixed(1);
          const py = (height - (y - 1) * cellY).toFixed(1);
          return `${i ? "L" : "M"}${px} ${py}`;
        })
        .join(""),
    );
    return { at: level, path: rings.map((ring) => `${ring}Z`).join("") };
  });
}

/** Round levels across a range, about `count` of them. */
export function roundLevels(low: number, high: number, count: number): number[] {
  const span = high - low;
  if (!(span > 0)) return [];
  const rough = span / count;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = ([1, 2, 5, 10].find((m) => m * power >= rough) ?? 10) * power;
  const first = Math.ceil(low / step) * step;
  return Array.from({ length: Math.floor((high - first) / step) + 1 }, (_, i) => first + i * step);
}
