<script lang="ts">
  import { answer, client, type Space, type SpacePower, type TariffIn } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { spaces } from "../../api/spaces.svelte";
  import Field from "../../parts/form/Field.svelte";
  import Figure from "../../parts/form/Figure.svelte";
  import FileField from "../../parts/form/FileField.svelte";
  import { newForm } from "../../parts/form/form.svelte";
  import SaveRow from "../../parts/form/SaveRow.svelte";
  import TariffBands from "../../parts/form/TariffBands.svelte";
  import { attempt, notice } from "../../parts/notice.svelte";
  import { dayWords, trim } from "../../units/format";
  import { worded } from "../../words/said";
  import { keepPrices } from "./power.svelte";

  interface Props {
    space: Space;
    room: SpacePower;
    kept: (room: SpacePower) => void;
    changed: () => void;
  }
  let { space, room, kept, changed }: Props = $props();
  const form = newForm();

  /** The tariff that holds today, or the first that will. */
  function given(): TariffIn {
    const from = space.tariff_from ?? "";
    const row = space.tariffs.filter((each) => each.holds_from <= from).at(-1) ?? space.tariffs[0];
    return {
      holds_from: null,
      currency: space.currency,
      per_kwh: space.tariff_per_kwh,
      bands: space.tariff_bands ?? [],
      tiers: (row?.tiers ?? []) as NonNullable<TariffIn["tiers"]>,
      standing_per_day: row?.standing_per_day ?? 0,
      other_kwh_a_day: row?.other_kwh_a_day ?? 0,
      grid_g_per_kwh: row?.grid_g_per_kwh ?? null,
    };
  }
  let body = $state<TariffIn>(given());
  let from = $state("");
  let adds = $state<number | null>(null);
  let refused = $state("");

  async function send(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    await form.send(async () => {
      const params = { path: { space_id: space.id } };
      const wanted = { ...$state.snapshot(body), holds_from: from || null };
      spaces.put(
        await answer(client.PUT("/api/spaces/{space_id}/tariff", { params, body: wanted })),
      );
      changed();
    });
  }
  async function readFile(_: string, text: string): Promise<void> {
    refused = "";
    try {
      kept(await keepPrices(space.id, text, adds ?? 0));
    } catch (error) {
      refused = error instanceof Error ? error.message : "";
    }
  }
  async function without(): Promise<void> {
    if (await attempt(async () => kept(await keepPrices(space.id, "", 0))))
      notice.say("Prices are by the tariff again.");
  }
  const tier = (i: number, part: Partial<NonNullable<TariffIn["tiers"]>[number]>): void => {
    body.tiers = (body.tiers ?? []).map((each, k) => (k === i ? { ...each, ...part } : each));
  };
</script>

<section class="bg-base-200 rounded-box p-4" aria-labelledby="price-title">
  <h2 id="price-title" class="text-lg font-semibold">What power costs here</h2>
  <form class="grid gap-2" onsubmit={send} novalidate>
    <div class="flex flex-wrap gap-2">
      <Figure narrow label="A kWh" bind:value={body.per_kwh} name="per_kwh" />
      <Figure
        narrow
        label="Standing, a day"
        bind:value={body.standing_per_day}
        name="standing_per_day"
      />
      <Figure
        narrow
        label="Household besides, kWh a day"
        bind:value={body.other_kwh_a_day}
        name="other_kwh_a_day"
      />
      <Figure
        narrow
        label="Grid's carbon, g a kWh"
        bind:value={body.grid_g_per_kwh}
        name="grid_g_per_kwh"
      />
      <div class="w-40">
        <Field small type="date" label="From (today without)" bind:value={from} name="holds_from" />
      </div>
    </div>
    <TariffBands
      bind:bands={() => body.bands ?? [], (v) => (body.bands = v)}
      price={body.per_kwh}
      name="bands"
    />
    <details open={(body.tiers ?? []).length > 0}>
      <summary class="cursor-pointer">Dearer above so many kWh a month</summary>
      <div class="mt-1 grid gap-2">
        {#each body.tiers ?? [] as each, i (i)}
          <div class="flex flex-wrap items-end gap-2" role="group" aria-label="Step {i + 1}">
            <Figure
              narrow
              label="Above, kWh a month"
              bind:value={() => each.above_kwh, (v) => tier(i, { above_kwh: v ?? NaN })}
              name="tiers.{i}.above_kwh"
            />
            <Figure
              narrow
              label="each costs more by"
              bind:value={() => each.adds_per_kwh, (v) => tier(i, { adds_per_kwh: v ?? NaN })}
              name="tiers.{i}.adds_per_kwh"
            />
            <button
              type="button"
              class="btn btn-sm btn-ghost max-sm:min-h-11"
              aria-label="Take out step {i + 1}"
              onclick={() => (body.tiers = (body.tiers ?? []).filter((_, k) => k !== i))}
              >Take out</button
            >
          </div>
        {/each}
        <div>
          <button
            type="button"
            class="btn btn-sm max-sm:min-h-11"
            onclick={() =>
              (body.tiers = [...(body.tiers ?? []), { above_kwh: 200, adds_per_kwh: 0.05 }])}
            >Add a step</button
          >
        </div>
      </div>
    </details>
    <SaveRow {form} />
  </form>
  <h3 class="mt-3 font-medium">Hour by hour</h3>
  {#if room.prices}
    {@const p = room.prices}
    <p>
      Prices of {p.hours} hours, {dayWords(p.first.slice(0, 10))} to {dayWords(
        p.until.slice(0, 10),
      )}:
      {trim(p.lowest, 3)} to {trim(p.highest, 3)}, mean {trim(p.mean, 3)}{p.adds_per_kwh
        ? `, and ${trim(p.adds_per_kwh, 3)} on top`
        : ""}. They stand in for the price above.
      {#if p.below_zero}{worded(
          { code: "price.below_zero", figures: { hours: p.below_zero } },
          account.unit,
        )}{/if}
      <button class="btn btn-sm btn-ghost max-sm:min-h-11" onclick={without}>Go without them</button
      >
    </p>
  {/if}
  <div class="flex flex-wrap items-end gap-2">
    <Figure narrow label="On top of each: grid, tax" bind:value={adds} />
    <FileField
      label="A file of hourly prices (.csv)"
      accept=".csv,text/csv"
      read={readFile}
      error={refused}
      hint="One line an hour: from,price_per_kwh, like 2026-11-26T13:00+01:00,0.214"
    />
  </div>
</section>
