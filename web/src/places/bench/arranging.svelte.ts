/** Where the lamps hang: changed here at once, kept a moment later, undone step by step. */

import {
  answer,
  asRefusal,
  client,
  type LampIn,
  type Refusal,
  type RunLamp,
} from "../../api/client";

const SETTLED_MS = 350;

function asIn({ bars_x_cm: _, ...lamp }: RunLamp): LampIn {
  return lamp;
}

export class Arranging {
  open = $state(false);
  lamps = $state<RunLamp[]>([]);
  chosen = $state(0);
  refused = $state<Refusal | null>(null);
  busy = $state(false);
  past = $state<RunLamp[][]>([]);

  private runId = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** Counts changes: a late answer to an earlier one no longer says what is. */
  private version = 0;
  private wanted: { runId: number; lamps: LampIn[]; version: number } | null = null;
  private sending = false;
  private sent: Promise<unknown> = Promise.resolve();

  /** `settled` is called when the server keeps other lamps than before. */
  constructor(private readonly settled: (runId: number) => void) {}

  async begin(runId: number): Promise<void> {
    this.flush();
    const version = ++this.version;
    this.runId = runId;
    this.past = [];
    this.refused = null;
    const params = { path: { run_id: runId } };
    try {
      const lamps = await answer(client.GET("/api/runs/{run_id}/lamps", { params }));
      if (version !== this.version) return;
      this.lamps = lamps;
      this.chosen = Math.min(this.chosen, this.lamps.length - 1);
      this.open = true;
    } catch (error) {
      if (version === this.version) this.refused = asRefusal(error);
    }
  }

  private remember(): void {
    this.past = [...this.past.slice(-30), $state.snapshot(this.lamps) as RunLamp[]];
  }

  private soon(): void {
    this.version++;
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.keep(), SETTLED_MS);
  }

  change(at: number, part: Partial<RunLamp>): void {
    const lamp = this.lamps[at];
    if (!lamp) return;
    if (Object.values(part).some((v) => typeof v === "number" && Number.isNaN(v))) return;
    this.remember();
    this.lamps[at] = { ...lamp, ...part };
    this.soon();
  }

  /** Hang another where the server would. */
  async add(fixture_id: number): Promise<void> {
    const params = {
      path: { run_id: this.runId },
      query: { fixture_id, hung: this.lamps.length },
    };
    let lamp: RunLamp;
    try {
      lamp = await answer(client.GET("/api/runs/{run_id}/lamps/another", { params }));
    } catch (error) {
      this.refused = asRefusal(error);
      return;
    }
    this.remember();
    this.lamps.push(lamp);
    this.chosen = this.lamps.length - 1;
    this.soon();
  }

  takeOut(at: number): void {
    if (this.lamps.length < 2) return;
    this.remember();
    this.lamps.splice(at, 1);
    this.chosen = Math.max(0, Math.min(this.chosen, this.lamps.length - 1));
    this.soon();
  }

  undo(): void {
    const last = this.past.at(-1);
    if (!last) return;
    this.past = this.past.slice(0, -1);
    this.lamps = last;
    this.chosen = Math.min(this.chosen, last.length - 1);
    this.keep();
  }

  /** One lamp in the middle, as every plan begins. */
  reset(runId = this.runId): void {
    this.runId = runId;
    if (this.lamps.length) this.remember();
    this.keep([]);
  }

  /** Keep at once what has not been kept: the page is closing or another plan opens. */
  flush(): void {
    if (this.timer !== undefined) this.keep();
  }

  private keep(lamps: LampIn[] = this.lamps.map(asIn)): void {
    clearTimeout(this.timer);
    this.timer = undefined;
    this.wanted = { runId: this.runId, lamps, version: ++this.version };
    this.sent = Promise.allSettled([this.sent, this.send()]);
  }

  /** Keep at once what has not been kept, and wait until it is. */
  async settle(): Promise<void> {
    this.flush();
    await this.sent;
  }

  /** One request at a time, so that the server keeps the newest; while it is out, that one waits. */
  private async send(): Promise<void> {
    if (this.sending) return;
    this.sending = this.busy = true;
    while (this.wanted) {
      const { runId, lamps, version } = this.wanted;
      this.wanted = null;
      try {
        const params = { path: { run_id: runId } };
        const request = { params, body: { lamps }, keepalive: true };
        const kept = await answer(client.PUT("/api/runs/{run_id}/lamps", request));
        if (version === this.version) {
          this.lamps = kept;
          this.refused = null;
        }
        this.settled(runId);
      } catch (error) {
        if (version === this.version) this.refused = asRefusal(error);
      }
    }
    this.sending = this.busy = false;
  }
}
