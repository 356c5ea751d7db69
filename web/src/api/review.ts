/** A run looked back on, and the next one from it. */

import { answer, client, type Drift, type Review, type Run } from "./client";
import { crops } from "./crops.svelte";
import { runs } from "./runs.svelte";

const of = (run_id: number) => ({ path: { run_id } });

/** Planned and given, and what it cost; nothing where no setting of its lamp is known. */
export function reviewOf(run_id: number): Promise<Review | null> {
  return answer(client.GET("/api/review/runs/{run_id}", { params: of(run_id) }));
}

/** What lamp and lining have lost in a run's space. */
export function driftOf(run_id: number): Promise<Drift> {
  return answer(client.GET("/api/review/runs/{run_id}/drift", { params: of(run_id) }));
}

/** Start the next run from one: a plan by what it taught. */
export async function nextRun(run_id: number, as_grown: boolean): Promise<Run> {
  const path = "/api/review/runs/{run_id}/next" as const;
  const made = await answer(client.POST(path, { params: of(run_id), body: { as_grown } }));
  await crops.load();
  runs.put(made);
  return made;
}
