/** What jsdom lacks: it lays nothing out, so nothing ever resizes. And a clock that tests turn on. */

import { afterEach, beforeEach, vi } from "vitest";

import { forget } from "../src/parts/form/drafts";

class NoResize {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
}
globalThis.ResizeObserver ??= NoResize as unknown as typeof ResizeObserver;

// what is waited for by the page's own libraries goes on by itself
beforeEach(() => vi.useFakeTimers({ shouldAdvanceTime: true }));
afterEach(() => {
  vi.useRealTimers();
  forget();
});
