/** What a plan's light costs and draws: asked for, and what it hangs on kept. */

import {
  answer,
  asRefusal,
  client,
  type Power,
  type Refusal,
  type Run,
  type Sheet,
  type SpacePower,
  type SpacePowerIn,
} from "../../api/client";
import { madeOn } from "../../api/rows.svelte";

export class PowerState {
  power = $state.raw<Power | null>(null);
  refused = $state.raw<Refusal | null>(null);
  busy = $state(false);
  private asked = 0;

  async open(runId: number, stageId: number | null): Promise<void> {
    const asked = ++this.asked;
    this.busy = true;
    try {
      const params = {
        path: { run_id: runId },
        query: stageId === null ? {} : { stage_id: stageId },
      };
      const found = await answer(client.GET("/api/runs/{run_id}/power", { params }));
      if (asked !== this.asked) return;
      [this.power, this.refused] = [found, null];
    } catch (error) {
      if (asked !== this.asked) return;
      [this.power, this.refused] = [null, asRefusal(error)];
    }
    this.busy = false;
  }

  async sheets(runId: number, stageId: number | null, price: number): Promise<Sheet[]> {
    const query = { price, ...(stageId === null ? {} : { stage_id: stageId }) };
    const params = { path: { run_id: runId }, query };
    return answer(client.GET("/api/runs/{run_id}/sheets", { params }));
  }
}

export function roomOf(spaceId: number): Promise<SpacePower> {
  const params = { path: { space_id: spaceId } };
  return answer(client.GET("/api/spaces/{space_id}/power", { params }));
}

export function keepRoom(
  spaceId: number,
  version: number,
  body: SpacePowerIn,
): Promise<SpacePower> {
  const params = { path: { space_id: spaceId }, header: { "If-Match": `"${version}"` } };
  return answer(client.PUT("/api/spaces/{space_id}/power", { params, body }));
}

export function keepPrices(spaceId: number, text: string, adds: number): Promise<SpacePower> {
  const params = { path: { space_id: spaceId } };
  const body = { text, adds_per_kwh: adds };
  return answer(client.PUT("/api/spaces/{space_id}/prices", { params, body }));
}

export function keepPlants(run: Run, plants: number | null): Promise<Run> {
  const params = { path: { run_id: run.id }, header: madeOn(run) };
  return answer(client.PUT("/api/runs/{run_id}/plants", { params, body: { plants } }));
}
