<script lang="ts">
  import { circuits } from "../../api/circuits.svelte";
  import type { SpacePower } from "../../api/client";
  import { garden } from "../../api/garden.svelte";
  import { account } from "../../api/grower.svelte";
  import { runs } from "../../api/runs.svelte";
  import { spaces } from "../../api/spaces.svelte";
  import Cautions from "../../parts/cautions/Cautions.svelte";
  import Figure from "../../parts/form/Figure.svelte";
  import { attempt } from "../../parts/notice.svelte";
  import TodayMeasured from "../../parts/live/TodayMeasured.svelte";
  import SpaceTabs from "../../parts/SpaceTabs.svelte";
  import { clock, dayWords, money, trim, windowsWords } from "../../units/format";
  import { worded } from "../../words/said";
  import CircuitCard from "./CircuitCard.svelte";
  import HangingCard from "./HangingCard.svelte";
  import HeatCard from "./HeatCard.svelte";
  import { keepPlants, PowerState, roomOf } from "./power.svelte";
  import PriceForm from "./PriceForm.svelte";
  import RoomForm from "./RoomForm.svelte";
  import SameLight from "./SameLight.svelte";
  import SheetPayback from "./SheetPayback.svelte";

  const desk = new PowerState();
  const run = $derived(garden.run);
  const unit = $derived(account.unit);
  const power = $derived(desk.power);
  let room = $state.raw<SpacePower | null>(null);

  function open(): void {
    if (run) void desk.open(run.id, garden.stageId);
  }
  // what it hangs on; a kept change of space, lamp or crop asks again
  $effect(() => {
    if (run && garden.space && garden.fixture && garden.crop) open();
  });
  $effect(() => {
    const space = garden.space?.id;
    void attempt(async () => {
      await circuits.load();
      room = space === undefined ? null : await roomOf(space);
    });
  });
  async function plant(count: number | null): Promise<void> {
    if (!run || Number.isNaN(count) || count === run.plants) return;
    await attempt(async () => {
      await runs.kept(keepPlants(run, count));
      open();
    });
  }
  function roomKept(kept: SpacePower): void {
    room = kept;
    // the space's own form goes on from here
    const space = spaces.of(kept.space_id);
    if (space) spaces.put({ ...space, version: kept.version, circuit_id: kept.circuit_id });
    open();
  }
  const uses = $derived(
    power
      ? [
          { name: "A day", use: power.day, days: 1 },
          { name: power.stage, use: power.whole_stage, days: power.whole_stage.days },
          { name: "The season", use: power.season, days: power.season.days },
        ]
      : [],
  );
</script>

