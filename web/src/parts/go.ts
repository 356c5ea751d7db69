/** How a part or place asks the shell to open another place. */

import { getContext, setContext } from "svelte";

export type Path =
  "/space" | "/fixtures" | "/bench" | "/plans" | "/install" | "/season" | "/readings" | "/logbook";
type Go = (path: Path) => unknown;

const KEY = Symbol("go");

export function setGo(go: Go): void {
  setContext(KEY, go);
}

export function getGo(): Go {
  return getContext<Go>(KEY);
}
