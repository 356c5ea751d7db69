/** One sum: asked for as it is typed, worked out by the server. */

import { answer, asRefusal, client, type SumIn, type Worked } from "../../api/client";

const SETTLED_MS = 150;

export class Sum {
  worked = $state<Worked | null>(null);
  sentence = $state("");
  private timer: ReturnType<typeof setTimeout> | undefined;
  private asked = 0;

  /** Nothing is asked while a figure is missing. */
  ask(asked: SumIn): void {
    clearTimeout(this.timer);
    const turn = ++this.asked;
    const missing = Object.values(asked).some(
      (value) => value === null || (typeof value === "number" && Number.isNaN(value)),
    );
    if (missing) {
      [this.worked, this.sentence] = [null, ""];
      return;
    }
    this.timer = setTimeout(() => {
      answer(client.POST("/api/sums", { body: { asked } }))
        .then((worked) => {
          if (turn === this.asked) [this.worked, this.sentence] = [worked, ""];
        })
        .catch((error: unknown) => {
          if (turn !== this.asked) return;
          const refusal = asRefusal(error);
          this.worked = null;
          this.sentence = Object.values(refusal.fields)[0] ?? refusal.message;
        });
    }, SETTLED_MS);
  }
}
