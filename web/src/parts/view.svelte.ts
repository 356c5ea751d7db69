/** Which part of a place is open. It stands in the address, so that Back closes it again. */

import { onDestroy } from "svelte";

export class View {
  name = $state(here());

  constructor() {
    const look = (): void => {
      this.name = here();
    };
    globalThis.addEventListener("popstate", look);
    onDestroy(() => globalThis.removeEventListener("popstate", look));
  }

  open(name: string): void {
    if (name === this.name) return;
    history.pushState({ ...history.state, views: depth() + 1 }, "", `#${name}`);
    this.name = name;
  }

  /** Back to the place itself, over however many parts lie between. */
  close(): void {
    if (!this.name) return;
    if (depth()) history.go(-depth());
    else history.replaceState(history.state, "", location.pathname);
    this.name = "";
  }
}

/** How many parts were opened one from another. */
function depth(): number {
  return (history.state as { views?: number } | null)?.views ?? 0;
}

function here(): string {
  return decodeURIComponent(location.hash.slice(1));
}
