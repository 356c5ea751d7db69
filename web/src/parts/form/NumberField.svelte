<script lang="ts">
  import { fromCm, type LengthUnit, toCm, trim } from "../../units/format";

  interface Props {
    label: string;
    /** In cm when `length` is given, whatever is shown. */
    value: number | null;
    length?: LengthUnit;
    unit?: string;
    error?: string | undefined;
    hint?: string | undefined;
    narrow?: boolean;
    hideLabel?: boolean;
  }
  let {
    label,
    value = $bindable(),
    length,
    unit,
    error,
    hint,
    narrow = false,
    hideLabel = false,
  }: Props = $props();
  const id = $props.id();
  const suffix = $derived(length || unit ? ` (${length ?? unit})` : "");

  const shown = $derived(
    value === null || Number.isNaN(value)
      ? ""
      : length
        ? trim(fromCm(value, length), length === "cm" ? 1 : 2)
        : String(value),
  );
  // what was typed stays as typed until the value or the unit changes from elsewhere
  let typed = $state<string | null>(null);

  function read(event: Event & { currentTarget: HTMLInputElement }): void {
    typed = event.currentTarget.value;
    const text = typed.trim().replace(",", ".");
    const figure = text === "" ? null : Number(text);
    value = figure === null ? null : length ? toCm(figure, length) : figure;
  }
</script>

<div class="grid content-start gap-0.5" class:narrow>
  <label class="quiet text-sm whitespace-nowrap" class:sr-only={hideLabel} for={id}
    >{label}{suffix}</label
  >
  <input
    {id}
    type="text"
    inputmode="decimal"
    autocomplete="off"
    class="input w-full max-sm:min-h-11"
    class:input-sm={narrow}
    class:input-error={error}
    value={typed ?? shown}
    oninput={read}
    onblur={() => (typed = value !== null && Number.isNaN(value) ? typed : null)}
    aria-invalid={Boolean(error)}
    aria-describedby={error || hint ? `${id}-more` : undefined}
  />
  {#if error}
    <p id="{id}-more" class="text-error text-sm" role="alert">{error}</p>
  {:else if hint}
    <p id="{id}-more" class="quiet text-sm">{hint}</p>
  {/if}
</div>

<style>
  .narrow {
    width: 6.6rem;
    max-width: 100%;
  }
</style>
