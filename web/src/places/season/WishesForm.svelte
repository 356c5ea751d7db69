<script lang="ts">
  import type { Run, SeasonWishes } from "../../api/client";
  import ClockField from "../../parts/form/ClockField.svelte";
  import Figure from "../../parts/form/Figure.svelte";
  import SelectField from "../../parts/form/SelectField.svelte";
  import { AIMS } from "../../words/aims";

  let { run, wish }: { run: Run; wish: (body: SeasonWishes) => void } = $props();
  const id = $props.id();

  function set(part: Partial<SeasonWishes>): void {
    const { aim, started_on, on_wish, on_minute, rise_pct, shift_days } = run;
    const { lift_cm, gap_days, beyond_maker } = run;
    const pace = { lift_cm, gap_days, beyond_maker };
    const body = { aim, started_on, on_wish, on_minute, rise_pct, shift_days, ...pace, ...part };
    if (!Object.values(body).some((v) => typeof v === "number" && Number.isNaN(v))) wish(body);
  }
</script>

<div class="flex flex-wrap items-start gap-x-5 gap-y-2" role="group" aria-label="Planned by">
  <div class="grid gap-0.5">
    <label class="quiet text-sm" for={id}>Day 1</label>
    <input
      {id}
      type="date"
      class="input input-sm max-sm:min-h-11"
      value={run.started_on}
      onchange={(e) => e.currentTarget.value && set({ started_on: e.currentTarget.value })}
    />
  </div>
  <SelectField small label="Aim" bind:value={() => run.aim, (aim) => set({ aim })} options={AIMS} />
  <SelectField
    small
    label="Comes on"
    bind:value={() => run.on_wish, (on_wish) => set({ on_wish })}
    options={[
      { value: "fixed", label: "At a fixed time" },
      { value: "cheap", label: "In the cheapest hours" },
      { value: "cool", label: "In the cool of the night" },
    ]}
  />
  <ClockField label="On at" bind:value={() => run.on_minute, (on_minute) => set({ on_minute })} />
  <Figure
    narrow
    label="Rise a day"
    unit="%"
    bind:value={() => run.rise_pct, (rise) => set({ rise_pct: rise || NaN })}
  />
  <Figure
    narrow
    label="Spread longer days over"
    unit="d"
    bind:value={() => run.shift_days, (days) => set({ shift_days: days ? Math.round(days) : NaN })}
  />
  <Figure
    narrow
    label="Re-hang by"
    kind="length"
    hint="or more"
    bind:value={() => run.lift_cm, (lift) => set({ lift_cm: lift ?? NaN })}
  />
  <Figure
    narrow
    label="Trips apart"
    unit="d"
    hint="or more"
    bind:value={() => run.gap_days, (days) => set({ gap_days: days ? Math.round(days) : NaN })}
  />
  <SelectField
    small
    label="Heights"
    bind:value={() => String(run.beyond_maker), (free) => set({ beyond_maker: free === "true" })}
    options={[
      { value: "false", label: "Inside the maker's" },
      { value: "true", label: "Any that works" },
    ]}
  />
</div>
