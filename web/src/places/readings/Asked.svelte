<script lang="ts">
  import { account } from "../../api/grower.svelte";
  import { sensors } from "../../api/readings.svelte";
  import type { FitsHere } from "../../api/client";
  import Figure from "../../parts/form/Figure.svelte";
  import SelectField from "../../parts/form/SelectField.svelte";
  import { length } from "../../units/format";
  import { WALL_CHOICES } from "../../words/fits";
  import { LAYOUTS, named } from "./spots";
  import type { Walk } from "./walk.svelte";

  let { walk, here }: { walk: Walk; here: FitsHere } = $props();

  const asked = $derived(walk.asked);
  const choices = $derived([
    { value: 0, label: "a cheap quantum sensor" },
    ...sensors.present.map((sensor) => ({ value: sensor.id, label: sensor.name })),
  ]);
  function set(change: Partial<Walk["asked"]>): void {
    walk.asked = { ...walk.asked, ...change };
    walk.changed();
  }
</script>

<div class="grid gap-3 sm:grid-cols-2">
  <SelectField
    label="Where to read"
    bind:value={
      () => walk.layout.name,
      (name) => walk.lay(named(name, { ...walk.layout, name: walk.layout.name }))
    }
    options={LAYOUTS}
    hint={walk.count ? "Another choice begins the walk anew." : undefined}
  />
  {#if walk.layout.name === "grid"}
    <div class="grid grid-cols-2 gap-2">
      <Figure
        label="Columns"
        bind:value={
          () => walk.layout.columns,
          (n) =>
            walk.lay({ ...walk.layout, columns: Math.min(Math.max(Math.round(n ?? 3), 1), 15) })
        }
      />
      <Figure
        label="Rows"
        bind:value={
          () => walk.layout.rows,
          (n) => walk.lay({ ...walk.layout, rows: Math.min(Math.max(Math.round(n ?? 3), 1), 15) })
        }
      />
    </div>
  {/if}
  {#if walk.layout.name !== "five"}
    <SelectField
      label="They stand"
      bind:value={() => walk.layout.places, (places) => walk.lay({ ...walk.layout, places })}
      options={[
        { value: "edges", label: "from wall to wall" },
        { value: "cells", label: "in the middles of equal cells" },
      ]}
    />
  {/if}
  {#if walk.layout.places === "edges" || walk.layout.name === "five"}
    <Figure
      label="Outermost spots from the walls"
      kind="length"
      bind:value={
        () => walk.layout.edge_cm,
        (cm) => {
          walk.layout = { ...walk.layout, edge_cm: Math.max(cm ?? 8, 0) };
          walk.changed();
        }
      }
      hint="A few centimetres matter much there."
    />
  {/if}
  <Figure
    label="Lamp above the sensor"
    kind="length"
    bind:value={() => asked.height_cm, (cm) => set({ height_cm: cm ?? NaN })}
  />
  <Figure
    label="Dial"
    unit="%"
    bind:value={() => asked.dial_pct ?? undefined, (v) => set({ dial_pct: v ?? null })}
    hint="Empty: at full."
  />
  <SelectField
    label="Read with"
    bind:value={() => asked.sensor_id ?? 0, (id) => set({ sensor_id: id || null })}
    options={choices}
  />
  <Figure
    label="It shows with the lamp off"
    unit="µmol"
    bind:value={() => asked.zero, (v) => set({ zero: Math.max(v ?? 0, 0) })}
    hint="Taken off each reading; daylight too, if it stays the same."
  />
  <SelectField
    label="While you read, the walls are"
    bind:value={() => asked.open_read, (side) => set({ open_read: side })}
    options={WALL_CHOICES}
    hint="A door open while reading and shut later changes the mean by a quarter."
  />
  <SelectField
    label="While plants grow, they are"
    bind:value={() => asked.open_now, (side) => set({ open_now: side })}
    options={WALL_CHOICES}
  />
  <Figure
    label="Sensor above the floor"
    kind="length"
    bind:value={() => asked.plane_cm ?? here.pot_cm, (cm) => set({ plane_cm: cm ?? null })}
    hint="Without plants the pots' rim, {length(here.pot_cm, account.unit)} here."
  />
  <label class="flex min-h-11 items-center gap-2 self-end">
    <input
      type="checkbox"
      class="checkbox"
      checked={asked.daylight}
      onchange={(event) => set({ daylight: event.currentTarget.checked })}
    />
    Daylight is there besides, and not taken off
  </label>
</div>
