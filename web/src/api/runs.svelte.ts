/** The grower's runs: plans, and what became of them. */

import {
  answer,
  client,
  type CopyIn,
  type EndIn,
  type FileText,
  type PastSetting,
  type PastSettingIn,
  type PlanRow,
  type PlansBeside,
  type Run,
  type RunIn,
  type TakenBack,
} from "./client";
import { madeOn, Rows } from "./rows.svelte";

const of = (run_id: number): { path: { run_id: number } } => ({ path: { run_id } });

class Runs extends Rows<Run> {
  /** Whether something grows. */
  underWay = $derived(this.present.some((run) => run.begun_on && !run.ended_on));

  async load(): Promise<void> {
    this.all = await answer(client.GET("/api/runs"));
  }

  /** Ask again for a run that was changed by way of its lamps. */
  async refresh(id: number): Promise<void> {
    const now = (await answer(client.GET("/api/runs"))).find((run) => run.id === id);
    if (now) this.put(now);
  }

  private on(id: number): { path: { run_id: number }; header: { "If-Match"?: string } } {
    return { ...of(id), header: madeOn(this.of(id)) };
  }

  async start(body: RunIn): Promise<Run> {
    return this.first(await answer(client.POST("/api/runs", { body })));
  }

  /** The run last worked on stands first. */
  private first(run: Run): Run {
    this.all = [run, ...this.all.filter((known) => known.id !== run.id)];
    return run;
  }

  change(id: number, body: RunIn): Promise<Run> {
    return this.kept(answer(client.PUT("/api/runs/{run_id}", { params: of(id), body })));
  }

  name(id: number, name: string): Promise<Run> {
    const params = this.on(id);
    return this.kept(answer(client.PUT("/api/runs/{run_id}/name", { params, body: { name } })));
  }

  putAway(id: number, removed: boolean): Promise<Run> {
    const path = "/api/runs/{run_id}/aside" as const;
    return this.kept(answer(client.PUT(path, { params: of(id), body: { removed } })));
  }

  async copy(id: number, name: string, more: Partial<CopyIn> = {}): Promise<Run> {
    const path = "/api/runs/{run_id}/copy" as const;
    const body = { name, own_space: false, space_name: "", lining: "", ...more };
    return this.first(await answer(client.POST(path, { params: of(id), body })));
  }

  /** Take back the last change of a plan, wherever it was made, or make it again. */
  turn(id: number, which: "undo" | "redo"): Promise<TakenBack> {
    const params = of(id);
    return answer(
      which === "undo"
        ? client.POST("/api/runs/{run_id}/undo", { params })
        : client.POST("/api/runs/{run_id}/redo", { params }),
    );
  }

  /** A plan beside others, at one of its stages; nothing is kept. */
  beside(id: number, run_ids: number[], stage_id: number): Promise<PlansBeside> {
    const body = { run_ids, stage_id };
    return answer(client.POST("/api/runs/{run_id}/beside", { params: of(id), body }));
  }

  begin(id: number, on: string): Promise<Run> {
    const path = "/api/runs/{run_id}/begin" as const;
    return this.kept(answer(client.PUT(path, { params: this.on(id), body: { on } })));
  }

  takeBackBegin(id: number): Promise<Run> {
    return this.kept(answer(client.DELETE("/api/runs/{run_id}/begin", { params: of(id) })));
  }

  end(id: number, body: EndIn): Promise<Run> {
    const path = "/api/runs/{run_id}/end" as const;
    return this.kept(answer(client.PUT(path, { params: this.on(id), body })));
  }

  /** Plan a run under way anew from a day on; the plan it had stays. */
  planAnew(id: number, on: string, by_id: number | null): Promise<Run> {
    const path = "/api/runs/{run_id}/plans" as const;
    return this.kept(answer(client.PUT(path, { params: this.on(id), body: { on, by_id } })));
  }

  /** The plans a run has and had, the first one first. */
  plans(id: number): Promise<PlanRow[]> {
    return answer(client.GET("/api/runs/{run_id}/plans", { params: of(id) }));
  }

  takeBackEnd(id: number): Promise<Run> {
    return this.kept(answer(client.DELETE("/api/runs/{run_id}/end", { params: of(id) })));
  }

  beginStage(run_id: number, stage_id: number, on: string): Promise<Run> {
    const params = { path: { run_id, stage_id } };
    const path = "/api/runs/{run_id}/stages/{stage_id}/begin" as const;
    return this.kept(answer(client.PUT(path, { params, body: { on } })));
  }

  takeBackStage(run_id: number, stage_id: number): Promise<Run> {
    const params = { path: { run_id, stage_id } };
    const path = "/api/runs/{run_id}/stages/{stage_id}/begin" as const;
    return this.kept(answer(client.DELETE(path, { params })));
  }

  /** What was really set or measured, the newest first. */
  past(id: number): Promise<PastSetting[]> {
    const params = { ...of(id), query: { kind: "done" as const } };
    return answer(client.GET("/api/runs/{run_id}/settings", { params }));
  }

  /** Keep what was set at the tent; the key makes it safe to send again. */
  log(id: number, body: PastSettingIn, key: string): Promise<PastSetting> {
    const params = { ...of(id), header: { "Idempotency-Key": key } };
    return answer(client.POST("/api/runs/{run_id}/settings", { params, body }));
  }

  file(id: number): Promise<FileText> {
    return answer(client.GET("/api/runs/{run_id}/file", { params: of(id) }));
  }
}

export const runs = new Runs();
