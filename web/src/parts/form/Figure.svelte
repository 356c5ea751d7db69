<script lang="ts">
  import { account } from "../../api/grower.svelte";
  import { fromC, fromCm, fromKg, toC, toCm, toKg, trim } from "../../units/format";
  import FieldNote from "./FieldNote.svelte";
  import { useField } from "./form.svelte";

  type Kind = "plain" | "length" | "share" | "weight" | "temperature" | "warmer";
  interface Props {
    label: string;
    /** In cm, kg, °C or 0 to 1 for a share, whatever is shown; not a number where nothing is. */
    value: number | null | undefined;
    kind?: Kind;
    /** The field's name on the server: what is said of it stands here. */
    name?: string | string[];
    unit?: string;
    hint?: string | undefined;
    narrow?: boolean;
    /** How many decimals of a per cent are shown. */
    decimals?: number;
  }
  let {
    label,
    value = $bindable(),
    kind = "plain",
    name,
    unit,
    hint,
    narrow = false,
    decimals = 1,
  }: Props = $props();
  const id = $props.id();
  const field = useField(() => name);
  const length = $derived(account.unit);
  const degrees = $derived(account.temperature);
  const of = $derived(
    {
      plain: unit,
      length,
      share: "%",
      weight: length === "cm" ? "kg" : "lb",
      temperature: `°${degrees}`,
      warmer: `°${degrees}`,
    }[kind],
  );
  /** A figure as it is shown, and back to what is kept. */
  const units = $derived<
    Record<Exclude<Kind, "plain">, [(v: number) => number, (v: number) => number]>
  >({
    length: [(v) => fromCm(v, length), (v) => toCm(v, length)],
    share: [(v) => v * 100, (v) => v / 100],
    weight: [(v) => fromKg(v, length), (v) => toKg(v, length)],
    temperature: [(v) => fromC(v, degrees), (v) => toC(v, degrees)],
    warmer: [(v) => fromC(v, degrees, true), (v) => toC(v, degrees, true)],
  });
  const places = $derived(
    kind === "length" ? (length === "cm" ? 1 : 2) : kind === "share" ? decimals : 2,
  );

  const shown = $derived.by(() => {
    if (value === null || value === undefined || Number.isNaN(value)) return "";
    return kind === "plain" ? String(value) : trim(units[kind][0](value), places);
  });
  // what was typed stays as typed until the value or the unit changes from elsewhere
  let typed = $state<string | null>(null);

  function read(event: Event & { currentTarget: HTMLInputElement }): void {
    typed = event.currentTarget.value;
    const text = typed.trim().replace(",", ".");
    const figure = text === "" ? null : Number(text);
    if (figure === null) value = null;
    else value = kind === "plain" ? figure : units[kind][1](figure);
  }
</script>

<div class="grid content-start gap-0.5" class:narrow>
  <label class="quiet text-sm whitespace-nowrap" for={id}>{label}{of ? ` (${of})` : ""}</label>
  <input
    {id}
    type="text"
    inputmode="decimal"
    autocomplete="off"
    class="input w-full max-sm:min-h-11"
    class:input-sm={narrow}
    size={narrow ? 6 : undefined}
    class:input-error={field.error}
    value={typed ?? shown}
    oninput={read}
    onblur={() => (typed = Number.isNaN(value) ? typed : null)}
    aria-invalid={Boolean(field.error)}
    aria-describedby={field.error || hint ? `${id}-more` : undefined}
  />
  <FieldNote id="{id}-more" error={field.error} {hint} />
</div>

<style>
  .narrow {
    /* as wide as its label, where that is longer */
    width: max-content;
    min-width: 6.6rem;
    max-width: 100%;
  }
</style>
