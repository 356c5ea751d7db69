/** A run's log: what stands in it, and what was entered here and is still on its way. */

import {
  answer,
  type Causes,
  client,
  type LightGiven,
  type LinePiece,
  type LogEntry,
  type LogEntryIn,
  type PastSetting,
  type TopsSeen,
  type WalkRow,
} from "./client";
import { newKey } from "./key";
import { outbox } from "./outbox.svelte";
import type { TableKind } from "../parts/download";
import { runs } from "./runs.svelte";

const ENTRIES = "/api/logbook/runs/{run_id}/entries" as const;

interface Step {
  run: number;
  entry: LogEntryIn;
}

/** What of an entry is typed or tapped; the rest follows. */
export type Entered = Pick<LogEntryIn, "kind" | "text"> &
  Partial<Pick<LogEntryIn, "at" | "values" | "replaces" | "gone">>;

/** An entry as the list has it, before the server has told of it. */
function asShown({ key, kind, at, text, values, replaces }: LogEntryIn): LogEntry {
  const said = Object.entries(values ?? {}).filter(([, value]) => value != null);
  return {
    id: 0,
    key,
    kind,
    at,
    text: text ?? "",
    values: Object.fromEntries(said) as LogEntry["values"],
    edited: replaces != null,
  };
}

/** What was set at the bench, as entries of the log; they are changed there. */
export function fromBench(settings: PastSetting[]): LogEntry[] {
  return settings.flatMap((row) => {
    if (row.kind !== "set" || row.freed || !row.holds_from) return [];
    const { height_cm, dial_pct } = row;
    const hours = row.windows.reduce((sum, window) => sum + window.hours, 0);
    const all = { height_cm, dial_pct, hours, on_minute: row.windows[0]?.on_minute };
    const values = Object.entries(all).filter(([, value]) => value != null);
    return [
      {
        id: row.id,
        key: `${BENCH}${row.id}`,
        kind: "setting" as const,
        at: row.holds_from,
        text: "",
        values: Object.fromEntries(values) as LogEntry["values"],
        edited: false,
      },
    ];
  });
}

/** Walks with the sensor in a run's days, as entries; they are changed with the readings. */
export function fromWalks(walks: WalkRow[], begun: string): LogEntry[] {
  return walks.flatMap((walk) => {
    if (walk.removed || !walk.readings || walk.begun_at.slice(0, 10) < begun) return [];
    const spots = `${walk.readings} ${walk.readings === 1 ? "spot" : "spots"}`;
    const mean = walk.mean === null ? "" : `, mean ${Math.round(walk.mean)}`;
    return [
      {
        id: 0,
        key: `${READINGS}${walk.key}`,
        kind: "note" as const,
        at: walk.begun_at,
        text: `walk with the sensor: ${spots}${mean}`,
        values: {},
        edited: false,
      },
    ];
  });
}

const BENCH = "bench ";
const READINGS = "readings ";
/** Where an entry stands that is not the log's own, and is changed there. */
export const whence = (entry: LogEntry): string =>
  entry.key.startsWith(BENCH)
    ? "from the bench"
    : entry.key.startsWith(READINGS)
      ? "from the readings"
      : "";

/** What stands once all that is still on its way has come. */
export function standing(kept: LogEntry[], coming: LogEntryIn[]): LogEntry[] {
  let found = kept;
  for (const entry of coming) {
    found = found.filter((each) => each.key !== entry.replaces);
    if (!entry.gone && !found.some((each) => each.key === entry.key))
      found = [asShown(entry), ...found];
  }
  return found.toSorted((a, b) => Date.parse(b.at) - Date.parse(a.at));
}

class Log {
  /** The run whose log is open. */
  private run = $state(0);
  private kept = $state.raw<LogEntry[]>([]);
  entries = $derived(
    standing(
      this.kept,
      (outbox.bodies("log") as Step[])
        .filter((step) => step.run === this.run)
        .map((step) => step.entry),
    ),
  );
  more = $state(false);
  tops = $state.raw<TopsSeen | null>(null);
  light = $state.raw<LightGiven | null>(null);

  constructor() {
    outbox.carry<Step>(
      "log",
      async (steps) => {
        const [first] = steps;
        if (!first) return;
        const params = { path: { run_id: first.run } };
        const body = { entries: steps.map((step) => step.entry) };
        await answer(client.POST(ENTRIES, { params, body }));
        // what was kept is kept, whatever comes of looking again
        if (first.run === this.run) await this.load(this.run).catch(() => undefined);
      },
      (before, next) => before.run === next.run,
    );
  }

  async load(run_id: number): Promise<void> {
    if (run_id !== this.run) [this.kept, this.tops, this.light] = [[], null, null];
    this.run = run_id;
    const params = { path: { run_id } };
    const [log, settings, walks, tops, light] = await Promise.all([
      answer(client.GET(ENTRIES, { params })),
      answer(
        client.GET("/api/runs/{run_id}/settings", {
          params: { ...params, query: { kind: "done" } },
        }),
      ),
      answer(client.GET("/api/readings/runs/{run_id}/walks", { params })),
      answer(client.GET("/api/logbook/runs/{run_id}/tops", { params })),
      // of a plan that cannot be there is no light to tell; its log is there all the same
      answer(client.GET("/api/logbook/runs/{run_id}/light", { params })).catch(() => null),
    ]);
    if (run_id !== this.run) return;
    const begun = runs.of(run_id)?.begun_on ?? "9999";
    this.kept = [...log.entries, ...fromBench(settings), ...fromWalks(walks, begun)];
    [this.more, this.tops, this.light] = [log.more, tops, light];
  }

  /** The whole log as a table. */
  file(run_id: number, kind: TableKind): Promise<{ name: string; content: string }> {
    const params = { path: { run_id }, query: { kind } };
    return answer(client.GET("/api/logbook/runs/{run_id}/entries/table", { params }));
  }

  /** What may be behind something that was seen, by the run's own light and log. */
  causes(run_id: number, entry: string): Promise<Causes> {
    const params = { path: { run_id, entry } };
    return answer(client.GET("/api/logbook/runs/{run_id}/entries/{entry}/causes", { params }));
  }

  /** What would be kept of a line; nothing is kept by it. */
  read(line: string): Promise<LinePiece[]> {
    return answer(client.POST("/api/logbook/line", { body: { line } }));
  }

  /** Keep an entry: here at once, at the server as soon as it can be. */
  enter(run: number, entered: Entered): LogEntryIn {
    const entry: LogEntryIn = {
      key: newKey(),
      at: new Date().toISOString(),
      values: {},
      replaces: null,
      gone: false,
      ...entered,
    };
    outbox.put("log", { run, entry } satisfies Step);
    return entry;
  }

  /** What was taken out of sight, the newest first. */
  gone(run_id: number): Promise<LogEntry[]> {
    const params = { path: { run_id } };
    return answer(client.GET("/api/logbook/runs/{run_id}/entries/gone", { params }));
  }

  /** Bring back what was taken out of sight. */
  bringBack(run: number, { key, kind, text, at, values }: LogEntry): void {
    this.enter(run, { kind, text, at, values, replaces: key });
  }

  /** Take an entry out of sight; returns how to bring it back. */
  remove(run: number, entry: LogEntry): () => Promise<void> {
    const { kind, text, at, values } = entry;
    const own = { kind, text, at, values };
    const gone = this.enter(run, { ...own, replaces: entry.key, gone: true });
    return () => {
      this.enter(run, { ...own, replaces: gone.key });
      return Promise.resolve();
    };
  }
}

export const log = new Log();
