/** Sensors, walks, fits, and what readings say. */

import {
  answer,
  type ByWatts,
  type ChangeIn,
  type ChangeSeen,
  client,
  type ComparedHere,
  type DialCurve,
  type DialReading,
  type Expected,
  type ExpectIn,
  type FitFound,
  type FitIn,
  type FitsHere,
  type Sensor,
  type SensorIn,
  type WalkAsked,
  type WalkEntry,
  type WalkKept,
  type WalkRow,
  type WalkTable,
  type WalkTableIn,
  type WattsIn,
} from "./client";
import { newKey } from "./key";
import { outbox } from "./outbox.svelte";
import { madeOn, Rows } from "./rows.svelte";

const FITS = "/api/readings/runs/{run_id}/fits" as const;

class Sensors extends Rows<Sensor> {
  async load(): Promise<void> {
    this.all = await answer(client.GET("/api/readings/sensors"));
  }

  async save(id: number | null, body: SensorIn): Promise<Sensor> {
    if (id === null) return this.put(await answer(client.POST("/api/readings/sensors", { body })));
    const params = { path: { sensor_id: id }, header: madeOn(this.of(id)) };
    const path = "/api/readings/sensors/{sensor_id}" as const;
    return this.kept(answer(client.PUT(path, { params, body })));
  }

  putAway(id: number, removed: boolean): Promise<Sensor> {
    const params = { path: { sensor_id: id }, header: madeOn(this.of(id)) };
    const path = "/api/readings/sensors/{sensor_id}/aside" as const;
    return this.kept(answer(client.PUT(path, { params, body: { removed } })));
  }
}

export const sensors = new Sensors();

class Fits {
  /** The fits of the space of the plan that is open. */
  here = $state.raw<FitsHere | null>(null);

  async load(run_id: number): Promise<FitsHere> {
    const here = await answer(client.GET(FITS, { params: { path: { run_id } } }));
    this.here = here;
    return here;
  }

  /** What readings make of a tent; nothing is kept. */
  trial(run_id: number, body: FitIn, signal: AbortSignal): Promise<FitFound> {
    const params = { path: { run_id } };
    return answer(client.POST(`${FITS}/try`, { params, body, signal }));
  }

  /** What the sensor will show at each spot of a walk. */
  expected(run_id: number, body: ExpectIn, signal: AbortSignal): Promise<Expected[]> {
    const params = { path: { run_id } };
    return answer(client.POST(`${FITS}/expect`, { params, body, signal }));
  }

  /** Readings beside the plan, and beside the maker's map. */
  compared(run_id: number, body: FitIn): Promise<ComparedHere> {
    return answer(client.POST(`${FITS}/compare`, { params: { path: { run_id } }, body }));
  }

  byWatts(run_id: number, body: WattsIn): Promise<ByWatts> {
    const path = "/api/readings/runs/{run_id}/watts" as const;
    return answer(client.POST(path, { params: { path: { run_id } }, body }));
  }

  async keep(run_id: number, body: FitIn, key: string): Promise<void> {
    const params = { path: { run_id }, header: { "Idempotency-Key": key } };
    await answer(client.POST(FITS, { params, body }));
    await this.load(run_id);
  }

  found(run_id: number, fit_id: number, height_cm: number | null): Promise<FitFound> {
    const params = { path: { run_id, fit_id }, query: { height_cm } };
    return answer(client.GET(`${FITS}/{fit_id}`, { params }));
  }

  async choose(run_id: number, fit_id: number | null): Promise<void> {
    const params = { path: { run_id }, header: { "Idempotency-Key": newKey() } };
    this.here = await answer(client.POST(`${FITS}/choice`, { params, body: { fit_id } }));
  }

  change(body: ChangeIn): Promise<ChangeSeen> {
    return answer(client.POST("/api/readings/change", { body }));
  }

  dial(rows: DialReading[]): Promise<DialCurve> {
    return answer(client.POST("/api/readings/dial", { body: { rows } }));
  }
}

export const fits = new Fits();

const WALKS = "/api/readings/runs/{run_id}/walks" as const;

/** One entry of a walk, on its way to the server. */
interface Step {
  run: number;
  walk: string;
  asked: WalkAsked;
  entry: WalkEntry;
}

class Walks {
  /** The walks in the space of the plan that is open. */
  here = $state.raw<WalkRow[]>([]);

  constructor() {
    outbox.carry<Step>(
      "walk",
      async (steps) => {
        const [first] = steps;
        if (!first) return;
        const params = { path: { run_id: first.run, walk: first.walk } };
        const body = { asked: first.asked, entries: steps.map((step) => step.entry) };
        const row = await answer(client.POST(`${WALKS}/{walk}/entries`, { params, body }));
        const others = this.here.filter((each) => each.key !== row.key);
        this.here = [row, ...others];
      },
      (before, next) =>
        before.run === next.run &&
        before.walk === next.walk &&
        JSON.stringify(before.asked) === JSON.stringify(next.asked),
    );
  }

  /** Keep an entry on this device, and send it as soon as it can be. */
  enter(run: number, walk: string, asked: WalkAsked, entry: WalkEntry): void {
    outbox.put("walk", { run, walk, asked, entry } satisfies Step);
  }

  async load(run_id: number): Promise<void> {
    this.here = await answer(client.GET(WALKS, { params: { path: { run_id } } }));
  }

  one(run_id: number, walk: string): Promise<WalkKept> {
    return answer(client.GET(`${WALKS}/{walk}`, { params: { path: { run_id, walk } } }));
  }

  table(run_id: number, body: WalkTableIn): Promise<WalkTable> {
    return answer(client.POST(`${WALKS}/table`, { params: { path: { run_id } }, body }));
  }

  file(
    run_id: number,
    walk: string,
    kind: "csv" | "xlsx",
  ): Promise<{ name: string; content: string }> {
    const params = { path: { run_id, walk }, query: { kind } };
    return answer(client.GET(`${WALKS}/{walk}/table`, { params }));
  }

  async putAway(run_id: number, row: WalkRow, removed: boolean): Promise<void> {
    const header = { "If-Match": `"${row.version}"` };
    const params = { path: { run_id, walk: row.key }, header };
    const path = `${WALKS}/{walk}/aside` as const;
    const now = await answer(client.PUT(path, { params, body: { removed } }));
    this.here = this.here.map((each) => (each.key === now.key ? now : each));
  }
}

export const walks = new Walks();
