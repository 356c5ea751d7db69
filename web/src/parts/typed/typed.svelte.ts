/** A light map being typed: its cells, and what the server makes of them. */

import { answer, asRefusal, client, type MapSum, type MapSumIn } from "../../api/client";

const SETTLED_MS = 150;
export const MOST_SIDE = 100;

export type Area = Omit<MapSumIn, "rows" | "text">;

/** What a cell's text says: a figure, nothing, or NaN where it is none. */
export function figure(text: string): number | null {
  const plain = text.trim().replace(",", ".");
  return plain === "" ? null : Number(plain);
}

export class Typed {
  /** As typed, the back row first. */
  cells = $state<string[][]>(blank(3, 3));
  read = $state<MapSum | null>(null);
  sentence = $state("");
  /** How a pasted block was read, where that was not plain. */
  notes = $state<MapSum["notes"]>([]);

  private timer: ReturnType<typeof setTimeout> | undefined;
  private asked = 0;

  get rows(): number {
    return this.cells.length;
  }
  get columns(): number {
    return this.cells[0]?.length ?? 0;
  }
  /** Cells that hold something else than a figure. */
  get wrong(): boolean {
    return this.cells.some((row) => row.some((text) => Number.isNaN(figure(text))));
  }

  resize(rows: number, columns: number): void {
    if (!(rows >= 1 && columns >= 1 && rows <= MOST_SIDE && columns <= MOST_SIDE)) return;
    this.cells = Array.from({ length: Math.round(rows) }, (_, j) =>
      Array.from({ length: Math.round(columns) }, (_, i) => this.cells[j]?.[i] ?? ""),
    );
  }

  set(j: number, i: number, text: string): void {
    const row = this.cells[j];
    if (row) row[i] = text;
  }

  /** Figures from a spreadsheet, from a cell on; the grid grows where they need more room. */
  async paste(j: number, i: number, text: string, area: Area): Promise<void> {
    const asked = ++this.asked;
    try {
      const found = await answer(client.POST("/api/sums/map", { body: { ...area, text } }));
      const wide = Math.max(...found.rows.map((row) => row.length));
      this.resize(
        Math.min(Math.max(this.rows, j + found.rows.length), MOST_SIDE),
        Math.min(Math.max(this.columns, i + wide), MOST_SIDE),
      );
      found.rows.forEach((row, r) =>
        row.forEach((value, c) => this.set(j + r, i + c, value === null ? "" : String(value))),
      );
      [this.sentence, this.notes] = ["", found.notes];
    } catch (error) {
      if (asked === this.asked) this.sentence = asRefusal(error).message;
    }
  }

  /** What the cells come to, at once. */
  async now(area: Area): Promise<MapSum> {
    clearTimeout(this.timer);
    this.asked++;
    const rows = this.cells.map((row) => row.map(figure));
    const read = await answer(client.POST("/api/sums/map", { body: { ...area, text: "", rows } }));
    [this.read, this.sentence] = [read, ""];
    return read;
  }

  /** Ask what the cells come to, once the typing rests. */
  ask(area: Area): void {
    clearTimeout(this.timer);
    const rows = this.cells.map((row) => row.map(figure));
    if (this.wrong || !rows.some((row) => row.some((value) => value !== null))) {
      this.read = null;
      return;
    }
    const asked = ++this.asked;
    this.timer = setTimeout(() => {
      answer(client.POST("/api/sums/map", { body: { ...area, text: "", rows } }))
        .then((read) => {
          if (asked === this.asked) [this.read, this.sentence] = [read, ""];
        })
        .catch((error: unknown) => {
          if (asked === this.asked) [this.read, this.sentence] = [null, asRefusal(error).message];
        });
    }, SETTLED_MS);
  }
}

function blank(rows: number, columns: number): string[][] {
  return Array.from({ length: rows }, () => Array.from({ length: columns }, () => ""));
}
