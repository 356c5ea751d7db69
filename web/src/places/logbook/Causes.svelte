<script lang="ts">
  import { asRefusal, type Causes, type Cause, type LogEntry } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { log } from "../../api/logbook.svelte";
  import { notice } from "../../parts/notice.svelte";
  import { percent } from "../../units/format";
  import { worded } from "../../words/said";

  // what may be behind something seen, with what speaks for and against it, and one thing to try
  let { runId, entry }: { runId: number; entry: LogEntry } = $props();
  const unit = $derived(account.unit);
  const asked = $derived(log.causes(runId, entry.key));
  let chosen = $state<Cause["cause"] | null>(null);
  let all = $state(false);
  const MOST = 3;

  const shown = (found: Causes): Cause[] => (all ? found.causes : found.causes.slice(0, MOST));
  const words = (cause: Cause): string =>
    cause.change.lines.map((line) => worded(line, unit)).join(". ");

  /** Keep what is tried, and what was set for it: three days later it is asked what came of it. */
  function keep(cause: Cause): void {
    const { to_set } = cause.change;
    if (to_set) {
      const values = { height_cm: Math.round(to_set.height_cm), dial_pct: to_set.dial_pct };
      log.enter(runId, { kind: "setting", text: worded(cause.name, unit), values });
    }
    const values = { of: entry.key, cause: cause.cause };
    log.enter(runId, { kind: "try", text: words(cause).slice(0, 500), values });
    chosen = cause.cause;
    notice.say("Kept. In three days Today asks what came of it.");
  }
</script>

{#await asked}
  <p class="quiet" role="status">Weighing it against the light and the log…</p>
{:then found}
  <section class="bg-base-100 rounded-box grid gap-3 p-3" aria-label="What may be behind it">
    {#if found.note}<p><strong>{worded(found.note, unit)}</strong></p>{/if}
    <ol class="grid gap-3">
      {#each shown(found) as cause (cause.cause)}
        <li class="grid gap-1">
          <p>
            <strong>{worded(cause.name, unit)}</strong>
            <span class="quiet">{percent(cause.share)}</span>
          </p>
          {#if cause.speaks_for.length || cause.against.length}
            <ul class="text-[0.95rem]">
              {#each cause.speaks_for as why, i (i)}<li>
                  <span aria-hidden="true">+</span><span class="sr-only">For it:</span>
                  {worded(why, unit)}
                </li>{/each}
              {#each cause.against as why, i (i)}<li class="quiet">
                  <span aria-hidden="true">−</span><span class="sr-only">Against it:</span>
                  {worded(why, unit)}
                </li>{/each}
            </ul>
          {/if}
          <p class="flex flex-wrap items-baseline gap-2">
            <span class="min-w-0">{words(cause)}.</span>
            <button
              class="btn btn-sm max-sm:min-h-11"
              disabled={chosen !== null}
              onclick={() => keep(cause)}
              >{chosen === cause.cause
                ? "Being tried"
                : cause.change.to_set
                  ? "Set so: I try this"
                  : "I try this"}<span class="sr-only"> {worded(cause.name, unit)}</span></button
            >
          </p>
        </li>
      {/each}
    </ol>
    {#if found.causes.length > MOST}
      <p>
        <button class="link" onclick={() => (all = !all)}
          >{all ? "Only the likeliest" : "All it could be"}</button
        >
      </p>
    {/if}
    <p class="quiet text-sm">
      {worded(found.how, unit)} By what is known here; other signs, a lens and somebody who knows these
      plants tell more.
    </p>
  </section>
{:catch error}
  <p class="text-error" role="alert">{asRefusal(error).message}</p>
{/await}
