<script lang="ts">
  import type { TariffBand } from "../../api/client";
  import ClockField from "../../parts/form/ClockField.svelte";
  import Figure from "../../parts/form/Figure.svelte";

  interface Props {
    bands: TariffBand[];
    price: number;
  }
  let { bands = $bindable(), price }: Props = $props();

  const add = (): void => {
    bands = [
      ...bands,
      { from_minute: 1320, to_minute: 360, per_kwh: Number((price * 0.7).toFixed(3)) },
    ];
  };
  function set(i: number, part: Partial<TariffBand>): void {
    bands = bands.map((band, k) => (k === i ? { ...band, ...part } : band));
  }
</script>

<details open={bands.length > 0}>
  <summary class="cursor-pointer">Hours with another price</summary>
  <div class="mt-1 grid gap-2">
    {#each bands as band, i (i)}
      <div class="flex flex-wrap items-end gap-2" role="group" aria-label="Price {i + 1}">
        <ClockField
          label="From"
          bind:value={() => band.from_minute, (v) => set(i, { from_minute: v })}
          name={`tariff_bands.${i}.from_minute`}
        />
        <ClockField
          label="To"
          bind:value={() => band.to_minute % 1440, (v) => set(i, { to_minute: v })}
          name={`tariff_bands.${i}.to_minute`}
        />
        <Figure
          narrow
          label="Price per kWh"
          bind:value={() => band.per_kwh, (v) => set(i, { per_kwh: v ?? NaN })}
          name={`tariff_bands.${i}.per_kwh`}
        />
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
