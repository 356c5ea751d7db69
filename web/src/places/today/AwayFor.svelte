<script lang="ts">
  import type { Away } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { today } from "../../api/today.svelte";
  import { attempt } from "../../parts/notice.svelte";
  import { dayWords } from "../../units/format";
  import { worded } from "../../words/said";

  let { runId }: { runId: number } = $props();
  const CHOICES = [2, 5, 7, 14, 21];
  let asked = $state<number | null>(null);
  let found = $state.raw<Away | null>(null);
  let looking = $state(false);

  async function ask(days: number): Promise<void> {
    asked = days;
    [found, looking] = [null, true];
    await attempt(async () => {
      const answer = await today.away(runId, days);
      if (asked === days) found = answer;
    });
    if (asked === days) looking = false;
  }
</script>

<section class="grid gap-2" aria-label="Away">
  <div class="flex flex-wrap items-center gap-2" role="group" aria-label="Away for so many days">
    <span>Away for</span>
    {#each CHOICES as days (days)}
      <button
        class="btn btn-sm max-sm:min-h-11"
        class:btn-neutral={asked === days}
        aria-pressed={asked === days}
        onclick={() => ask(days)}>{days} days?</button
      >
    {/each}
  </div>
  {#if found}
    <p role="status">
      {#if found.to_set}Before you go:{/if}
      <strong
        >{found.lines
          .map((line) => worded(line, account.unit).replace(/\.$/, ""))
          .join(". ")}.</strong
      >
      <span class="quiet">Until {dayWords(found.until)}, by the tops as they may rise at most.</span
      >
    </p>
  {:else if asked !== null}
    <p class="quiet" role="status">
      {looking
        ? "Looking ahead…"
        : "Nothing can be told before lamp, dial and timer were set: say above how they stand."}
    </p>
  {/if}
</section>
