/** What was typed and not kept waits here until its form is opened again. */

import { onDestroy } from "svelte";

import { notice } from "../notice.svelte";

const waiting = new Map<string, unknown>();
const open = new Set<() => boolean>();

/** Whether a form on the page holds something that is not kept. */
export function unkept(): boolean {
  return waiting.size > 0 || [...open].some((changed) => changed());
}

/** Forget what waits: another grower is at the door. */
export function forget(): void {
  waiting.clear();
}

export class Draft<T> {
  /** What the form begins with: what was typed last time, else what is kept. */
  readonly start: T;
  /** Whether something typed before is shown again. */
  readonly waited: boolean;

  /**
   * `what` names the form, as people would; `now` is what it holds.
   */
  constructor(
    private readonly key: string,
    private kept: T,
    what: () => string,
    private readonly now: () => T,
  ) {
    this.waited = waiting.has(key);
    this.start = (this.waited ? waiting.get(key) : kept) as T;
    waiting.delete(key);
    const changed = (): boolean => !same(this.now(), this.kept);
    open.add(changed);
    onDestroy(() => {
      open.delete(changed);
      if (!changed()) return;
      waiting.set(key, this.now());
      notice.say(`What you changed in ${what()} is not kept yet; it waits for you in its form.`);
    });
  }

  /** What the form holds is kept now. */
  done(): void {
    this.kept = this.now();
    waiting.delete(this.key);
  }
}

function same(a: unknown, b: unknown): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}
