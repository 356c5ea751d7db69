<script lang="ts">
  import { untrack } from "svelte";

  import type { PlanRow, Run } from "../../api/client";
  import { garden } from "../../api/garden.svelte";
  import { account } from "../../api/grower.svelte";
  import { log } from "../../api/logbook.svelte";
  import { runs } from "../../api/runs.svelte";
  import Cautions from "../../parts/cautions/Cautions.svelte";
  import { getGo } from "../../parts/go";
  import { dayMonth } from "../../parts/season/picture";
  import SeasonPicture from "../../parts/season/SeasonPicture.svelte";
  import { View } from "../../parts/view.svelte";
  import { dayWords, money } from "../../units/format";
  import DoorCard from "./DoorCard.svelte";
  import History from "./History.svelte";
  import { SeasonState } from "./season.svelte";
  import StageTable from "./StageTable.svelte";
  import WishesForm from "./WishesForm.svelte";

  const go = getGo();
  const desk = new SeasonState();
  const opened = new View();
  const card = $derived(opened.name === "card");

  const run = $derived(garden.run);
  const season = $derived(desk.season);
  const unit = $derived(account.unit);
  const title = $derived(season ? `${season.made_of.crop} in ${season.made_of.space}` : "");
  const whole = $derived(season?.stages.filter((part) => !part.from_day).length ?? 0);
  const failing = $derived(
    season?.stages.filter(
      (s) => !s.planned || s.planned.relaxed.length || s.planned.night_conflict,
    ),
  );

  let plans = $state.raw<PlanRow[]>([]);
  let older = $state<number | null>(null);
  /** The plan before that is shown: the last one, until another is chosen. */
  const old = $derived(older ?? plans.at(-2)?.number ?? null);
  // of a run that is lived, what really was stands in the same picture
  $effect(() => {
    const id = run?.begun_on ? run.id : null;
    // planned anew it has another version
    void run?.version;
    untrack(() => {
      [plans, older] = [[], null];
      if (id === null) return;
      void log.load(id).catch(() => undefined);
      void runs.plans(id).then(
        (rows) => (plans = rows),
        () => undefined,
      );
    });
  });
  $effect(() => {
    const [id, number] = [run?.id, plans.length > 1 ? old : null];
    untrack(() => void desk.lookBack(id ?? 0, number));
  });

  // what the season hangs on; a kept change of space, lamp or crop plans it again
  $effect(() => {
    if (run && garden.space && garden.fixture && garden.crop) void desk.open(run.id);
  });

  async function openStage(stageId: number, fromDay: number): Promise<void> {
    if (run) garden.lookAt(run.id, stageId, fromDay);
    go("/bench");
  }
</script>

{#if !run}
  <div class="mx-auto max-w-xl py-10 text-lg">
    <h1 class="mb-2 text-2xl font-semibold">No season yet</h1>
    <p>
      Choose a <a class="link" href="/space">space and a crop</a> and a
      <a class="link" href="/fixtures">lamp</a>; the whole run then stands here, day by day.
    </p>
  </div>
{:else if desk.refused && !season}
  <div class="py-8 text-lg" role="alert">
    <h1 class="text-2xl font-semibold">The season cannot be planned</h1>
    <p class="my-2 max-w-3xl">{desk.refused.message}</p>
    <p>
      <a class="link" href="/space">Change the space or the crop</a> or
      <a class="link" href="/fixtures">choose another lamp</a>.
    </p>
  </div>
{:else if !season}
  <p class="quiet py-10" role="status">Working out the light for every stage…</p>
{:else if card}
  <div class="flex gap-2 py-2 print:hidden">
    <button class="btn btn-sm" onclick={() => opened.close()}>Back to the season</button>
    <button class="btn btn-sm btn-primary" onclick={() => window.print()}>Print the card</button>
  </div>
  <DoorCard {season} {title} {unit} />
{:else}
  <div class="pt-2 pb-1">
    <h1 class="text-2xl leading-tight">
      <strong>{season.days} days</strong> from {dayMonth(season.first, 0)} to
      {dayMonth(season.first, season.days - 1)}:
      {whole}
      {whole === 1 ? "stage" : "stages"},
      <strong>{season.trips === 1 ? "one trip" : `${season.trips} trips`}</strong> to the tent,
      <strong>{Math.round(season.kwh)} kWh</strong>,
      <strong>{money(season.cost, season.made_of.currency)}</strong>.
    </h1>
    <p class="text-lg" aria-live="polite">
      {#if failing?.length}
        <span class="text-warning"
          >{failing.map((s) => s.name).join(", ")}: not every target is met; see below why.</span
        >
      {:else}
        Every stage meets its targets{season.common_height
          ? ", the lamp where it is first hung"
          : ""}.
      {/if}
      {#if desk.busy}<span class="quiet">Planning anew…</span>{/if}
    </p>
  </div>
  <div class="flex flex-wrap items-end justify-between gap-3 pb-2">
    {#if run.begun_on}
      <p class="quiet max-w-xl">
        The run began on {dayWords(run.begun_on)}: it stands on its own copy. To plan it anew, by
        other wishes or another lamp, copy it to a new plan, try that, and say “Plan anew” under
        “This plan…”.
      </p>
    {:else}
      <WishesForm
        {run}
        wish={async (body) => {
          const before = run;
          // at once, so that a second wish does not take the first one back
          runs.put({ ...run, ...body } as Run);
          if (!(await desk.wish(run.id, body))) runs.put(before);
        }}
      />
    {/if}
    <div class="flex flex-wrap gap-2" role="group" aria-label="Take it along">
      <button class="btn btn-sm max-sm:min-h-11" onclick={() => desk.save(run.id, "calendar")}
        >Calendar</button
      >
      <button class="btn btn-sm max-sm:min-h-11" onclick={() => desk.save(run.id, "table")}
        >Day table, CSV</button
      >
      <button class="btn btn-sm max-sm:min-h-11" onclick={() => opened.open("card")}
        >Card for the door</button
      >
    </div>
  </div>
  {#if desk.refused}<p class="text-error" role="alert">{desk.refused.message}</p>{/if}
  {#if run.begun_on}
    <p class="quiet text-sm">
      Bands and lines: planned. Bars, rings and dashes: what really was. Diamonds: the log; tap one.
      {#if plans.length > 1}
        Dotted: the plan before.
        <label>
          <span class="sr-only">The plan before</span>
          <select class="select select-sm w-44" bind:value={() => old, (value) => (older = value)}>
            {#each plans.slice(0, -1) as plan (plan.number)}
              <option value={plan.number}
                >Plan {plan.number}, from {dayWords(plan.holds_from ?? run.begun_on)}</option
              >
            {/each}
          </select>
        </label>
      {/if}
    </p>
  {/if}
  <SeasonPicture
    {season}
    {unit}
    ceiling={season.ceiling_cm}
    rampMin={season.made_of.ramp_min}
    lived={run.begun_on ? log.light : null}
    entries={run.begun_on ? log.entries : []}
    before={run.begun_on ? desk.before : null}
  />
  <StageTable
    {season}
    {unit}
    {run}
    open={openStage}
    free={(stageId, fromDay) => desk.free(run.id, stageId, fromDay)}
  />
  {#if run.begun_on}{#key run.id}<History {run} stages={season.made_of.stages} />{/key}{/if}
  <Cautions
    co2={season.made_of.co2_enriched}
    shortDay={season.stages.some((s) => s.response === "short-day")}
  />
{/if}
