<script lang="ts">
  import { account } from "../../api/grower.svelte";
  import { sensors } from "../../api/readings.svelte";
  import type { FitsHere } from "../../api/client";
  import Field from "../../parts/form/Field.svelte";
  import Figure from "../../parts/form/Figure.svelte";
  import SelectField from "../../parts/form/SelectField.svelte";
  import { length } from "../../units/format";
  import { WALL_CHOICES } from "../../words/fits";
  import { inchesFor } from "./slips";
  import { LAYOUTS, named } from "./spots";
  import type { DaylightHow, Walk } from "./walk.svelte";

  interface Props {
    walk: Walk;
    here: FitsHere;
    /** Where the plan has the lamp. */
    planned: number | null;
  }
  let { walk, here, planned }: Props = $props();

  const asked = $derived(walk.asked);
  const choices = $derived([
    { value: 0, label: "a cheap quantum sensor" },
    ...sensors.present.map((sensor) => ({ value: sensor.id, label: sensor.name })),
  ]);
  const DAYLIGHT: { value: DaylightHow; label: string }[] = [
    { value: "none", label: "none: it is dark but for the lamp" },
    { value: "each", label: "there: each spot lamp on, then off" },
    { value: "background", label: "there: one look with the lamp off, again at the end" },
    { value: "left", label: "there, and I cannot switch the lamp" },
  ];
  let x = $state<number>();
  let y = $state<number>();
  const MOST_STEPS = 12;
  function dials(text: string): number[] {
    const found = text.split(/[^0-9.]+/).map(Number);
    const usable = found.filter((at) => Number.isFinite(at) && at > 0 && at <= 100);
    return [...new Set(usable)].slice(0, MOST_STEPS);
  }
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
    options={here.dials.length > 1 ? LAYOUTS : LAYOUTS.filter((layout) => layout.value !== "steps")}
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
  {#if walk.layout.name === "steps"}
    <Field
      label="The dial's positions, one after another"
      bind:value={
        () => walk.layout.dials.join(" "),
        (text) => walk.lay({ ...walk.layout, dials: dials(text) })
      }
      hint="The highest first; each is read at five spots."
    />
  {:else if walk.layout.name === "own"}
    <div class="flex flex-wrap items-end gap-2 sm:col-span-2">
      <div class="w-32"><Figure label="From the left" kind="length" bind:value={x} /></div>
      <div class="w-32"><Figure label="From the front" kind="length" bind:value={y} /></div>
      <button
        class="btn bg-base-100 max-sm:min-h-11"
        disabled={!(x !== undefined && x >= 0 && x <= walk.width) ||
          !(y !== undefined && y >= 0 && y <= walk.depth)}
        onclick={() => walk.add({ x_cm: x ?? 0, y_cm: y ?? 0, lift_cm: 0, dial_pct: null })}
        >Add this spot</button
      >
    </div>
  {:else if walk.layout.name !== "five"}
    <SelectField
      label="They stand"
      bind:value={() => walk.layout.places, (places) => walk.lay({ ...walk.layout, places })}
      options={[
        { value: "edges", label: "from wall to wall" },
        { value: "cells", label: "in the middles of equal cells" },
      ]}
    />
  {/if}
  {#if walk.layout.name !== "own" && walk.layout.places === "edges"}
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
    hint={inchesFor(asked.height_cm, planned)
      ? `Inches for centimetres? The plan has it at ${length(planned ?? 0, account.unit)}.`
      : undefined}
  />
  <Figure
    label="Dial"
    unit="%"
    bind:value={() => asked.dial_pct ?? undefined, (v) => set({ dial_pct: v ?? null })}
    hint="Empty: at full."
  />
  {#if walk.layout.name !== "steps"}
    <Figure
      label="Watts at the plug, if you have a meter"
      unit="W"
      bind:value={() => asked.watts ?? undefined, (v) => set({ watts: v && v > 0 ? v : null })}
    />
  {/if}
  <SelectField
    label="Read with"
    bind:value={() => asked.sensor_id ?? 0, (id) => set({ sensor_id: id || null })}
    options={choices}
  />
  <Figure
    label="It shows with the lamp off"
    unit="µmol"
    bind:value={() => asked.zero, (v) => set({ zero: Math.max(v ?? 0, 0) })}
    hint="Taken off each reading, where daylight is not."
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
  <SelectField
    label="Daylight while you read"
    bind:value={() => asked.daylight, (daylight) => set({ daylight })}
    options={DAYLIGHT}
    hint={asked.daylight === "background"
      ? "Its look stands for all spots: it is taken as even over the floor."
      : undefined}
  />
</div>
