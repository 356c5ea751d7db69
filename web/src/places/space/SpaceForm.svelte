<script lang="ts">
  import type { Plot, Space, SpaceIn, Stand } from "../../api/client";
  import { garden } from "../../api/garden.svelte";
  import NumberField from "../../parts/form/NumberField.svelte";
  import SaveRow from "../../parts/form/SaveRow.svelte";
  import SelectField from "../../parts/form/SelectField.svelte";
  import { Sending } from "../../parts/form/sending.svelte";
  import TextField from "../../parts/form/TextField.svelte";
  import DaylightFields from "./DaylightFields.svelte";
  import Rectangles from "./Rectangles.svelte";
  import TariffBands from "./TariffBands.svelte";
  import { percent } from "../../units/format";

  let { space, done }: { space: Space | null; done: () => void } = $props();

  const START: SpaceIn = {
    name: "",
    width_cm: NaN,
    depth_cm: NaN,
    height_cm: NaN,
    lining: "silver",
    lining_left: "",
    lining_right: "",
    lining_front: "",
    lining_back: "",
    stands: [],
    plots: [],
    tariff_bands: [],
    ramp_min: 0,
    daylight: null,
    heat: null,
    pot_cm: 15,
    hangers_cm: 10,
    co2_enriched: false,
    timer_step_min: 15,
    follows_summer_time: false,
    currency: garden.grower?.currency ?? "€",
    tariff_per_kwh: 0.3,
  };
  const WALLS = ["left", "right", "front", "back"] as const;
  const WALL_NAMES = { left: "Left", right: "Right", front: "Front", back: "Back" } as const;
  function begin(): SpaceIn {
    if (!space) return { ...START };
    const { id: _, version: _v, removed: _r, tariffs: _t, tariff_from: _f, ...values } = space;
    return values;
  }
  let form = $state(begin());
  const sending = new Sending();
  const unit = $derived(garden.unit);
  const lining = $derived(garden.linings.find((l) => l.key === form.lining));

  async function save(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    const fresh = space === null;
    const kept = await sending.send(async () => {
      const saved = await garden.saveSpace(space?.id ?? null, $state.snapshot(form));
      if (fresh) await garden.choose({ space_id: saved.id });
    });
    if (kept && fresh) done();
  }
</script>

<form class="grid gap-3" onsubmit={save} novalidate>
  <TextField label="What you call it" bind:value={form.name} error={sending.at("name")} />
  <div class="grid grid-cols-3 gap-2">
    <NumberField
      label="Width"
      length={unit}
      bind:value={form.width_cm}
      error={sending.at("width_cm")}
    />
    <NumberField
      label="Depth"
      length={unit}
      bind:value={form.depth_cm}
      error={sending.at("depth_cm")}
    />
    <NumberField
      label="Height"
      length={unit}
      bind:value={form.height_cm}
      error={sending.at("height_cm")}
    />
  </div>
  <SelectField
    label="Walls and ceiling"
    bind:value={form.lining}
    options={garden.linings.map((l) => ({ value: l.key, label: l.label }))}
    error={sending.at("lining")}
    hint={lining &&
      `Sends back about ${percent(lining.reflectance)} of the light (${percent(lining.low)} to ${percent(lining.high)}).`}
  />
  <details open={WALLS.some((wall) => form[`lining_${wall}`])}>
    <summary class="cursor-pointer">A wall that differs, or an open side</summary>
    <div class="mt-1 grid grid-cols-2 gap-2">
      {#each WALLS as wall (wall)}
        <SelectField
          label={WALL_NAMES[wall]}
          small
          bind:value={() => form[`lining_${wall}`] ?? "", (v) => (form[`lining_${wall}`] = v)}
          options={[
            { value: "", label: "As the rest" },
            ...garden.linings.map((l) => ({ value: l.key, label: l.label })),
          ]}
          error={sending.at(`lining_${wall}`)}
        />
      {/each}
    </div>
  </details>
  <Rectangles
    noun="Step"
    title="Steps that lift plants nearer to the lamp"
    field="stands"
    make={(x_cm, y_cm, width_cm, depth_cm): Stand => ({
      x_cm,
      y_cm,
      width_cm,
      depth_cm,
      raise_cm: 10,
    })}
    bind:rows={() => form.stands ?? [], (rows) => (form.stands = rows)}
    width={form.width_cm}
    depth={form.depth_cm}
    at={(field) => sending.at(field)}
  />
  <Rectangles
    noun="Plot"
    title="Where plants stand, if not everywhere"
    field="plots"
    make={(x_cm, y_cm, width_cm, depth_cm): Plot => ({ x_cm, y_cm, width_cm, depth_cm })}
    bind:rows={() => form.plots ?? [], (rows) => (form.plots = rows)}
    width={form.width_cm}
    depth={form.depth_cm}
    at={(field) => sending.at(field)}
  />
  <div class="grid grid-cols-2 gap-2">
    <NumberField
      label="Pot height"
      length={unit}
      bind:value={form.pot_cm}
      error={sending.at("pot_cm")}
    />
    <NumberField
      label="Hangers"
      length={unit}
      bind:value={form.hangers_cm}
      error={sending.at("hangers_cm")}
    />
  </div>
  <div class="grid grid-cols-3 gap-2">
    <SelectField
      label="Timer steps"
      bind:value={form.timer_step_min}
      options={([1, 15, 30, 60] as const).map((m) => ({ value: m, label: `${m} min` }))}
    />
    <TextField
      label="Currency"
      bind:value={() => form.currency ?? "", (v) => (form.currency = v)}
      error={sending.at("currency")}
    />
    <NumberField
      label="Price"
      unit="per kWh"
      bind:value={form.tariff_per_kwh}
      error={sending.at("tariff_per_kwh")}
    />
  </div>
  <TariffBands
    bind:bands={() => form.tariff_bands ?? [], (bands) => (form.tariff_bands = bands)}
    price={form.tariff_per_kwh}
    at={(field) => sending.at(field)}
  />
  <NumberField
    label="Sunrise and sunset of the lamp"
    unit="min each"
    bind:value={() => form.ramp_min ?? 0, (v) => (form.ramp_min = v ?? NaN)}
    error={sending.at("ramp_min")}
    hint="Ramps inside the on-time; together they cost one ramp's length of full light."
  />
  <DaylightFields
    bind:daylight={() => form.daylight ?? null, (given) => (form.daylight = given)}
    bind:heat={() => form.heat ?? null, (given) => (form.heat = given)}
    at={(field) => sending.at(field)}
  />
  <label class="flex min-h-11 items-center gap-2 sm:min-h-0">
    <input type="checkbox" class="checkbox" bind:checked={form.co2_enriched} />
    CO₂ is added here
  </label>
  {#if form.co2_enriched}
    <p class="text-warning text-sm">
      Only in a closed room with an alarm, and never where anyone sleeps. The plan then lets the
      brightest spot reach half as much again, 1500 at most; that needs about as many ppm, and
      warmth, feed and water to match. Without all of these leave it off.
    </p>
  {/if}
  <SaveRow {sending} label={space ? "Keep these figures" : "Add this space"} />
</form>
