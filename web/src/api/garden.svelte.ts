/** What is on the bench: the plan that is open, what it is made of, and the stage looked at. */

import type { CopyIn, Run, RunIn, TakenBack } from "./client";
import { crops } from "./crops.svelte";
import { devices } from "./devices.svelte";
import { fixtures } from "./fixtures.svelte";
import { account } from "./grower.svelte";
import { keepLooked, lookedAt } from "./looked";
import { installs } from "./installs.svelte";
import { racks } from "./racks.svelte";
import { runs } from "./runs.svelte";
import { spaces } from "./spaces.svelte";

class Garden {
  runId = $state<number | null>(null);
  /** What is chosen while there is no run yet. */
  draft = $state<{ space_id?: number; fixture_id?: number; crop_id?: number }>({});

  /** Levers to be tried on the bench as soon as it stands. */
  toTry = $state<{ hours?: number; dial_pct?: number } | null>(null);

  /** The stage looked at, by plan; the browser's matter. */
  private stages = $state<Record<string, number>>({});
  private days = $state<Record<string, number>>({});

  run = $derived(runs.of(this.runId));
  choice = $derived(this.run ?? this.draft);
  space = $derived(spaces.of(this.choice.space_id));
  fixture = $derived(fixtures.of(this.choice.fixture_id));
  crop = $derived(crops.of(this.choice.crop_id));
  /** The stage that is looked at, of the open plan. */
  stageId = $derived(this.stages[String(this.runId)] ?? this.run?.stage_id ?? null);
  /** And from which of its days on. */
  fromDay = $derived(this.days[String(this.runId)] ?? 0);

  async begin(): Promise<void> {
    await account.look();
    if (account.grower) await this.load();
  }

  async load(): Promise<void> {
    await Promise.all([
      spaces.load(),
      racks.load(),
      fixtures.load(),
      crops.load(),
      runs.load(),
      installs.load(),
      devices.load(),
    ]);
    const looked = lookedAt(account.grower?.name ?? "");
    this.stages = looked.stages;
    this.days = looked.days;
    this.runId = (runs.present.find((r) => r.id === looked.plan) ?? runs.present[0])?.id ?? null;
    this.draft = { space_id: spaces.present[0]?.id, crop_id: crops.present[0]?.id };
  }

  async enter(how: "sign-in" | "sign-up", name: string, password: string): Promise<void> {
    await account.enter(how, name, password);
    await this.load();
  }

  /** Leave the account one way or another; what is shown of it goes. */
  async leave(how: () => Promise<void> = () => account.leave()): Promise<void> {
    await how();
    for (const rows of [spaces, racks, fixtures, crops, runs, devices]) rows.all = [];
    this.runId = null;
    this.stages = {};
    this.days = {};
  }

  /** Put a space, lamp or crop into the plan; the first complete choice starts one. */
  async choose(part: Partial<RunIn>): Promise<void> {
    const wanted = { ...this.choice, ...part };
    const { space_id, fixture_id, crop_id } = wanted;
    if (this.run) {
      const body = { over_cap: this.run.over_cap, ...pick(wanted), ...part } as RunIn;
      await runs.change(this.run.id, body);
    } else if (space_id && fixture_id && crop_id) {
      const saved = await runs.start({ space_id, fixture_id, crop_id, over_cap: false });
      this.openPlan(saved.id);
    } else {
      this.draft = wanted;
    }
  }

  /** Open a plan; it is the one shown after a reload too. */
  openPlan(runId: number): void {
    this.runId = runId;
    this.keepLooked();
  }

  /** Look at a stage of a plan, or at what of it follows a change. */
  lookAt(runId: number, stageId: number, fromDay = 0): void {
    this.stages = { ...this.stages, [runId]: stageId };
    this.days = { ...this.days, [runId]: fromDay };
    this.keepLooked();
  }

  private keepLooked(): void {
    const plan = this.runId ?? undefined;
    keepLooked(account.grower?.name ?? "", {
      plan,
      stages: $state.snapshot(this.stages),
      days: $state.snapshot(this.days),
    });
  }

  /** Begin another plan beside the present ones. */
  newPlan(): void {
    this.draft = { space_id: this.choice.space_id, crop_id: this.choice.crop_id };
    this.runId = null;
  }

  /** Copy a plan, perhaps with its space, and open the copy. */
  async copyPlan(run: Run, name: string, how: Partial<CopyIn>): Promise<void> {
    const made = await runs.copy(run.id, name.slice(0, 80), how);
    if (!spaces.of(made.space_id)) await spaces.load();
    this.openPlan(made.id);
  }

  /** Look at a space: the plan that stands for it, else a new one in it. */
  lookIn(space_id: number, runId: number | null): void {
    if (runId !== null && runs.of(runId)) this.openPlan(runId);
    else {
      this.draft = { space_id, crop_id: this.choice.crop_id };
      this.runId = null;
    }
  }

  /** Put a plan away; the next one is opened. */
  async putAway(run: Run, removed: boolean): Promise<void> {
    await runs.putAway(run.id, removed);
    if (!removed) this.openPlan(run.id);
    else if (this.runId === run.id) {
      const next = runs.present[0];
      if (next) this.openPlan(next.id);
      else this.newPlan();
    }
  }

  /** Whoever holds something not yet kept, and keeps it before anything is taken back. */
  readonly settling = new Set<() => Promise<unknown>>();
  /** Counts what was taken back or made again: forms of what it changed begin anew. */
  turned = $state(0);
  /** What was taken back or made again last. */
  back = $state.raw<TakenBack | null>(null);

  /** Take back the last change of the open plan, in whatever place, or make it again. */
  async turn(which: "undo" | "redo"): Promise<TakenBack | null> {
    if (!this.run) return null;
    await Promise.all([...this.settling].map((settle) => settle()));
    const found = await runs.turn(this.run.id, which);
    const rows = { space: spaces, crop: crops, fixture: fixtures, light: fixtures }[
      found.what as string
    ];
    if (rows) {
      await rows.load();
      this.turned++;
    }
    runs.put(found.run);
    this.back = found;
    return found;
  }

  /** What a plan is called: its own name, else its space and crop. */
  nameOf(run: Run): string {
    const parts = [spaces.of(run.space_id)?.name, crops.of(run.crop_id)?.name];
    return run.name || parts.filter(Boolean).join(" · ");
  }
}

function pick(run: Partial<RunIn>): Partial<RunIn> {
  return { space_id: run.space_id, fixture_id: run.fixture_id, crop_id: run.crop_id };
}

export const garden = new Garden();
