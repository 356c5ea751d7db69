<script lang="ts">
  import { untrack } from "svelte";

  import type { Sensor, SensorIn } from "../../api/client";
  import { sensors } from "../../api/readings.svelte";
  import Complaint from "../../parts/form/Complaint.svelte";
  import Field from "../../parts/form/Field.svelte";
  import Figure from "../../parts/form/Figure.svelte";
  import { newForm } from "../../parts/form/form.svelte";
  import SaveRow from "../../parts/form/SaveRow.svelte";
  import SelectField from "../../parts/form/SelectField.svelte";
  import { attempt } from "../../parts/notice.svelte";
  import PutAway from "../../parts/PutAway.svelte";
  import { SENSOR_WORDS } from "../../words/fits";

  const EMPTY: SensorIn = {
    name: "",
    kind: "cheap",
    factor: null,
    calibrated_on: null,
    pairs: [],
    height_cm: 0,
  };
  const KINDS = (Object.keys(SENSOR_WORDS) as SensorIn["kind"][]).map((value) => ({
    value,
    label: SENSOR_WORDS[value],
  }));

  let open = $state<number | "new" | null>(null);
  let own = $state<SensorIn>({ ...EMPTY });
  const sending = newForm();

  function edit(sensor: Sensor | null): void {
    untrack(() => {
      open = sensor?.id ?? "new";
      const { name, kind, factor, calibrated_on, pairs, height_cm } = sensor ?? EMPTY;
      own = {
        name,
        kind,
        factor,
        calibrated_on,
        pairs: pairs?.map((pair) => [...pair]),
        height_cm,
      };
    });
  }
  async function save(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    const body = $state.snapshot(own);
    body.pairs = (body.pairs ?? []).filter((pair) => pair.every((value) => value > 0));
    if (await sending.send(() => sensors.save(open === "new" ? null : open, body))) open = null;
  }
  const setPair = (k: number, at: 0 | 1, value: number | null | undefined): void => {
    own.pairs = (own.pairs ?? []).map((pair, i) =>
      i === k ? (at ? [pair[0] ?? 0, value ?? 0] : [value ?? 0, pair[1] ?? 0]) : pair,
    );
  };
</script>

<section class="bg-base-200 rounded-box grid gap-2 p-4" aria-label="Sensors">
  <div class="flex flex-wrap items-center gap-3">
    <h2 class="font-semibold">Your sensors</h2>
    <button class="btn btn-sm ml-auto max-sm:min-h-11" onclick={() => edit(null)}
      >Add a sensor</button
    >
  </div>
  {#if !sensors.present.length && open === null}
    <p class="quiet">
      Without one a cheap quantum sensor is meant, good to 8 %. A phone compared once with something
      trusted comes close to it.
    </p>
  {/if}
  {#each sensors.present as sensor (sensor.id)}
    <div class="flex flex-wrap items-center gap-x-3">
      <span class="min-w-0 flex-1"
        ><strong>{sensor.name}</strong>
        <span class="quiet"
          >{SENSOR_WORDS[sensor.kind]}{sensor.calibrated_on
            ? `, calibrated ${sensor.calibrated_on}`
            : ""}{sensor.pairs?.length ? `, compared ${sensor.pairs.length} times` : ""}</span
        ></span
      >
      <button class="btn btn-sm btn-ghost max-sm:min-h-11" onclick={() => edit(sensor)}
        >Change<span class="sr-only"> {sensor.name}</span></button
      >
      <button
        class="btn btn-sm btn-ghost max-sm:min-h-11"
        onclick={() => attempt(() => sensors.putAway(sensor.id, true))}
        >Put away<span class="sr-only"> {sensor.name}</span></button
      >
    </div>
  {/each}
  {#if open !== null}
    <form class="bg-base-100 rounded-box grid gap-3 p-3" onsubmit={save} novalidate>
      <div class="grid gap-3 sm:grid-cols-2">
        <Field label="What you call it" name="name" bind:value={own.name} />
        <SelectField label="What it is" name="kind" bind:value={own.kind} options={KINDS} />
        <Figure
          label="Its calibration factor"
          name="factor"
          bind:value={() => own.factor ?? undefined, (v) => (own.factor = v ?? null)}
          hint="What its readings are multiplied by; empty: none."
        />
        <Field
          label="Calibrated or made on"
          name="calibrated_on"
          type="date"
          bind:value={() => own.calibrated_on ?? "", (v) => (own.calibrated_on = v || null)}
        />
        <Figure
          label="Its own height"
          kind="length"
          name="height_cm"
          bind:value={() => own.height_cm ?? 0, (v) => (own.height_cm = v ?? 0)}
          hint="From what it stands on to the face that sees light."
        />
      </div>
      <fieldset class="grid gap-2">
        <legend class="font-semibold">Compared with something trusted</legend>
        <p class="quiet text-sm">
          Hold both at the same spots of this light and note both; {own.kind === "lux"
            ? "lux on the left, µmol on the right."
            : "a factor follows."} Three spots are enough.
        </p>
        {#each own.pairs ?? [] as pair, k (k)}
          <div class="flex flex-wrap items-end gap-2">
            <div class="w-32">
              <Figure
                label="It shows"
                bind:value={() => pair[0] || undefined, (v) => setPair(k, 0, v)}
              />
            </div>
            <div class="w-32">
              <Figure
                label="Trusted"
                bind:value={() => pair[1] || undefined, (v) => setPair(k, 1, v)}
              />
            </div>
            <button
              type="button"
              class="btn btn-sm btn-ghost"
              onclick={() => (own.pairs = (own.pairs ?? []).filter((_, i) => i !== k))}
              >Take out<span class="sr-only"> comparison {k + 1}</span></button
            >
          </div>
        {/each}
        <Complaint name="pairs" />
        <div>
          <button
            type="button"
            class="btn btn-sm max-sm:min-h-11"
            onclick={() => (own.pairs = [...(own.pairs ?? []), [0, 0]])}>Add a comparison</button
          >
        </div>
      </fieldset>
      <div class="flex flex-wrap items-center gap-3">
        <SaveRow form={sending} label="Keep it" />
        <button type="button" class="btn btn-ghost max-sm:min-h-11" onclick={() => (open = null)}
          >Close</button
        >
      </div>
    </form>
  {/if}
  <PutAway noun="sensor" rows={sensors.away} bringBack={(id) => sensors.putAway(id, false)} />
</section>
