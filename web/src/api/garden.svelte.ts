/** What the server keeps for this grower, loaded once and shared by all places. */

import {
  answer,
  client,
  type Crop,
  type CropIn,
  type Fixture,
  type FixtureIn,
  type Grower,
  type Lining,
  type MapIn,
  type PhotometryIn,
  type Run,
  type RunIn,
  type Space,
  type SpaceIn,
  type TableRead,
} from "./client";
import { keepLooked, lookedAt } from "./looked";

class Garden {
  grower = $state<Grower | null>(null);
  spaces = $state<Space[]>([]);
  linings = $state<Lining[]>([]);
  fixtures = $state<Fixture[]>([]);
  crops = $state<Crop[]>([]);
  runs = $state<Run[]>([]);
  runId = $state<number | null>(null);
  /** What is chosen while there is no run yet. */
  draft = $state<{ space_id?: number; fixture_id?: number; crop_id?: number }>({});

  /** The stage looked at, by plan; the browser's matter. */
  private stages = $state<Record<string, number>>({});

  run = $derived(this.runs.find((run) => run.id === this.runId) ?? null);
  choice = $derived(this.run ?? this.draft);
  space = $derived(this.spaces.find((s) => s.id === this.choice.space_id) ?? null);
  fixture = $derived(this.fixtures.find((f) => f.id === this.choice.fixture_id) ?? null);
  crop = $derived(this.crops.find((c) => c.id === this.choice.crop_id) ?? null);
  /** The stage that is looked at, of the open plan. */
  stageId = $derived(this.stages[String(this.runId)] ?? this.run?.stage_id ?? null);
  /** The lamps that are on the shelf. */
  shelf = $derived(this.fixtures.filter((f) => !f.removed));
  unit = $derived(this.grower?.length_unit ?? "cm");

  async begin(): Promise<void> {
    const { grower } = await answer(client.GET("/api/accounts/session"));
    this.grower = grower;
    if (grower) await this.load();
  }

  async load(): Promise<void> {
    [this.spaces, this.linings, this.fixtures, this.crops, this.runs] = await Promise.all([
      answer(client.GET("/api/spaces")),
      answer(client.GET("/api/spaces/linings")),
      answer(client.GET("/api/fixtures")),
      answer(client.GET("/api/crops")),
      answer(client.GET("/api/runs")),
    ]);
    const looked = lookedAt(this.grower?.name ?? "");
    this.stages = looked.stages;
    this.runId = (this.runs.find((run) => run.id === looked.plan) ?? this.runs[0])?.id ?? null;
    this.draft = { space_id: this.spaces[0]?.id, crop_id: this.crops[0]?.id };
  }

  async enter(how: "sign-in" | "sign-up", name: string, password: string): Promise<void> {
    const body = { name, password };
    const { grower } = await answer(
      how === "sign-in"
        ? client.POST("/api/accounts/sign-in", { body })
        : client.POST("/api/accounts/sign-up", { body: { ...body, time_zone: timeZone() } }),
    );
    this.grower = grower;
    await this.load();
  }

  async leave(): Promise<void> {
    await answer(client.POST("/api/accounts/sign-out"));
    this.grower = null;
    this.spaces = this.fixtures = this.crops = this.runs = [];
    this.runId = null;
    this.stages = {};
  }

  async useUnit(length_unit: "cm" | "in"): Promise<void> {
    this.grower = await answer(client.PUT("/api/accounts/preferences", { body: { length_unit } }));
  }

  async saveSpace(id: number | null, body: SpaceIn): Promise<Space> {
    const saved = await answer(
      id === null
        ? client.POST("/api/spaces", { body })
        : client.PUT("/api/spaces/{space_id}", { params: { path: { space_id: id } }, body }),
    );
    this.spaces = put(this.spaces, saved);
    return saved;
  }

  async saveFixture(id: number | null, body: FixtureIn): Promise<Fixture> {
    const saved = await answer(
      id === null
        ? client.POST("/api/fixtures", { body })
        : client.PUT("/api/fixtures/{fixture_id}", { params: { path: { fixture_id: id } }, body }),
    );
    this.fixtures = put(this.fixtures, saved);
    return saved;
  }

  /** Add the lamp of a fixture file; returns the fields nobody knows. */
  async addFixtureFile(text: string): Promise<{ fixture: Fixture; ignored: string[] }> {
    const found = await answer(client.POST("/api/fixtures/file", { body: { text } }));
    this.fixtures = put(this.fixtures, found.fixture);
    return found;
  }

  async fixtureFile(id: number): Promise<{ name: string; text: string }> {
    const params = { path: { fixture_id: id } };
    return answer(client.GET("/api/fixtures/{fixture_id}/file", { params }));
  }

  async takeOffShelf(id: number, removed: boolean): Promise<void> {
    const params = { path: { fixture_id: id } };
    const path = "/api/fixtures/{fixture_id}/shelf" as const;
    this.fixtures = put(
      this.fixtures,
      await answer(client.PUT(path, { params, body: { removed } })),
    );
  }

