<script lang="ts" module>
  type NumericField =
    | "days"
    | "dli_low"
    | "dli_high"
    | "hot_spot_cap"
    | "hours_low"
    | "hours_high"
    | "evenness_goal"
    | "ppfd_low"
    | "ppfd_high"
    | "plant_start_cm"
    | "plant_end_cm"
    | "night_h";
</script>

<script lang="ts">
  import { onMount } from "svelte";

  import type { StageIn } from "../../api/client";
  import { crops } from "../../api/crops.svelte";
  import Figure from "../../parts/form/Figure.svelte";
  import { useWrong, within } from "../../parts/form/form.svelte";
  import SelectField from "../../parts/form/SelectField.svelte";
  import Field from "../../parts/form/Field.svelte";
  import { attempt } from "../../parts/notice.svelte";
  import Term from "../../parts/Term.svelte";

  interface Props {
    stage: StageIn;
    number: number;
    remove?: (() => void) | undefined;
  }
  let { stage = $bindable(), number, remove }: Props = $props();
  within(() => `stages.${number - 1}`);
  const id = $props.id();
  onMount(() => void attempt(() => crops.loadLabels()));

  /** Ask what a plant's label says. */
  function ask(event: Event & { currentTarget: HTMLSelectElement }): void {
    const said = crops.labels.find((label) => label.key === event.currentTarget.value);
    if (!said) return;
    const { dli_low, dli_high } = said;
    Object.assign(stage, { dli_low, dli_high, ppfd_low: null, ppfd_high: null });
    stage.provenance = `the words "${said.label}" of a plant's label; wide`;
  }
  const rest = useWrong(() => ["ppfd_low", "ppfd_high", "evenness_goal", "night_h"]);
</script>

{#snippet figure(
  label: string,
  field: NumericField,
  extra: { unit?: string; plant?: boolean } = {},
)}
  <Figure
    {label}
    narrow
    kind={extra.plant ? "length" : "plain"}
    {...extra.unit ? { unit: extra.unit } : {}}
    bind:value={() => stage[field] ?? null, (value) => (stage[field] = value as number)}
    name={field}
  />
{/snippet}

<fieldset>
  <legend class="sr-only">Stage {number}</legend>
  <div class="mb-2 flex flex-wrap items-end gap-2">
    <div class="min-w-48 flex-1">
      <Field label="Stage {number}" bind:value={stage.name} name="name" />
    </div>
    {@render figure("Lasts", "days", { unit: "days" })}
    {@render figure("Tops, start", "plant_start_cm", { plant: true })}
    {@render figure("Tops, end", "plant_end_cm", { plant: true })}
    {#if remove}
      <button type="button" class="btn btn-sm btn-ghost" onclick={remove}
        >Take out<span class="sr-only"> stage {number}</span></button
      >
    {/if}
  </div>
  <div class="flex flex-wrap items-start gap-2">
    {@render figure("DLI from", "dli_low", { unit: "mol" })}
    {@render figure("DLI to", "dli_high", { unit: "mol" })}
    <div class="grid w-40 content-start gap-0.5">
      <label class="quiet text-sm whitespace-nowrap" for={id}>or as its label says</label>
      <select {id} class="select select-sm w-full max-sm:min-h-11" value="" onchange={ask}>
        <option value="">–</option>
        {#each crops.labels as label (label.key)}
          <option value={label.key}>{label.label}</option>
        {/each}
      </select>
    </div>
    {@render figure("Brightest", "hot_spot_cap", { unit: "µmol" })}
    {@render figure("Hours from", "hours_low")}
    {@render figure("Hours to", "hours_high")}
  </div>
  <details class="mt-1" open={rest.any || Boolean(stage.ppfd_low)}>
    <summary class="quiet cursor-pointer text-sm max-sm:min-h-11"
      >Evenness, night, day length{stage.ppfd_low ? ", PPFD" : ", a PPFD band of your own"}</summary
    >
    <div class="flex flex-wrap items-start gap-2">
      {@render figure("Dimmest over mean", "evenness_goal")}
      <div class="w-32">
        <SelectField
          label="Day length"
          small
          bind:value={() => stage.response ?? "neutral", (value) => (stage.response = value)}
          options={[
            { value: "neutral", label: "Neutral" },
            { value: "long-day", label: "Long days" },
            { value: "short-day", label: "Short days" },
          ]}
        />
      </div>
      {@render figure("Dark it needs", "night_h", { unit: "h" })}
      {@render figure("PPFD from", "ppfd_low")}
      {@render figure("PPFD to", "ppfd_high")}
    </div>
    <p class="quiet text-sm">
      <Term of="ppfd">PPFD</Term> left empty follows from the <Term of="dli">DLI</Term> band and the hours.
      To go by PPFD alone leave the DLI empty: it follows from these and the hours. With both, both have
      to hold. What is meant by <Term of="evenness">dimmest over mean</Term>, by the
      <Term of="night">night</Term> and by <Term of="daylength">day length</Term>.
    </p>
    <label class="mt-1 flex min-h-11 items-center gap-2 text-sm sm:min-h-0">
      <input
        type="checkbox"
        class="checkbox checkbox-sm"
        bind:checked={() => stage.unbroken_night ?? false, (v) => (stage.unbroken_night = v)}
      />
      Its night must be unbroken
    </label>
  </details>
  {#if stage.response === "short-day"}
    <p class="text-warning mt-1 text-sm">
      Its nights must stay dark and unbroken: no light through seams, no lamp at night.
    </p>
  {/if}
  {#if stage.provenance}
    <p class="quiet mt-1 text-sm">Where the figures come from: {stage.provenance}.</p>
  {/if}
</fieldset>
