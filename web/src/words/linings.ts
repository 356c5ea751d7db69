/** What walls are lined with, as words. */

import { spaces } from "../api/spaces.svelte";

export function liningName(key: string): string {
  if (key.startsWith("close_"))
    return `White poster board on the open side, ${key.slice("close_".length)}`;
  return spaces.linings.find((lining) => lining.key === key)?.label ?? key;
}

interface Lined {
  lining: string;
  lining_left: string;
  lining_right: string;
  lining_front: string;
  lining_back: string;
}

/** How a space is lined: the rest, and walls that differ from it. */
export function linedWords(space: Lined): string {
  const walls = (["left", "right", "front", "back"] as const).map((wall) => ({
    wall,
    key: space[`lining_${wall}`] || space.lining,
  }));
  const [first] = walls;
  if (first && walls.every(({ key }) => key === first.key)) return liningName(first.key);
  const others = walls.filter(({ key }) => key !== space.lining);
  return [
    liningName(space.lining),
    ...others.map(({ wall, key }) => `${wall} ${liningName(key)}`),
  ].join(", ");
}
