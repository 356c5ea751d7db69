<script lang="ts">
  import { untrack } from "svelte";

  import { asRefusal } from "../../api/client";
  import { devices } from "../../api/devices.svelte";
  import { garden } from "../../api/garden.svelte";
  import { account } from "../../api/grower.svelte";
  import { runs } from "../../api/runs.svelte";
  import { today } from "../../api/today.svelte";
  import BeginRun from "../../parts/run/BeginRun.svelte";
  import { worded } from "../../words/said";
  import CalendarFeed from "./CalendarFeed.svelte";
  import Path from "./Path.svelte";
  import RunToday from "./RunToday.svelte";

  /** Why nothing could be told yet; what was told before stays. */
  let failed = $state("");
  async function load(): Promise<void> {
    failed = "";
    await today.load().catch((error: unknown) => (failed = asRefusal(error).message));
  }
  const EVERY_MS = 5 * 60_000;
  // anew once all that was answered has been sent, and now and then: the day goes on
  $effect(() => {
    if (today.coming) return;
    untrack(() => void load());
    const timer = setInterval(() => void load(), EVERY_MS);
    return () => clearInterval(timer);
  });
  const shown = $derived(
    today.runs.flatMap((row) => {
      const run = runs.of(row.run_id);
      return run ? [{ ...row, run }] : [];
    }),
  );
  const plan = $derived(garden.run && !garden.run.begun_on ? garden.run : null);
</script>

<div class="mx-auto grid max-w-3xl gap-6 py-2">
  {#if !today.ready}
    <h1 class="text-2xl font-semibold">Today</h1>
    {#if failed}
      <p role="alert">{failed}</p>
      <p><button class="btn min-h-11" onclick={load}>Try again</button></p>
    {:else}
      <p class="quiet" role="status">Looking at your runs…</p>
    {/if}
  {:else if shown.length}
    <h1 class="sr-only">Today</h1>
    {#each shown as row, i (row.run_id)}
      {#if row.day}
        <RunToday run={row.run} day={row.day} measured={i === 0 && devices.present.length > 0} />
      {:else if row.why}
        <article class="grid gap-1" aria-label={garden.nameOf(row.run)}>
          <h2 class="text-xl font-semibold">{garden.nameOf(row.run)}</h2>
          <p role="alert">{worded(row.why, account.unit)}</p>
        </article>
      {/if}
    {/each}
    <CalendarFeed />
  {:else}
    <h1 class="text-2xl font-semibold">Nothing grows yet.</h1>
    <Path />
    {#if plan}
      <section class="bg-base-200 rounded-box p-4" aria-label="Begin">
        <h2 class="text-lg font-semibold">{garden.nameOf(plan)}</h2>
        <BeginRun run={plan} begun={() => void load()} />
      </section>
    {/if}
  {/if}
</div>
