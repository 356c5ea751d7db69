/** Which part of a place is open. It stands in the address, so that Back closes it again. */

import { onDestroy } from "svelte";

export class View {
  name = $state(here());
  private opened = false;

  constructor() {
    const look = (): void => {
      this.name = here();
      if (!this.name) this.opened = false;
    };
    globalThis.addEventListener("popstate", look);
    onDestroy(() => globalThis.removeEventListener("popstate", look));
  }

  open(name: string): void {
    if (name === this.name) return;
    history.pushState(history.state, "", `#${name}`);
    this.name = name;
    this.opened = true;
  }

  close(): void {
    if (!this.name) return;
    if (this.opened) history.back();
    else history.replaceState(history.state, "", location.pathname);
    this.name = "";
    this.opened = false;
  }

  toggle(name: string): void {
    if (this.name === name) this.close();
    else this.open(name);
  }
}

function here(): string {
  return decodeURIComponent(location.hash.slice(1));
}
