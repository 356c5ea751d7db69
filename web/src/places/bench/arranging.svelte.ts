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

  /** `settled` is called when the server keeps other lamps than before. */
  constructor(private readonly settled: () => void) {}

  async begin(runId: number): Promise<void> {
    this.runId = runId;
    this.past = [];
    this.refused = null;
    const params = { path: { run_id: runId } };
    try {
      this.lamps = await answer(client.GET("/api/runs/{run_id}/lamps", { params }));
      this.chosen = Math.min(this.chosen, this.lamps.length - 1);
      this.open = true;
    } catch (error) {
      this.refused = asRefusal(error);
    }
  }

  private remember(): void {
    this.past = [...this.past.slice(-30), $state.snapshot(this.lamps) as RunLamp[]];
  }

  private soon(): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.keep(), SETTLED_MS);
  }

  change(at: number, part: Partial<RunLamp>): void {
    const lamp = this.lamps[at];
    if (!lamp) return;
    if (Object.values(part).some((v) => typeof v === "number" && Number.isNaN(v))) return;
    this.remember();
    this.lamps[at] = { ...lamp, ...part };
    this.soon();
  }

  add(fixture_id: number, x_cm: number, y_cm: number, turn_deg: number, own: boolean): void {
    this.remember();
    this.lamps.push({
      fixture_id,
      x_cm,
      y_cm,
      turn_deg,
      tilt_deg: 0,
      raise_cm: 0,
      bars_off: [],
      own_dial_pct: own ? 100 : null,
      bars_x_cm: [],
    });
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
    void this.keep();
  }

  /** One lamp in the middle, as every plan begins. */
  async reset(runId = this.runId): Promise<void> {
    this.runId = runId;
    if (this.lamps.length) this.remember();
    await this.send([]);
  }

  private async keep(): Promise<void> {
    clearTimeout(this.timer);
    await this.send(this.lamps.map(asIn));
  }

  private async send(lamps: LampIn[]): Promise<void> {
    const params = { path: { run_id: this.runId } };
    this.busy = true;
    try {
      this.lamps = await answer(
        client.PUT("/api/runs/{run_id}/lamps", { params, body: { lamps } }),
      );
      this.refused = null;
      this.settled();
    } catch (error) {
      this.refused = asRefusal(error);
    }
    this.busy = false;
  }
}
