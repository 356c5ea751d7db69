<script lang="ts">
  import { untrack } from "svelte";

  import type { LogEntry } from "../../api/client";
  import { garden } from "../../api/garden.svelte";
  import { account } from "../../api/grower.svelte";
  import { log } from "../../api/logbook.svelte";
  import { getGo } from "../../parts/go";
  import { attempt, notice } from "../../parts/notice.svelte";
  import BeginRun from "../../parts/run/BeginRun.svelte";
  import { dayWords } from "../../units/format";
  import { entryWords, KIND_WORDS, setBefore } from "../../words/log";
  import { worded } from "../../words/said";
  import Days from "./Days.svelte";
  import Gone from "./Gone.svelte";
  import LightDays from "./LightDays.svelte";
  import PhotosBeside from "./PhotosBeside.svelte";
  import PhotoTake from "./PhotoTake.svelte";
  import QuickLine from "./QuickLine.svelte";
  import Tapped from "./Tapped.svelte";
  import TopsPicture from "./TopsPicture.svelte";

  const go = getGo();
  const run = $derived(garden.run);
  const unit = $derived(account.unit);
  let ready = $state(false);
  /** An entry that is being changed. */
  let changing = $state.raw<LogEntry | null>(null);

  $effect(() => {
    const id = run?.id;
    if (id === undefined) return;
    untrack(() => {
      ready = false;
      changing = null;
      void attempt(() => log.load(id)).then(() => (ready = true));
    });
  });

  const day = $derived.by(() => {
    if (!run?.begun_on) return 0;
    return Math.round((Date.parse(account.today) - Date.parse(run.begun_on)) / 86_400_000) + 1;
  });
  const headline = $derived.by(() => {
    const [first] = log.tops?.lines ?? [];
    if (first) return worded(first, unit);
    return log.entries.length
      ? "Measure the tops now and then, like tops 31: the log tells when they near the lamp."
      : "Nothing in the log yet: type what you did or saw, like h 45; dial 60; tops 31.";
  });

  function remove(entry: LogEntry): void {
    if (!run) return;
    const words = entryWords(entry, {}, unit, account.temperature);
    notice.say(`Taken out: ${KIND_WORDS[entry.kind]}, ${words}.`, log.remove(run.id, entry));
  }
</script>

{#if !run}
  <h1 class="text-2xl font-semibold">A log is of a run.</h1>
  <p>
    Make a plan first: <button class="link" onclick={() => go("/bench")}>to the bench</button>.
  </p>
{:else if !run.begun_on}
  <h1 class="text-2xl font-semibold">This plan has not begun.</h1>
  <BeginRun {run} />
{:else}
  <div class="pb-3">
    <h1 class="text-2xl"><strong>{headline}</strong></h1>
    {#each log.tops?.lines.slice(1) ?? [] as line, i (i)}
      <p class:text-warning={line.code === "tops.near"}>{worded(line, unit)}</p>
    {/each}
    {#if log.light}<p>{worded(log.light.line, unit)}</p>{/if}
    {#if log.light?.make_up}<p>{worded(log.light.make_up, unit)}</p>{/if}
    <p class="quiet text-sm">
      Day {day} of {garden.nameOf(run)}, begun on {dayWords(run.begun_on)}{run.ended_on
        ? `, ended on ${dayWords(run.ended_on)}`
        : ""}.
    </p>
  </div>
  <div class="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[26rem_minmax(0,1fr)]">
    <section
      class="bg-base-200 rounded-box grid grid-cols-[minmax(0,1fr)] gap-4 p-4"
      aria-label="Write down"
    >
      <QuickLine runId={run.id} />
      <Tapped runId={run.id} {changing} done={() => (changing = null)} />
      <PhotoTake runId={run.id} />
    </section>
    <div class="grid grid-cols-[minmax(0,1fr)] gap-4">
      {#if log.tops}<TopsPicture tops={log.tops} closest={garden.fixture?.closest_cm ?? 0} />{/if}
      {#if log.light}<LightDays light={log.light} />{/if}
      <PhotosBeside entries={log.entries} begun={run.begun_on} />
      {#if !ready && !log.entries.length}
        <p role="status">Opening the log…</p>
      {:else}
        <Days
          runId={run.id}
          entries={log.entries}
          before={setBefore(log.entries)}
          begun={run.begun_on}
          light={log.light}
          more={log.more}
          change={(entry) => (changing = entry)}
          {remove}
        />
        <Gone runId={run.id} standing={log.entries} />
      {/if}
    </div>
  </div>
{/if}
