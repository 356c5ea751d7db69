/** Steps of an install by their names, and what is read at them. */

import type { Install, StepName } from "../api/client";

export const STEP: Record<StepName, { title: string; short: string }> = {
  glasses: { title: "Glasses to hand", short: "glasses" },
  frame: { title: "What the frame bears", short: "the frame's load" },
  marks: { title: "Mark the hangers", short: "marks" },
  hang: { title: "Hang it and level it", short: "hanging" },
  driver: { title: "The driver's place", short: "the driver's place" },
  cord: { title: "Run the cords and tie them", short: "cords" },
  strip: { title: "Plugs, strip and timer", short: "plugs and strip" },
  circuit: { title: "What the circuit bears", short: "the circuit" },
  timer: { title: "Set the timer", short: "the timer" },
  light: { title: "First light", short: "first light" },
  watts: { title: "First watts", short: "first watts" },
  warm: { title: "Half an hour later", short: "the first warm-up" },
  plants: { title: "Plants and water", short: "plants" },
};

export const READ: Record<Install["steps"][number]["asks"][number], string> = {
  watts: "Watts read",
  volts: "Volts, if it shows them",
  amps: "Amps, if it shows them",
  sink_c: "Heat sink",
  driver_c: "Driver, if you can reach it",
  room_c: "Room",
  tent_c: "In the tent",
  on_minute: "It comes on at",
  off_minute: "It goes off at",
  second_on_minute: "Second channel on at",
  second_off_minute: "Second channel off at",
};
