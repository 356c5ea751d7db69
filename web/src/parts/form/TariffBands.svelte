<script lang="ts">
  import type { TariffBand } from "../../api/client";
  import ClockField from "./ClockField.svelte";
  import Field from "./Field.svelte";
  import Figure from "./Figure.svelte";
  import SelectField from "./SelectField.svelte";

  interface Props {
    bands: TariffBand[];
    price: number;
    /** The bands' name on the server. */
    name?: string;
  }
  let { bands = $bindable(), price, name = "tariff_bands" }: Props = $props();
  const DAYS = [
    { value: "all", label: "every day" },
    { value: "workdays", label: "Monday to Friday" },
    { value: "weekend", label: "Saturday and Sunday" },
  ] as const;

  const add = (): void => {
    bands = [
      ...bands,
      {
        from_minute: 1320,
        to_minute: 360,
        per_kwh: Number((price * 0.7).toFixed(3)),
        days: "all",
        first: "",
        last: "",
      },
    ];
  };
  function set(i: number, part: Partial<TariffBand>): void {
    bands = bands.map((band, k) => (k === i ? { ...band, ...part } : band));
  }
</script>

<details open={bands.length > 0}>
  <summary class="cursor-pointer">Hours, days and seasons with another price</summary>
  <div class="mt-1 grid gap-2">
    {#each bands as band, i (i)}
      <div class="flex flex-wrap items-end gap-2" role="group" aria-label="Price {i + 1}">
        <ClockField
          label="From"
          bind:value={() => band.from_minute, (v) => set(i, { from_minute: v })}
          name={`${name}.${i}.from_minute`}
        />
        <ClockField
          label="To"
          bind:value={() => band.to_minute % 1440, (v) => set(i, { to_minute: v })}
          name={`${name}.${i}.to_minute`}
        />
        <Figure
          narrow
          label="Price per kWh"
          bind:value={() => band.per_kwh, (v) => set(i, { per_kwh: v ?? NaN })}
          name={`${name}.${i}.per_kwh`}
        />
        <SelectField
          small
          label="On"
          bind:value={() => band.days ?? "all", (v) => set(i, { days: v })}
          options={[...DAYS]}
        />
        <div class="w-24">
          <Field
            small
            label="From day"
            bind:value={() => band.first ?? "", (v) => set(i, { first: v })}
            name={`${name}.${i}.first`}
            hint="like 10-01"
          />
        </div>
        <div class="w-24">
          <Field
            small
            label="to day"
            bind:value={() => band.last ?? "", (v) => set(i, { last: v })}
            name={`${name}.${i}.last`}
            hint="all year without"
          />
        </div>
        <button
          type="button"
          class="btn btn-sm btn-ghost max-sm:min-h-11"
          aria-label="Take out price {i + 1}"
          onclick={() => (bands = bands.filter((_, k) => k !== i))}>Take out</button
        >
      </div>
    {/each}
    <div>
      <button type="button" class="btn btn-sm max-sm:min-h-11" onclick={add}>Add hours</button>
    </div>
  </div>
</details>
