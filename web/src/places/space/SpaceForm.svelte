<script lang="ts">
  import { untrack } from "svelte";

  import type { Plot, Space, SpaceIn, Stand } from "../../api/client";
  import { garden } from "../../api/garden.svelte";
  import { account } from "../../api/grower.svelte";
  import { asGiven, spaces } from "../../api/spaces.svelte";
  import DraftNote from "../../parts/form/DraftNote.svelte";
  import Elsewhere from "../../parts/form/Elsewhere.svelte";
  import { Draft } from "../../parts/form/drafts";
  import Figure from "../../parts/form/Figure.svelte";
  import SaveRow from "../../parts/form/SaveRow.svelte";
  import SelectField from "../../parts/form/SelectField.svelte";
  import { newForm } from "../../parts/form/form.svelte";
  import Field from "../../parts/form/Field.svelte";
  import DaylightFields from "./DaylightFields.svelte";
  import Rectangles from "./Rectangles.svelte";
  import TariffBands from "../../parts/form/TariffBands.svelte";
  import { money, percent } from "../../units/format";

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
    ceiling_reflectance: null,
    board_through: 0,
    lamps_fixed: false,
    co2_enriched: false,
    timer_step_min: 15,
    follows_summer_time: false,
    currency: account.currency,
    tariff_per_kwh: 0.3,
  };
  const WALLS = ["left", "right", "front", "back"] as const;
  const WALL_NAMES = { left: "Left", right: "Right", front: "Front", back: "Back" } as const;
  function begin(): SpaceIn {
    if (!space) return { ...START };
    return asGiven($state.snapshot(space) as Space);
  }
  const typed: Draft<SpaceIn> = untrack(
    () =>
      new Draft(
        `space ${space?.id ?? "new"}`,
        begin(),
        () => form.name || "a new space",
        () => $state.snapshot(form) as SpaceIn,
      ),
  );
  let form: SpaceIn = $state(typed.start);
  /** The space as this form began. */
  let began = $state.raw(untrack(begin));
  const sending = newForm();
  /** Whether another price is typed than the one that holds today. */
  const dearer = $derived(
    space !== null &&
      (form.tariff_per_kwh !== space.tariff_per_kwh ||
        form.currency !== space.currency ||
        JSON.stringify(form.tariff_bands) !== JSON.stringify(space.tariff_bands)),
  );
  const onRack = $derived(Boolean(space?.rack_id));
  const lining = $derived(spaces.linings.find((l) => l.key === form.lining));

  async function save(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    const fresh = space === null;
    const kept = await sending.send(async () => {
      const saved = await spaces.save(space?.id ?? null, $state.snapshot(form) as SpaceIn);
      typed.done();
      if (fresh) await garden.choose({ space_id: saved.id });
    });
    if (kept && fresh) done();
  }
</script>

