<script lang="ts">
  import type { Daylight, Heat } from "../../api/client";
  import covers from "../../../../src/canopy/tables/covers.json";
  import ClockField from "../../parts/form/ClockField.svelte";
  import Figure from "../../parts/form/Figure.svelte";
  import SelectField from "../../parts/form/SelectField.svelte";

  interface Props {
    daylight: Daylight | null;
    heat: Heat | null;
  }
  let { daylight = $bindable(), heat = $bindable() }: Props = $props();

  type Kind = "none" | "measured" | "reckoned";
  function turn(kind: Kind): void {
    if (kind === "none") daylight = null;
    else if (kind === "measured") daylight = { kind, dli: 3, sunrise_min: 480, sunset_min: 960 };
    else
      daylight = {
        kind,
        latitude_deg: 50,
        longitude_deg: 10,
        utc_offset_h: 1,
        tilt_deg: 90,
        azimuth_deg: 180,
        transmission: 0.8,
        cloud_factor: 0.5,
        reach: 0.3,
      };
  }
  const FACES = [
    { value: 180, label: "South" },
    { value: 90, label: "East" },
    { value: 270, label: "West" },
    { value: 0, label: "North" },
  ];
  const SHARES = [
    { field: "transmission", label: "It passes", hint: "clean; dirt takes 5–10 off" },
    { field: "cloud_factor", label: "Clouds leave", hint: "of a clear day" },
    { field: "reach", label: "Falls on plants", hint: "of what comes in" },
  ] as const;
  const PLACE = [
    { field: "latitude_deg", label: "Latitude °N" },
    { field: "longitude_deg", label: "Longitude °E" },
    { field: "utc_offset_h", label: "Clock − UTC (h)" },
  ] as const;
</script>

<details open={daylight !== null || heat !== null}>
  <summary class="cursor-pointer">Daylight, and heat</summary>
  <div class="mt-1 grid gap-2">
    <SelectField
      label="Daylight on the plants"
      small
      bind:value={() => (daylight?.kind ?? "none") as Kind, turn}
      options={[
        { value: "none", label: "None: a closed tent" },
        { value: "measured", label: "Measured" },
        { value: "reckoned", label: "Reckoned from place and window" },
      ]}
    />
    {#if daylight?.kind === "measured"}
      {@const given = daylight}
      <div class="flex flex-wrap items-end gap-2">
        <Figure
          narrow
          label="DLI (mol)"
          bind:value={() => given.dli, (v) => (daylight = { ...given, dli: v ?? NaN })}
          name="daylight.dli"
        />
        <ClockField
          label="Light from"
          bind:value={() => given.sunrise_min, (v) => (daylight = { ...given, sunrise_min: v })}
        />
        <ClockField
          label="to"
          bind:value={() => given.sunset_min, (v) => (daylight = { ...given, sunset_min: v })}
          name="daylight.sunset_min"
        />
      </div>
    {:else if daylight?.kind === "reckoned"}
      {@const given = daylight}
      <div class="flex flex-wrap items-start gap-2">
        {#each PLACE as { field, label } (field)}
          <Figure
            narrow
            {label}
            bind:value={() => given[field], (v) => (daylight = { ...given, [field]: v ?? NaN })}
            name={`daylight.${field}`}
          />
        {/each}
        <SelectField
          label="It faces"
          small
          bind:value={() => given.azimuth_deg, (v) => (daylight = { ...given, azimuth_deg: v })}
          options={FACES}
        />
        <SelectField
          label="It is a"
          small
          bind:value={() => given.tilt_deg, (v) => (daylight = { ...given, tilt_deg: v })}
          options={[
            { value: 90, label: "window" },
            { value: 30, label: "sloping roof" },
            { value: 0, label: "flat cover" },
          ]}
        />
        <SelectField
          label="Through"
          small
          bind:value={
            () => covers.rows.find((row) => row.transmission === given.transmission)?.key ?? "",
            (key) => {
              const cover = covers.rows.find((row) => row.key === key);
              if (cover) daylight = { ...given, transmission: cover.transmission };
            }
          }
          options={[
            ...covers.rows.map((row) => ({ value: row.key, label: row.label })),
            { value: "", label: "as the figure says" },
          ]}
        />
        {#each SHARES as { field, label, hint } (field)}
          <Figure
            narrow
            {label}
            kind="share"
            bind:value={() => given[field], (v) => (daylight = { ...given, [field]: v ?? NaN })}
            name={`daylight.${field}`}
            {hint}
          />
        {/each}
      </div>
    {/if}
    <label class="flex min-h-11 items-center gap-2 sm:min-h-0">
      <input
        type="checkbox"
        class="checkbox"
        checked={heat !== null}
        onchange={(e) =>
          (heat = e.currentTarget.checked ? { off_above_c: 30, mean_c: 24, swing_c: 8 } : null)}
      />
      A controller switches the lamp off in the heat
    </label>
    {#if heat}
      {@const given = heat}
      <div class="flex flex-wrap gap-2">
        <Figure
          narrow
          label="Off above"
          kind="temperature"
          bind:value={() => given.off_above_c, (v) => (heat = { ...given, off_above_c: v ?? NaN })}
          name="heat.off_above_c"
        />
        <Figure
          narrow
          label="Day's mean"
          kind="temperature"
          bind:value={() => given.mean_c, (v) => (heat = { ...given, mean_c: v ?? NaN })}
          name="heat.mean_c"
        />
        <Figure
          narrow
          label="Warmest less coldest"
          kind="warmer"
          bind:value={() => given.swing_c, (v) => (heat = { ...given, swing_c: v ?? NaN })}
          name="heat.swing_c"
        />
      </div>
    {/if}
  </div>
</details>
