/** The grower's spaces, and what they can be lined with. */

import { answer, client, type Lining, type Space, type SpaceIn } from "./client";
import { madeOn, Rows } from "./rows.svelte";

/** A space as it is given to be kept so. */
export function asGiven(space: Space): SpaceIn {
  const {
    id: _id,
    version: _v,
    removed: _r,
    tariffs: _t,
    rack_id: _k,
    tier: _i,
    tariff_from: _f,
    ...values
  } = space;
  return values as SpaceIn;
}

class Spaces extends Rows<Space> {
  linings = $state<Lining[]>([]);

  async load(): Promise<void> {
    [this.all, this.linings] = await Promise.all([
      answer(client.GET("/api/spaces")),
      answer(client.GET("/api/spaces/linings")),
    ]);
  }

  save(id: number | null, body: SpaceIn): Promise<Space> {
    if (id === null) return this.kept(answer(client.POST("/api/spaces", { body })));
    const params = { path: { space_id: id }, header: madeOn(this.of(id)) };
    return this.kept(answer(client.PUT("/api/spaces/{space_id}", { params, body })));
  }

  copy(space_id: number, name: string): Promise<Space> {
    const params = { path: { space_id } };
    const path = "/api/spaces/{space_id}/copy" as const;
    return this.kept(answer(client.POST(path, { params, body: { name } })));
  }

  putAway(id: number, removed: boolean): Promise<Space> {
    const params = { path: { space_id: id } };
    const path = "/api/spaces/{space_id}/aside" as const;
    return this.kept(answer(client.PUT(path, { params, body: { removed } })));
  }
}

export const spaces = new Spaces();