<form class="grid gap-3" onsubmit={save} novalidate>
  <DraftNote waited={typed.waited} again={() => (form = begin())} />
  <Field label="What you call it" bind:value={form.name} name="name" />
  <div class="grid grid-cols-3 gap-2">
    <Figure label="Width" kind="length" bind:value={form.width_cm} name="width_cm" />
    <Figure label="Depth" kind="length" bind:value={form.depth_cm} name="depth_cm" />
    <Figure label="Height" kind="length" bind:value={form.height_cm} name="height_cm" />
  </div>
  <SelectField
    label="Walls and ceiling"
    bind:value={form.lining}
    options={spaces.linings.map((l) => ({ value: l.key, label: l.label }))}
    name="lining"
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
            ...spaces.linings.map((l) => ({ value: l.key, label: l.label })),
          ]}
          name={`lining_${wall}`}
        />
      {/each}
    </div>
  </details>
  <details open={form.ceiling_reflectance !== null || form.lamps_fixed || onRack}>
    <summary class="cursor-pointer">A board above the lamps, as on a shelf</summary>
    <div class="mt-1 grid grid-cols-2 gap-2">
      <Figure
        label="It sends back"
        kind="share"
        bind:value={form.ceiling_reflectance}
        name="ceiling_reflectance"
        hint="Empty: as the lining."
      />
      {#if onRack}
        <Figure
          label="Its own lets through"
          kind="share"
          bind:value={() => form.board_through ?? 0, (v) => (form.board_through = v ?? NaN)}
          name="board_through"
          hint="To the level below: solid 0, wire up to 80."
        />
      {/if}
    </div>
    <label class="mt-1 flex min-h-11 items-center gap-2 sm:min-h-0">
      <input type="checkbox" class="checkbox" bind:checked={form.lamps_fixed} />
      Lamps are fixed under it
      <span class="quiet text-sm">their height is no lever</span>
    </label>
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
  />
  <Rectangles
    noun="Plot"
    title="Where plants stand, if not everywhere"
    field="plots"
    make={(x_cm, y_cm, width_cm, depth_cm): Plot => ({ x_cm, y_cm, width_cm, depth_cm })}
    bind:rows={() => form.plots ?? [], (rows) => (form.plots = rows)}
    width={form.width_cm}
    depth={form.depth_cm}
  />
  <div class="grid grid-cols-2 gap-2">
    <Figure label="Pot height" kind="length" bind:value={form.pot_cm} name="pot_cm" />
    <Figure
      label="Ropes and hooks take"
      kind="length"
      bind:value={form.hangers_cm}
      name="hangers_cm"
    />
  </div>
  <div class="grid grid-cols-3 gap-2">
    <SelectField
      label="Timer steps"
      bind:value={form.timer_step_min}
      options={([1, 15, 30, 60] as const).map((m) => ({ value: m, label: `${m} min` }))}
    />
    <Field
      label="Currency"
      bind:value={() => form.currency ?? "", (v) => (form.currency = v)}
      name="currency"
    />
    <Figure label="Price" unit="per kWh" bind:value={form.tariff_per_kwh} name="tariff_per_kwh" />
  </div>
  {#if space && dearer}
    <div class="grid gap-1 sm:max-w-xs">
      <Field
        type="date"
        label="This price holds from"
        name="tariff_from"
        bind:value={() => form.tariff_from ?? account.today, (v) => (form.tariff_from = v || null)}
      />
    </div>
  {/if}
  {#if (space?.tariffs.length ?? 0) > 1}
    <p class="quiet text-sm">
      Prices so far: {#each space?.tariffs ?? [] as row, i (i)}{i ? "; " : ""}{money(
          row.per_kwh,
          row.currency,
        )} from {row.holds_from}{/each}.
    </p>
  {/if}
  <TariffBands
    bind:bands={() => form.tariff_bands ?? [], (bands) => (form.tariff_bands = bands)}
    price={form.tariff_per_kwh}
  />
  <Figure
    label="Sunrise and sunset of the lamp"
    unit="min each"
    bind:value={() => form.ramp_min ?? 0, (v) => (form.ramp_min = v ?? NaN)}
    name="ramp_min"
    hint="Ramps inside the on-time; together they cost one ramp's length of full light."
  />
  <DaylightFields
    bind:daylight={() => form.daylight ?? null, (given) => (form.daylight = given)}
    bind:heat={() => form.heat ?? null, (given) => (form.heat = given)}
  />
  <label class="flex min-h-11 items-center gap-2 sm:min-h-0">
    <input type="checkbox" class="checkbox" bind:checked={form.follows_summer_time} />
    The timer goes with summer time
    <span class="quiet text-sm">plain ones do not</span>
  </label>
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
  {#if space}
    <Elsewhere
      form={sending}
      {began}
      mine={form}
      take={(made, now) => {
        form = made;
        began = now;
      }}
    />
  {/if}
  <SaveRow form={sending} label={space ? "Keep these figures" : "Add this space"} />
</form>
