/** The life of a form: sent, refused with sentences at its fields, or kept.
 *
 * Fields find their form, and where in it they stand, by context. A sentence whose field is shown
 * stands at that field; every other stands above the form's button.
 */

import { getContext, setContext, untrack } from "svelte";
import { SvelteMap } from "svelte/reactivity";

import { asRefusal, type Refusal } from "../../api/client";

export class Form {
  busy = $state(false);
  kept = $state(false);
  refused = $state<Refusal | null>(null);
  /** Whether it is asked here what holds of what was changed elsewhere meanwhile. */
  settles = $state(false);
  /** The fields on the page, each as often as it is shown. */
  private shown = new SvelteMap<string, number>();

  /** The sentence for a field. */
  at(field: string): string | undefined {
    return this.refused?.fields[field];
  }

  show(field: string): () => void {
    this.shown.set(field, (this.shown.get(field) ?? 0) + 1);
    return () => {
      const left = (this.shown.get(field) ?? 1) - 1;
      if (left) this.shown.set(field, left);
      else this.shown.delete(field);
    };
  }

  /** Whether all that is said stands at fields that are shown. */
  get marked(): boolean {
    const fields = Object.keys(this.refused?.fields ?? {});
    return fields.length > 0 && fields.every((field) => this.shown.has(field));
  }

  /** What belongs to none of the fields shown. */
  get general(): string {
    if (!this.refused) return "";
    const fields = Object.entries(this.refused.fields);
    if (this.unsettled)
      return "Changed elsewhere meanwhile: say above what holds. Nothing is kept yet.";
    if (!fields.length) return this.refused.message;
    if (this.marked) return "Not kept yet: see the marked fields.";
    const elsewhere = fields.filter(([field]) => !this.shown.has(field));
    const sentences = elsewhere.map(([, sentence]) => sentence);
    return sentences.filter((one, i) => sentences.indexOf(one) === i).join(" ");
  }

  /** Whether something changed elsewhere waits to be put together with what is here. */
  get unsettled(): boolean {
    return this.settles && Boolean(this.refused?.present);
  }

  async send(work: () => Promise<unknown>): Promise<boolean> {
    // what was changed elsewhere is not overwritten unseen
    if (this.unsettled) return false;
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

interface Place {
  form: Form;
  /** The dotted name of where these fields stand, with its dot. */
  prefix: () => string;
}
const PLACE = Symbol("form");

/** Begin a form: the fields below find it. */
export function newForm(): Form {
  const form = new Form();
  setContext<Place>(PLACE, { form, prefix: () => "" });
  return form;
}

/** Say where in the form the fields below stand, as `stages.0`. */
export function within(part: () => string): void {
  const place = getContext<Place | undefined>(PLACE);
  if (place) setContext<Place>(PLACE, { ...place, prefix: () => `${place.prefix()}${part()}.` });
}

/** What the form says of a field, or of the first of several it goes by. */
export function useField(name: () => string | string[] | undefined): {
  readonly error: string | undefined;
} {
  const place = getContext<Place | undefined>(PLACE);
  const names = (): string[] => {
    const given = name();
    if (!place || given === undefined) return [];
    return [given].flat().map((one) => `${place.prefix()}${one}`);
  };
  $effect(() => {
    const fields = names();
    // counting them is no reason to count them again
    const hide = untrack(() => fields.map((field) => place?.form.show(field)));
    return () => untrack(() => hide.forEach((done) => done?.()));
  });
  return {
    get error() {
      return names()
        .map((field) => place?.form.at(field))
        .find(Boolean);
    },
  };
}

/** Whether something is said of any field under one of these names: its part is then opened. */
export function useWrong(names: () => string[]): { readonly any: boolean } {
  const place = getContext<Place | undefined>(PLACE);
  return {
    get any() {
      const under = names().map((name) => `${place?.prefix() ?? ""}${name}`);
      const fields = Object.keys(place?.form.refused?.fields ?? {});
      return fields.some((field) => under.some((name) => `${field}.`.startsWith(`${name}.`)));
    },
  };
}
