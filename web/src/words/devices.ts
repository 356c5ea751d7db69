/** Devices in words: kinds, quantities, and figures with their units. */

import type { Device, LastReading, QuantityName } from "../api/client";
import { fromC, type TemperatureUnit, trim } from "../units/format";

export const KIND: Record<Device["kind"], string> = {
  meter: "watt meter",
  controller: "timer or controller",
  thermometer: "thermometer",
  light: "light sensor",
  prices: "price feed",
  other: "other device",
};

export const QUANTITY: Record<QuantityName, string> = {
  power: "Watts",
  energy: "Energy counted",
  voltage: "Volts",
  current: "Amps",
  temperature: "Temperature",
  humidity: "Humidity",
  ppfd: "PPFD",
  illuminance: "Illuminance",
  switch: "Switch",
  output: "Output",
};

/** Which of its quantities a device is known by, the first it has. */
const FIRST: QuantityName[] = [
  "power",
  "temperature",
  "ppfd",
  "output",
  "illuminance",
  "humidity",
  "energy",
  "voltage",
  "current",
  "switch",
];

export function inOrder(series: LastReading[]): LastReading[] {
  const at = (one: LastReading): number => FIRST.indexOf(one.quantity) + one.channel / 10;
  return [...series].sort((a, b) => at(a) - at(b));
}

/** A figure of a quantity with its unit, as the grower reads it. */
export function figure(quantity: QuantityName, value: number, degrees: TemperatureUnit): string {
  switch (quantity) {
    case "power":
      return `${trim(value, 1)} W`;
    case "energy":
      return `${trim(value, 2)} kWh`;
    case "voltage":
      return `${trim(value, 0)} V`;
    case "current":
      return `${trim(value, 2)} A`;
    case "temperature":
      return `${trim(fromC(value, degrees), 1)} °${degrees}`;
    case "humidity":
      return `${trim(value, 0)} %`;
    case "ppfd":
      return `${trim(value, 0)} µmol`;
    case "illuminance":
      return `${trim(value, 0)} lx`;
    case "switch":
      return value ? "on" : "off";
    case "output":
      return `${trim(value, 0)} %`;
  }
}

/** How long ago a moment is: 8 s ago. */
export function ago(at: string | null, now: number): string {
  if (at === null) return "never";
  const seconds = Math.max(Math.round((now - Date.parse(at)) / 1000), 0);
  if (seconds < 90) return `${seconds} s ago`;
  if (seconds < 5400) return `${Math.round(seconds / 60)} min ago`;
  if (seconds < 129_600) return `${Math.round(seconds / 3600)} h ago`;
  return `${Math.round(seconds / 86_400)} days ago`;
}