<SpaceTabs here="power" />
{#if !run}
  <div class="mx-auto max-w-xl py-8 text-lg">
    <h1 class="mb-2 text-2xl font-semibold">Nothing draws power yet</h1>
    <p>
      Choose a <a class="link" href="/space">space and a crop</a> and a
      <a class="link" href="/fixtures">lamp</a>; what their light costs then stands here.
    </p>
  </div>
{:else if desk.refused}
  <div class="py-6 text-lg" role="alert">
    <h1 class="text-2xl font-semibold">What it costs cannot be said</h1>
    <p class="my-2 max-w-3xl">{desk.refused.message}</p>
  </div>
{:else if !power}
  <p class="py-6" role="status">Counting watts…</p>
{:else}
  {@const well = power.findings.every((each) => each.code === "circuit.well")}
  <div class="grid gap-1 pb-3" aria-live="polite">
    {#each power.findings.filter((each) => each.code !== "circuit.well") as each, i (i)}
      <p class="text-error text-lg font-semibold" role="alert">{worded(each, unit)}</p>
    {/each}
    <h1 class={well ? "text-2xl" : "text-xl"}>
      {#each power.said as each, i (i)}
        {#if i === 0}<strong>{worded(each, unit)}</strong>{:else}{` ${worded(each, unit)}`}{/if}
      {/each}
    </h1>
    <p class="quiet">
      {power.stage}: on {windowsWords(power.groups[0]?.windows ?? [])}, at most
      {Math.round(power.most_watts)} W at {clock(power.most_at_minute)}, {Math.round(
        power.watts_lowest,
      )} W at the dial's lowest mark; {power.measured_watts
        ? "measured watts"
        : "watts by the lamp's record, not measured"}.
      {#if power.prices_known_until}Prices are known until {dayWords(power.prices_known_until)};
        later days cost as such days usually do.{/if}
    </p>
  </div>
  <div class="pb-4 empty:hidden"><TodayMeasured runId={run.id} /></div>
  <div
    class="grid grid-cols-[minmax(0,1fr)] items-start gap-4 xl:grid-cols-[repeat(2,minmax(0,1fr))]"
  >
    <section
      class="bg-base-200 rounded-box grid gap-2 p-4 xl:col-span-2"
      aria-labelledby="same-title"
    >
      <h2 id="same-title" class="text-lg font-semibold">The same light for less</h2>
      <SameLight {power} />
      {#key run.id}<SheetPayback
          {desk}
          runId={run.id}
          price={room?.mount.sheet_price ?? null}
        />{/key}
    </section>
    <section class="bg-base-200 rounded-box grid gap-2 p-4" aria-labelledby="use-title">
      <h2 id="use-title" class="text-lg font-semibold">What it takes</h2>
      <div class="overflow-x-auto">
        <table class="table-sm stacked table">
          <thead>
            <tr>
              <th scope="col"><span class="sr-only">Over</span></th>
              <th scope="col" class="text-right">Energy</th>
              <th scope="col" class="text-right">Costs</th>
              <th scope="col" class="text-right">A mol on the canopy</th>
              <th scope="col" class="text-right">Carbon</th>
            </tr>
          </thead>
          <tbody>
            {#each uses as { name, use, days } (name)}
              <tr>
                <th scope="row">{name}{days > 1 ? `, ${days} days` : ""}</th>
                <td class="text-right" data-label="Energy">{trim(use.kwh, 2)} kWh</td>
                <td class="text-right" data-label="Costs">{money(use.cost, power.currency)}</td>
                <td class="text-right" data-label="A mol on the canopy"
                  >{use.cost_a_mol === null
                    ? "–"
                    : `${use.cost_a_mol.toFixed(3)} ${power.currency}`}</td
                >
                <td class="text-right" data-label="Carbon"
                  >{use.carbon_kg === null ? "–" : `${trim(use.carbon_kg, 1)} kg`}</td
                >
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
      {#if power.groups.length > 1}
        <ul class="list-disc pl-5" aria-label="By channel">
          {#each power.groups as each (each.group)}
            <li>
              {each.group ? `Group ${each.group}` : "The rail's lamps"}: {Math.round(each.watts)} W,
              {windowsWords(each.windows)}, {trim(each.kwh, 2)} kWh, {money(
                each.cost,
                power.currency,
              )} a day
            </li>
          {/each}
        </ul>
      {/if}
      <div class="flex flex-wrap items-end gap-3">
        <Figure
          narrow
          label="Plants that share it"
          bind:value={() => run.plants, (v) => void plant(v)}
        />
        {#if power.each !== null}
          <p class="pb-2"><strong>{money(power.each, power.currency)}</strong> a plant</p>
        {/if}
        {#if power.standing_per_day > 0}
          <p class="quiet pb-2">
            {money(power.standing_per_day, power.currency)} a day standing charge is due whatever the
            lamp does, and not in these figures.
          </p>
        {/if}
      </div>
    </section>
    <CircuitCard {power} {room} kept={roomKept} changed={open} />
    <HeatCard {power} />
    <HangingCard {power} />
    {#if room && garden.space}
      {#key `${room.space_id} ${garden.turned}`}
        <RoomForm {room} kept={roomKept} />
        <PriceForm space={garden.space} {room} kept={roomKept} changed={open} />
      {/key}
    {/if}
  </div>
  <Cautions co2={garden.space?.co2_enriched ?? false} shortDay={false} />
{/if}
