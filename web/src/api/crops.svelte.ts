/** The grower's crops. */

import {
  answer,
  client,
  type Crop,
  type CropIn,
  type LibraryCrop,
  type PlantLabel,
} from "./client";
import { madeOn, Rows } from "./rows.svelte";

class Crops extends Rows<Crop> {
  async load(): Promise<void> {
    this.all = await answer(client.GET("/api/crops"));
  }

  save(id: number | null, body: CropIn): Promise<Crop> {
    if (id === null) return this.kept(answer(client.POST("/api/crops", { body })));
    const params = { path: { crop_id: id }, header: madeOn(this.of(id)) };
    return this.kept(answer(client.PUT("/api/crops/{crop_id}", { params, body })));
  }

  putAway(id: number, removed: boolean): Promise<Crop> {
    const params = { path: { crop_id: id } };
    const path = "/api/crops/{crop_id}/aside" as const;
    return this.kept(answer(client.PUT(path, { params, body: { removed } })));
  }

  /** The crops that ship with the app. */
  labels = $state<PlantLabel[]>([]);

  /** What the words of plant labels come to; asked for once. */
  async loadLabels(): Promise<void> {
    if (!this.labels.length) this.labels = await answer(client.GET("/api/crops/labels"));
  }

  library(): Promise<LibraryCrop[]> {
    return answer(client.GET("/api/crops/library"));
  }
}

export const crops = new Crops();
