/** One line above the place: what went wrong where no form says so, or what was put away. */

import { asRefusal } from "../api/client";

class Notice {
  sentence = $state("");
  wrong = $state(false);
  /** Takes back what is said. */
  undo = $state<(() => Promise<unknown>) | null>(null);
  label = $state("Undo");

  say(sentence: string, undo: (() => Promise<unknown>) | null = null, label = "Undo"): void {
    [this.sentence, this.wrong, this.undo, this.label] = [sentence, false, undo, label];
  }

  /** Say what was thrown; an abort is nothing to say. */
  complain(error: unknown): void {
    if (error instanceof DOMException && error.name === "AbortError") return;
    [this.sentence, this.wrong, this.undo] = [asRefusal(error).message, true, null];
  }

  clear(): void {
    [this.sentence, this.wrong, this.undo] = ["", false, null];
  }
}

export const notice = new Notice();

/** Do something that may be refused; a refusal is said above the place. */
export async function attempt(work: () => Promise<unknown>): Promise<boolean> {
  try {
    await work();
    return true;
  } catch (error) {
    notice.complain(error);
    return false;
  }
}
