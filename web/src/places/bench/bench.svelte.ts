/** The bench's levers: move them and the newest answer wins; what settles is kept. */

import {
  answer,
  asRefusal,
  type Bench,
  client,
  type LeverName,
  type Refusal,
} from "../../api/client";

import { newKey } from "../../api/key";

export interface Levers {
  height_cm: number;
  dial_pct: number;
  hours: number;
  on_minute: number;
  locked: LeverName[];
}

const FIELDS: Record<LeverName, keyof Levers> = {
  height: "height_cm",
  dial: "dial_pct",
  hours: "hours",
};

const SETTLED_MS = 500;

export class BenchState {
  bench = $state<Bench | null>(null);
  refused = $state<Refusal | null>(null);
  /** Where the levers are held, which may be ahead of the answer. */
  levers = $state<Levers | null>(null);
  keeping = $state<"kept" | "moving" | "failed">("kept");

  /** Another stage is being opened: what stands on the page is not yet its answer. */
  opening = $state(false);

  /** The run whose answer stands in `bench`. */
  answered = $state(0);

  /** Of a run that has ended levers are moved to see, and not kept. */
  over = false;

  private runId = 0;
  private stageId = 0;
  private fromDay = 0;
  private asking = false;
  private planNext = false;
  private wanted: Levers | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private unkept: Levers | null = null;
  /** What is on its way to be kept. */
  private sent: Promise<unknown> = Promise.resolve();

  async open(runId: number, stageId: number, fromDay = 0): Promise<void> {
    this.flush();
    this.runId = runId;
    this.stageId = stageId;
    this.fromDay = fromDay;
    this.wanted = null;
    this.opening = true;
    try {
      const query = { from_day: fromDay };
      const params = { path: { run_id: runId, stage_id: stageId }, query };
      const path = "/api/runs/{run_id}/stages/{stage_id}/bench" as const;
      const bench = await answer(client.GET(path, { params }));
      if (!this.at(runId, stageId, fromDay)) return;
      this.show(bench);
      this.levers = { ...bench.setting, on_minute: bench.on_minute, locked: bench.locked };
      this.keeping = "kept";
      this.refused = null;
      this.opening = false;
    } catch (error) {
      if (!this.at(runId, stageId, fromDay)) return;
      this.refused = asRefusal(error);
      this.bench = null;
      this.opening = false;
    }
  }

  /** Whether this is what is still looked at. */
  private at(runId: number, stageId: number, fromDay: number): boolean {
    return this.runId === runId && this.stageId === stageId && this.fromDay === fromDay;
  }

  private show(bench: Bench): void {
    this.bench = bench;
    this.answered = this.runId;
  }

  move(part: Partial<Levers>): void {
    if (!this.levers || this.opening) return;
    const held = this.levers;
    const kept = Object.fromEntries(held.locked.map((name) => [FIELDS[name], held[FIELDS[name]]]));
    this.levers = { ...held, ...part, ...kept };
    this.wanted = this.levers;
    if (!this.over) {
      this.unkept = this.levers;
      this.keeping = "moving";
      clearTimeout(this.timer);
      this.timer = setTimeout(() => void this.keep(), SETTLED_MS);
    }
    void this.ask();
  }

  /** All levers that are not locked to the plan's choice. */
  toPlan(): void {
    // an answer under way may bring another plan: a lock has just been set
    this.planNext = this.asking;
    if (this.bench && !this.asking) this.move(this.bench.solution.setting);
  }

  /** Lock a lever where it stands, or free it. */
  lock(name: LeverName): void {
    if (!this.levers) return;
    const locked = this.levers.locked.includes(name)
      ? this.levers.locked.filter((other) => other !== name)
      : [...this.levers.locked, name];
    this.levers = { ...this.levers, locked };
    this.move({});
  }

  /** One request at a time; while it is out, only the newest wish waits. */
  private async ask(): Promise<void> {
    if (this.asking) return;
    this.asking = true;
    while (this.wanted) {
      const wanted = this.wanted;
      const [runId, stageId, fromDay] = [this.runId, this.stageId, this.fromDay];
      this.wanted = null;
      try {
        const params = { path: { run_id: runId } };
        const body = { stage_id: stageId, from_day: fromDay, ...wanted };
        const bench = await answer(client.POST("/api/runs/{run_id}/bench", { params, body }));
        if (this.at(runId, stageId, fromDay)) {
          this.show(bench);
          this.refused = null;
        }
      } catch (error) {
        this.refused = asRefusal(error);
      }
    }
    this.asking = false;
    if (this.planNext) this.toPlan();
  }

  private send(levers: Levers, last: boolean): Promise<unknown> {
    const params = { path: { run_id: this.runId, stage_id: this.stageId } };
    const path = "/api/runs/{run_id}/stages/{stage_id}/setting" as const;
    const header = { "Idempotency-Key": newKey() };
    const body = { ...levers, from_day: this.fromDay };
    const keyed = { params: { ...params, header }, body, keepalive: last };
    return answer(client.PUT(path, keyed));
  }

  async keep(): Promise<void> {
    const levers = this.unkept;
    if (!levers) return;
    this.unkept = null;
    try {
      this.sent = this.send(levers, false);
      await this.sent;
      if (!this.unkept) this.keeping = "kept";
    } catch {
      this.unkept ??= levers;
      this.keeping = "failed";
    }
  }

  /** Keep at once what has not been kept, and wait until it is. */
  async settle(): Promise<void> {
    clearTimeout(this.timer);
    await Promise.allSettled([this.sent]);
    await this.keep();
  }

  /** Keep at once what has not been kept: the page is closing or another stage opens. */
  flush(): void {
    clearTimeout(this.timer);
    const levers = this.unkept;
    this.unkept = null;
    if (levers) void this.send(levers, true).catch(() => undefined);
  }
}
