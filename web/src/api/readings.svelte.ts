/** Sensors, fits, and what readings say. */

import {
  answer,
  type ChangeIn,
  type ChangeSeen,
  client,
  type DialCurve,
  type DialReading,
  type Expected,
  type ExpectIn,
  type FitFound,
  type FitIn,
  type FitsHere,
  type Sensor,
  type SensorIn,
} from "./client";
import { newKey } from "./key";
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
