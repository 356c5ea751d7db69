/** The grower's racks of shelves; their levels are spaces like any other. */

import { answer, client, type Rack, type RackAnswer, type RackIn } from "./client";
import { madeOn, Rows } from "./rows.svelte";
import { spaces } from "./spaces.svelte";

class Racks extends Rows<Rack> {
  async load(): Promise<void> {
    this.all = await answer(client.GET("/api/spaces/racks"));
  }

  private async changed(pending: Promise<Rack>): Promise<Rack> {
    const rack = await this.kept(pending);
    for (const level of rack.levels) spaces.put(level);
    return rack;
  }

  add(body: RackIn): Promise<Rack> {
    return this.changed(answer(client.POST("/api/spaces/racks", { body })));
  }

  addLevel(id: number, clear_cm: number): Promise<Rack> {
    const params = { path: { rack_id: id }, header: madeOn(this.of(id)) };
    const path = "/api/spaces/racks/{rack_id}/levels" as const;
    return this.changed(answer(client.POST(path, { params, body: { clear_cm } })));
  }

  async putAway(id: number, removed: boolean): Promise<void> {
    const params = { path: { rack_id: id } };
    const path = "/api/spaces/racks/{rack_id}/aside" as const;
    await this.kept(answer(client.PUT(path, { params, body: { removed } })));
    await spaces.load();
  }

  /** A rack on a day, or today: the plan on each level, and what all of them draw and cost. */
  on(id: number, day?: string): Promise<RackAnswer> {
    const query = day ? { on: day } : {};
    const params = { path: { rack_id: id }, query };
    return answer(client.GET("/api/runs/racks/{rack_id}", { params }));
  }
}

export const racks = new Racks();
