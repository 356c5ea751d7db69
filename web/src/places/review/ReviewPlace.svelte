<script lang="ts">
  import { untrack } from "svelte";

  import { asRefusal, type Review } from "../../api/client";
  import { garden } from "../../api/garden.svelte";
  import { account } from "../../api/grower.svelte";
  import { nextRun, reviewOf } from "../../api/review";
  import { runs } from "../../api/runs.svelte";
  import { getGo } from "../../parts/go";
  import { attempt, notice } from "../../parts/notice.svelte";
  import BeginRun from "../../parts/run/BeginRun.svelte";
  import { dayWords, money, trim } from "../../units/format";
  import { worded } from "../../words/said";
  import Beside from "./Beside.svelte";
  import DriftCard from "./DriftCard.svelte";
  import GivenPicture from "./GivenPicture.svelte";
  import StageSums from "./StageSums.svelte";
  import Taught from "./Taught.svelte";

  const go = getGo();
  const run = $derived(garden.run);
  const unit = $derived(account.unit);
  const lived = $derived(runs.present.filter((each) => each.begun_on));
  let found = $state.raw<Review | null>(null);
  let stands = $state<"looking" | "there" | "nothing" | "refused">("looking");
  let why = $state("");
  let asGrown = $state(true);

  async function look(id: number): Promise<void> {
    [stands, found] = ["looking", null];
    try {
      const review = await reviewOf(id);
      if (garden.run?.id !== id) return;
      [found, stands] = [review, review ? "there" : "nothing"];
    } catch (error) {
      if (garden.run?.id === id) [why, stands] = [asRefusal(error).message, "refused"];
    }
  }
  $effect(() => {
    const [id, begun] = [run?.id, run?.begun_on];
    // ended, or planned anew, it has another version
    void run?.version;
    if (id !== undefined && begun) untrack(() => void look(id));
  });

  async function next(): Promise<void> {
    const now = run;
    if (!now) return;
    await attempt(async () => {
      const made = await nextRun(now.id, asGrown && Boolean(found?.differs));
      garden.openPlan(made.id);
      notice.say(
        `${garden.nameOf(made)}: planned by what this run taught. Begin it when it begins.`,
      );
      go("/bench");
    });
  }
</script>

{#if !run}
  <h1 class="text-2xl font-semibold">A review is of a run.</h1>
  <p>
    Make a plan first: <button class="link" onclick={() => go("/bench")}>to the bench</button>.
  </p>
{:else if !run.begun_on}
  <h1 class="text-2xl font-semibold">This plan has not begun: there is nothing to look back on.</h1>
  {#if lived.length}
    <p class="my-2 flex flex-wrap items-center gap-2">
      Runs that have:
      {#each lived as each (each.id)}
        <button class="btn btn-sm max-sm:min-h-11" onclick={() => garden.openPlan(each.id)}
          >{garden.nameOf(each)}</button
        >
      {/each}
    </p>
  {/if}
  <BeginRun {run} />
{:else if stands === "looking"}
  <p class="quiet py-10" role="status">Looking back on it, day by day…</p>
{:else if stands === "refused"}
  <p class="py-8 text-lg" role="alert">{why}</p>
{:else if !found}
  <h1 class="text-2xl font-semibold">Nothing was kept of how the lamp stood.</h1>
  <p class="max-w-2xl">
    Write down height, dial and hours in the <a class="link" href="/logbook">logbook</a>, also those
    of past days: the review then tells what plants got and what it cost.
  </p>
  <div class="mt-4"><DriftCard runId={run.id} /></div>
{:else}
  {@const { whole, currency } = found}
  <div class="pt-2 pb-3">
    <h1 class="text-2xl leading-tight">
      {#if whole.dli !== null}
        <strong>{trim(whole.dli, 1)} mol a day</strong>
        {#if whole.planned_dli !== null}of {trim(whole.planned_dli, 1)} planned{/if},
        <strong>{whole.inside_days} of {whole.known_days} days</strong> inside the band,
      {/if}
      <strong>{trim(whole.kwh, 1)} kWh</strong>,
      <strong>{money(whole.cost, currency)}</strong>{found.over ? "" : " so far"}.
    </h1>
    {#each found.lines as line, i (i)}<p>{worded(line, unit)}</p>{/each}
    <p class="quiet text-sm">
      {garden.nameOf(run)}: {whole.days} days from {dayWords(found.begun_on)} to {dayWords(
        found.last_on,
      )}{found.ended_how === "given_up" ? ", given up" : ""}{found.harvest === null
        ? ""
        : `, ${trim(found.harvest, 1)} ${found.harvest_unit} harvested`}.
    </p>
    <div class="mt-2 flex flex-wrap items-center gap-3 print:hidden">
      <button class="btn btn-primary max-sm:min-h-12" onclick={next}
        >Start the next run from this</button
      >
      {#if found.differs}
        <label class="flex items-center gap-2 max-sm:min-h-11">
          <input type="checkbox" class="checkbox checkbox-sm" bind:checked={asGrown} />
          stages last, and plants rise, as they did here
        </label>
      {/if}
      <button class="btn max-sm:min-h-12" onclick={() => window.print()}>Print the report</button>
    </div>
  </div>
  <div class="grid grid-cols-[minmax(0,1fr)] gap-4">
    <GivenPicture review={found} />
    <StageSums review={found} />
    <div class="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-2">
      <DriftCard runId={run.id} />
      <Taught review={found} />
    </div>
    <Beside {run} review={found} />
  </div>
{/if}
