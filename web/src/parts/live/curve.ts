/** A series as lines to draw: broken where nothing was heard. */

import type { DeviceCurve } from "../../api/client";

export interface Drawn {
  band: string;
  line: string;
  low: number;
  high: number;
}

/** Paths of a curve in a box; its lowest and highest stand at the box's edges. */
export function drawn(curve: DeviceCurve, width: number, height: number): Drawn {
  const lows = curve.low.length ? curve.low : [0];
  const highs = curve.high.length ? curve.high : [0];
  const [least, most] = [Math.min(...lows), Math.max(...highs)];
  // what hardly moves is drawn as hardly moving
  const span = Math.max(most - least, Math.abs(most) * 0.05, 1e-9);
  const low = most - least < span ? (most + least - span) / 2 : least;
  const x = (ms: number): number =>
    ((ms - curve.since_ms) / (curve.until_ms - curve.since_ms)) * width;
  const y = (value: number): number => height - ((value - low) / span) * height;
  const steps = curve.at_ms.slice(1).map((at, i) => at - (curve.at_ms[i] ?? at));
  const usual = [...steps].sort((a, b) => a - b)[Math.floor(steps.length / 2)] ?? Infinity;
  const parts: number[][] = [];
  curve.at_ms.forEach((at, i) => {
    const before = curve.at_ms[i - 1];
    if (before === undefined || at - before > 4 * usual) parts.push([]);
    parts.at(-1)?.push(i);
  });
  const points = (part: number[], values: number[]): string[] =>
    part.map((i) => `${x(curve.at_ms[i] ?? 0).toFixed(1)} ${y(values[i] ?? 0).toFixed(1)}`);
  return {
    band: parts
      .map(
        (part) =>
          `M${[...points(part, curve.high), ...points(part, curve.low).reverse()].join("L")}Z`,
      )
      .join(""),
    // one reading alone is a dot
    line: parts
      .map((part) => `M${points(part, curve.mean).join("L")}${part.length > 1 ? "" : "h0.1"}`)
      .join(""),
    low: least,
    high: most,
  };
}