  async spectrumFile(id: number): Promise<{ name: string; text: string }> {
    const params = { path: { fixture_id: id } };
    return answer(client.GET("/api/fixtures/{fixture_id}/spectrum", { params }));
  }

  async attachSpectrum(id: number, text: string): Promise<Fixture> {
    const params = { path: { fixture_id: id } };
    const path = "/api/fixtures/{fixture_id}/spectrum" as const;
    const saved = await answer(client.PUT(path, { params, body: { text } }));
    this.fixtures = put(this.fixtures, saved);
    return saved;
  }

  /** Add the lamps of a shelf table, base64. */
  async addTable(content: string, keep: "all" | "good"): Promise<TableRead> {
    const read = await answer(client.POST("/api/fixtures/table", { body: { content, keep } }));
    if (read.added) this.fixtures = await answer(client.GET("/api/fixtures"));
    return read;
  }

  async attachPhotometry(id: number, body: PhotometryIn): Promise<Fixture> {
    const params = { path: { fixture_id: id } };
    const path = "/api/fixtures/{fixture_id}/photometry" as const;
    const saved = await answer(client.PUT(path, { params, body }));
    this.fixtures = put(this.fixtures, saved);
    return saved;
  }

  async importMap(id: number, body: MapIn): Promise<Fixture> {
    const params = { path: { fixture_id: id } };
    const path = "/api/fixtures/{fixture_id}/maps" as const;
    const saved = await answer(client.POST(path, { params, body }));
    this.fixtures = put(this.fixtures, saved);
    return saved;
  }

  async setMapAside(id: number, mapId: number, removed: boolean): Promise<void> {
    const params = { path: { fixture_id: id, map_id: mapId } };
    const path = "/api/fixtures/{fixture_id}/maps/{map_id}" as const;
    const saved = await answer(client.PUT(path, { params, body: { removed } }));
    this.fixtures = put(this.fixtures, saved);
  }

  async mapTable(id: number, mapId: number): Promise<string> {
    const params = { path: { fixture_id: id, map_id: mapId } };
    const path = "/api/fixtures/{fixture_id}/maps/{map_id}/table" as const;
    return (await answer(client.GET(path, { params }))).text;
  }

  async useLightSource(
    id: number,
    light_source: Fixture["light_source"],
    map_id: number | null = null,
  ): Promise<void> {
    const params = { path: { fixture_id: id } };
    const path = "/api/fixtures/{fixture_id}/light-source" as const;
    const saved = await answer(client.PUT(path, { params, body: { light_source, map_id } }));
    this.fixtures = put(this.fixtures, saved);
  }

  async saveCrop(id: number | null, body: CropIn): Promise<Crop> {
    const saved = await answer(
      id === null
        ? client.POST("/api/crops", { body })
        : client.PUT("/api/crops/{crop_id}", { params: { path: { crop_id: id } }, body }),
    );
    this.crops = put(this.crops, saved);
    return saved;
  }

  /** Put a space, lamp or crop into the run; the first complete choice starts one. */
  async choose(part: Partial<RunIn>): Promise<void> {
    const wanted = { ...this.choice, ...part };
    const { space_id, fixture_id, crop_id } = wanted;
    if (this.run) {
      const body = { over_cap: this.run.over_cap, ...pick(wanted), ...part } as RunIn;
      const params = { path: { run_id: this.run.id } };
      const saved = await answer(client.PUT("/api/runs/{run_id}", { params, body }));
      this.runs = put(this.runs, saved);
    } else if (space_id && fixture_id && crop_id) {
      const body = { space_id, fixture_id, crop_id, over_cap: false };
      const saved = await answer(client.POST("/api/runs", { body }));
      this.runs = [saved, ...this.runs];
      this.openPlan(saved.id);
    } else {
      this.draft = wanted;
    }
  }

  /** A run as the server now has it. */
  remember(run: Run): void {
    this.runs = put(this.runs, run);
  }

  /** Open a plan; it is the one shown after a reload too. */
  openPlan(runId: number): void {
    this.runId = runId;
    this.keepLooked();
  }

  /** Look at a stage of a plan. */
  lookAt(runId: number, stageId: number): void {
    this.stages = { ...this.stages, [runId]: stageId };
    this.keepLooked();
  }

  private keepLooked(): void {
    const plan = this.runId ?? undefined;
    keepLooked(this.grower?.name ?? "", { plan, stages: $state.snapshot(this.stages) });
  }

  /** Begin another plan beside the present ones. */
  newPlan(): void {
    this.draft = { space_id: this.choice.space_id, crop_id: this.choice.crop_id };
    this.runId = null;
  }
}

/** Where the browser says it is. */
function timeZone(): string {
  return Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC";
}

function pick(run: Partial<RunIn>): Partial<RunIn> {
  return { space_id: run.space_id, fixture_id: run.fixture_id, crop_id: run.crop_id };
}

function put<T extends { id: number }>(rows: T[], row: T): T[] {
  return rows.some((r) => r.id === row.id)
    ? rows.map((r) => (r.id === row.id ? row : r))
    : [...rows, row];
}

export const garden = new Garden();
