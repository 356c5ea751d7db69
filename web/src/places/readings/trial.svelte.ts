/** What readings make of a tent, asked for anew as they come in. */

import { asRefusal, type Expected, type FitFound, type FitIn, unanswered } from "../../api/client";
import { fits } from "../../api/readings.svelte";

const SETTLED_MS = 250;
const AGAIN_MS = 3000;

export class Trial {
  /** What the readings so far say. */
  found = $state.raw<FitFound | null>(null);
  refused = $state("");
  working = $state(false);
  /** The server cannot be reached, as inside a lined tent. */
  away = $state(false);
  /** What the sensor will show at each spot; as it was told last, where there is no signal. */
  expected = $state.raw<Expected[]>([]);
  /** How often it was asked for again. */
  private turns = $state(0);

  /** Follow a run's readings; to be called while a component is made. */
  constructor(run: () => number | undefined, body: () => FitIn | null) {
    $effect(() => {
      const [runId, asked] = [run(), body()];
      void this.turns;
      if (runId === undefined || !asked || (!asked.rows?.length && asked.map_id === null)) {
        this.found = null;
        this.refused = "";
        return;
      }
      return this.later((signal) => this.ask(runId, asked, signal));
    });
    $effect(() => {
      const [runId, asked] = [run(), body()];
      if (runId === undefined || !asked?.spots?.length || asked.map_id !== null) return;
      return this.later(async (signal) => {
        try {
          const dial_pct = asked.spots?.[0]?.dial_pct ?? null;
          this.expected = await fits.expected(runId, { ...asked, dial_pct }, signal);
        } catch {
          // without an answer nothing is asked about a figure
        }
      });
    });
  }

  /** Do it once the typing rests; returns how to let it be. */
  private later(work: (signal: AbortSignal) => Promise<void>): () => void {
    const asked = new AbortController();
    const wait = setTimeout(() => void work(asked.signal), SETTLED_MS);
    return () => {
      clearTimeout(wait);
      asked.abort();
    };
  }

  private async ask(runId: number, body: FitIn, signal: AbortSignal): Promise<void> {
    this.working = true;
    try {
      const told = await fits.trial(runId, body, signal);
      [this.found, this.refused, this.away] = [told, "", false];
    } catch (error) {
      if (signal.aborted) return;
      if (unanswered(error)) {
        // no signal: what was found stays, and is asked for again by and by
        this.away = true;
        const again = setTimeout(() => this.turns++, AGAIN_MS);
        signal.addEventListener("abort", () => clearTimeout(again));
      } else [this.found, this.refused, this.away] = [null, asRefusal(error).message, false];
    }
    if (!signal.aborted) this.working = false;
  }
}
