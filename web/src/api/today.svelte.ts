/** What is to be done today for the runs that are under way. */

import { type Away, answer, client, type Due, type LogEntryIn, type TodayRun } from "./client";
import { type Entered, log } from "./logbook.svelte";
import { outbox } from "./outbox.svelte";

export type Answered = "done" | "later" | "never";

class Today {
  private told = $state.raw<TodayRun[]>([]);
  ready = $state(false);

  /** Answers that are still on their way, by run. */
  private answered = $derived(
    (outbox.bodies("log") as { run: number; entry: LogEntryIn }[]).flatMap(({ run, entry }) =>
      entry.kind === "answer" ? [`${run} ${entry.values?.due ?? ""}`] : [],
    ),
  );
  /** Entries of the log that are still on their way. */
  coming = $derived(outbox.bodies("log").length);

  runs = $derived(
    this.told.map((row) => {
      if (!row.day) return row;
      const due = row.day.due.filter(
        (each) => !this.answered.includes(`${row.run_id} ${each.key}`),
      );
      return { ...row, day: { ...row.day, due } };
    }),
  );

  async load(): Promise<void> {
    this.told = await answer(client.GET("/api/logbook/today"));
    this.ready = true;
  }

  /** Answer what is due; what was really set or seen goes into the log before it. */
  answer(run: number, due: Due, what: Answered, words: string, ...more: Entered[]): void {
    for (const entered of more) log.enter(run, entered);
    log.enter(run, { kind: "answer", text: words.slice(0, 500), values: { due: due.key, what } });
  }

  /** One setting that holds while nobody comes. */
  away(run_id: number, days: number): Promise<Away | null> {
    const params = { path: { run_id }, query: { days_away: days } };
    return answer(client.GET("/api/logbook/runs/{run_id}/away", { params }));
  }
}

export const today = new Today();
