/** The life of a form: sent, refused with sentences at its fields, or kept. */

import { asRefusal, type Refusal } from "../../api/client";

export class Sending {
  busy = $state(false);
  kept = $state(false);
  refused = $state<Refusal | null>(null);

  /** The sentence for a field. */
  at(field: string): string | undefined {
    return this.refused?.fields[field];
  }

  /** The sentence that belongs to none of the fields shown. */
  get general(): string {
    if (!this.refused) return "";
    const fields = Object.values(this.refused.fields);
    return fields.length ? "Not kept yet: see the marked fields." : this.refused.message;
  }

  async send(work: () => Promise<unknown>): Promise<boolean> {
    this.busy = true;
    this.refused = null;
    this.kept = false;
    try {
      await work();
      this.kept = true;
    } catch (error) {
      this.refused = asRefusal(error);
    }
    this.busy = false;
    return this.kept;
  }
}
