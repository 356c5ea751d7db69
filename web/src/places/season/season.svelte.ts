/** A run's season: asked for, planned by other wishes, kept as files. */

import { download } from "../../parts/download";
import {
  answer,
  asRefusal,
  client,
  type Refusal,
  type Season,
  type SeasonWishes,
} from "../../api/client";

export class SeasonState {
  season = $state<Season | null>(null);
  refused = $state<Refusal | null>(null);
  busy = $state(false);
  private asked = 0;

  async open(runId: number): Promise<void> {
    const asked = ++this.asked;
    this.busy = true;
    try {
      const params = { path: { run_id: runId } };
      const season = await answer(client.GET("/api/runs/{run_id}/season", { params }));
      if (asked !== this.asked) return;
      this.season = season;
      this.refused = null;
    } catch (error) {
      if (asked !== this.asked) return;
      this.refused = asRefusal(error);
      this.season = null;
    }
    this.busy = false;
  }

  /** A plan the run had before, if it had another. */
  before = $state.raw<Season | null>(null);

  async lookBack(run_id: number, plan: number | null): Promise<void> {
    this.before = null;
    if (plan === null) return;
    const params = { path: { run_id }, query: { plan } };
    this.before = await answer(client.GET("/api/runs/{run_id}/season", { params })).catch(
      () => null,
    );
  }

  async wish(runId: number, body: SeasonWishes): Promise<boolean> {
    try {
      const params = { path: { run_id: runId } };
      await answer(client.PUT("/api/runs/{run_id}/wishes", { params, body }));
      await this.open(runId);
      return true;
    } catch (error) {
      this.refused = asRefusal(error);
      return false;
    }
  }

  /** Let the plan choose a stage's levers again, or take a change within it out. */
  async free(runId: number, stageId: number, fromDay: number): Promise<void> {
    const at = { run_id: runId, stage_id: stageId };
    const params = { path: at, query: { from_day: fromDay } };
    const path = "/api/runs/{run_id}/stages/{stage_id}/setting" as const;
    try {
      await answer(client.DELETE(path, { params }));
      await this.open(runId);
    } catch (error) {
      this.refused = asRefusal(error);
    }
  }

  /** Hand the browser a file to keep. */
  async save(runId: number, what: "table" | "calendar"): Promise<void> {
    const params = { path: { run_id: runId } };
    try {
      const file = await answer(
        what === "table"
          ? client.GET("/api/runs/{run_id}/season/table", { params })
          : client.GET("/api/runs/{run_id}/season/calendar", { params }),
      );
      const type = what === "table" ? "text/csv" : "text/calendar";
      download(file.name, file.text, type);
    } catch (error) {
      this.refused = asRefusal(error);
    }
  }
}
