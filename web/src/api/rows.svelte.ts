/** Rows of one kind that the server keeps for this grower, as it last told of them. */

import { Refusal } from "./client";

export interface Row {
  id: number;
  version: number;
  removed?: boolean;
}

/** The header by which a change says on which version it was made. */
export function madeOn(row: Row | null): { "If-Match"?: string } {
  return row ? { "If-Match": `"${row.version}"` } : {};
}

export class Rows<T extends Row> {
  all = $state<T[]>([]);
  /** Those that are not put away. */
  present = $derived(this.all.filter((row) => !row.removed));
  away = $derived(this.all.filter((row) => row.removed));

  of(id: number | null | undefined): T | null {
    return this.all.find((row) => row.id === id) ?? null;
  }

  /** Take a row as it now is: in its place, or behind the others. */
  put(row: T): T {
    this.all = this.of(row.id)
      ? this.all.map((known) => (known.id === row.id ? row : known))
      : [...this.all, row];
    return row;
  }

  /** Wait for a change. One that comes too late brings the row as it now is, and is refused. */
  async kept(pending: Promise<T>): Promise<T> {
    try {
      return this.put(await pending);
    } catch (error) {
      if (error instanceof Refusal && error.present) this.put(error.present as T);
      throw error;
    }
  }
}
