/** The grower's circuits. */

import { answer, type Circuit, type CircuitIn, client } from "./client";
import { madeOn, Rows } from "./rows.svelte";

class Circuits extends Rows<Circuit> {
  async load(): Promise<void> {
    this.all = await answer(client.GET("/api/spaces/circuits"));
  }

  save(id: number | null, body: CircuitIn): Promise<Circuit> {
    if (id === null) return this.kept(answer(client.POST("/api/spaces/circuits", { body })));
    const params = { path: { circuit_id: id }, header: madeOn(this.of(id)) };
    return this.kept(answer(client.PUT("/api/spaces/circuits/{circuit_id}", { params, body })));
  }

  putAway(id: number, removed: boolean): Promise<Circuit> {
    const params = { path: { circuit_id: id } };
    const path = "/api/spaces/circuits/{circuit_id}/aside" as const;
    return this.kept(answer(client.PUT(path, { params, body: { removed } })));
  }
}

export const circuits = new Circuits();
