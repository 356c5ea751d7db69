/** Which steps that keep somebody safe are not done yet, by plan. */

import { answer, client, type StepName } from "./client";

class Installs {
  left = $state<Record<number, StepName[]>>({});

  async load(): Promise<void> {
    const rows = await answer(client.GET("/api/runs/installs/left"));
    this.left = Object.fromEntries(rows.map((row) => [row.run_id, row.steps]));
  }

  of(runId: number | null): StepName[] {
    return (runId !== null && this.left[runId]) || [];
  }
}

export const installs = new Installs();
