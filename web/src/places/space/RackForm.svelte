<script lang="ts">
  import type { Rack, SpaceIn } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { racks } from "../../api/racks.svelte";
  import { spaces } from "../../api/spaces.svelte";
  import Field from "../../parts/form/Field.svelte";
  import Figure from "../../parts/form/Figure.svelte";
  import { newForm } from "../../parts/form/form.svelte";
  import SaveRow from "../../parts/form/SaveRow.svelte";
  import SelectField from "../../parts/form/SelectField.svelte";

  let { done }: { done: (rack: Rack) => void } = $props();
  const sending = newForm();

  let name = $state("");
  /** How high each level is, the lowest first. */
  let clear = $state<number[]>([40, 40, 40]);
  let level = $state<SpaceIn>({
    name: "level",
    width_cm: NaN,
    depth_cm: NaN,
    height_cm: 40,
    lining: "open",
    lining_left: "",
    lining_right: "",
    lining_front: "",
    lining_back: "",
    stands: [],
    plots: [],
    pot_cm: 9,
    hangers_cm: 0,
    ceiling_reflectance: 0.5,
    board_through: 0,
    lamps_fixed: true,
    co2_enriched: false,
    timer_step_min: 15,
    follows_summer_time: false,
    currency: account.currency,
    tariff_per_kwh: 0.3,
    tariff_bands: [],
    ramp_min: 0,
    daylight: null,
    heat: null,
  });

  async function save(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    let made: Rack | null = null;
    const kept = await sending.send(async () => {
      made = await racks.add($state.snapshot({ name, clear_cm: clear, level }));
    });
    if (kept && made) done(made);
  }
</script>

<form class="grid gap-3" onsubmit={save} novalidate>
  <p class="quiet text-sm">
    Each level is planned like a tent of its own, with its own lamps and crop; the rack adds up what
    they draw and cost.
  </p>
  <Field label="What you call the rack" bind:value={name} name="name" />
  <div class="grid grid-cols-2 gap-2">
    <Figure label="Board, width" kind="length" bind:value={level.width_cm} name="level.width_cm" />
    <Figure label="Board, depth" kind="length" bind:value={level.depth_cm} name="level.depth_cm" />
  </div>
  <fieldset>
    <legend class="mb-1">From board to board, the lowest level first</legend>
    <div class="grid grid-cols-3 gap-2">
      {#each clear as _, i (i)}
        <Figure
          label="Level {i + 1}"
          kind="length"
          bind:value={() => clear[i] ?? NaN, (cm) => (clear[i] = cm ?? NaN)}
          name={`clear_cm.${i}`}
        />
      {/each}
    </div>
    <div class="mt-1 flex gap-2">
      <button
        type="button"
        class="btn btn-sm max-sm:min-h-11"
        disabled={clear.length >= 12}
        onclick={() => clear.push(clear.at(-1) ?? 40)}>One more</button
      >
      <button
        type="button"
        class="btn btn-sm max-sm:min-h-11"
        disabled={clear.length < 2}
        onclick={() => clear.pop()}>One less</button
      >
    </div>
  </fieldset>
  <SelectField
    label="Sides"
    bind:value={level.lining}
    options={spaces.linings.map((l) => ({ value: l.key, label: l.label }))}
    hint="A wall behind it, or one open side, can be told of each level later."
  />
  <div class="grid grid-cols-2 gap-2">
    <Figure
      label="A board sends back"
      kind="share"
      bind:value={level.ceiling_reflectance}
      name="level.ceiling_reflectance"
      hint="Of the light from below: white about 70, bare wood 40, wire next to none."
    />
    <Figure
      label="and lets through"
      kind="share"
      bind:value={() => level.board_through ?? 0, (v) => (level.board_through = v ?? NaN)}
      name="level.board_through"
      hint="A solid board 0, wire up to 80."
    />
  </div>
  <label class="flex min-h-11 items-center gap-2 sm:min-h-0">
    <input type="checkbox" class="checkbox" bind:checked={level.lamps_fixed} />
    Lamps are fixed under the board
    <span class="quiet text-sm">their height is no lever</span>
  </label>
  <div class="grid grid-cols-2 gap-2">
    <Figure label="Pot height" kind="length" bind:value={level.pot_cm} name="level.pot_cm" />
    <Figure
      label="Ropes and hooks take"
      kind="length"
      bind:value={level.hangers_cm}
      name="level.hangers_cm"
    />
  </div>
  <div class="grid grid-cols-3 gap-2">
    <SelectField
      label="Timer steps"
      bind:value={level.timer_step_min}
      options={([1, 15, 30, 60] as const).map((m) => ({ value: m, label: `${m} min` }))}
    />
    <Field
      label="Currency"
      bind:value={() => level.currency ?? "", (v) => (level.currency = v)}
      name="level.currency"
    />
    <Figure
      label="Price"
      unit="per kWh"
      bind:value={level.tariff_per_kwh}
      name="level.tariff_per_kwh"
    />
  </div>
  <SaveRow form={sending} label="Add this rack" />
</form>
