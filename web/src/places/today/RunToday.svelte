<script lang="ts">
  import type { DayToday, Run } from "../../api/client";
  import { garden } from "../../api/garden.svelte";
  import { account } from "../../api/grower.svelte";
  import { installs } from "../../api/installs.svelte";
  import { getGo } from "../../parts/go";
  import TodayMeasured from "../../parts/live/TodayMeasured.svelte";
  import { dayWords } from "../../units/format";
  import { STEP } from "../../words/install";
  import { worded } from "../../words/said";
  import AwayFor from "./AwayFor.svelte";
  import DueCard from "./DueCard.svelte";
  import Stands from "./Stands.svelte";

  interface Props {
    run: Run;
    day: DayToday;
    /** Whether what devices say stands here. */
    measured: boolean;
  }
  let { run, day, measured }: Props = $props();
  const left = $derived(installs.of(run.id));
  const go = getGo();
  const unit = $derived(account.unit);
  const LINKS = [
    { path: "/logbook", label: "Write something down" },
    { path: "/season", label: "Its season" },
    { path: "/bench", label: "Its bench" },
  ] as const;
  const open = (): void => garden.openPlan(run.id);

  /** What to do in a sentence: what is due today and late, or that nothing is. */
  const headline = $derived.by(() => {
    const now = day.due.filter((due) => due.on <= account.today);
    const first = now.find((due) => due.kind === "set" || due.kind === "timer") ?? now[0];
    if (!first) {
      const [next] = day.due;
      if (next) return `Nothing to do today. By ${dayWords(next.on)}: ${said(next)}.`;
      return day.nothing ? worded(day.nothing, unit) : "Nothing to do today.";
    }
    const more = now.length - 1;
    const rest = more
      ? `; ${more === 1 ? "one thing more" : `${more} things more`}.`
      : "; everything else stands.";
    // where it then hangs stands below; here it is what to do
    const what = first.to_set ? (said(first).split(", ")[0] ?? "") : said(first);
    return what + (first.to_set || more ? rest : ".");
  });
  function said(due: DayToday["due"][number]): string {
    return due.lines.map((line) => worded(line, unit).replace(/\.$/, "")).join(". ");
  }
</script>

<article class="grid gap-3" aria-label={garden.nameOf(run)}>
  <header>
    <h2 class="text-xl"><strong>{headline}</strong></h2>
    <p class="quiet">
      {garden.nameOf(run)}: day {day.day}; {day.stage}, day {day.stage_day} of {day.stage_days}.
    </p>
  </header>
  {#if left.length}
    <p class="text-sm">
      <button
        class="link"
        onclick={() => {
          open();
          go("/install");
        }}>Not done yet, for safety: {left.map((step) => STEP[step].short).join(", ")}</button
      >
    </p>
  {/if}
  {#if day.due.length}
    <ul class="grid gap-2" aria-label="What is due">
      {#each day.due as due (due.key)}<DueCard runId={run.id} {due} {open} />{/each}
    </ul>
  {/if}
  <Stands {day} />
  {#if measured}<TodayMeasured runId={run.id} />{/if}
  <AwayFor runId={run.id} />
  {#if day.coming.length}
    <section aria-label="What comes">
      <h3 class="font-semibold">By the plan in the next two weeks</h3>
      <ul>
        {#each day.coming as each (each.on)}
          <li>
            <span class="quiet">{dayWords(each.on)}:</span>
            {each.lines.map((line) => worded(line, unit)).join(". ")}
          </li>
        {/each}
      </ul>
    </section>
  {/if}
  <p class="flex flex-wrap gap-x-4">
    {#each LINKS as { path, label } (path)}
      <button
        class="link min-h-11"
        onclick={() => {
          open();
          go(path);
        }}>{label}</button
      >
    {/each}
  </p>
</article>
