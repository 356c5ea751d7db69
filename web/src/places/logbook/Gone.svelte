<script lang="ts">
  import { asRefusal, type LogEntry } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { log } from "../../api/logbook.svelte";
  import { dayWords } from "../../units/format";
  import { entryWords, KIND_WORDS } from "../../words/log";

  // what was taken out of the log, and can be brought back
  interface Props {
    runId: number;
    /** What stands: with every change of it this is asked for anew. */
    standing: LogEntry[];
  }
  let { runId, standing }: Props = $props();
  let open = $state(false);
  const gone = $derived(open && standing ? log.gone(runId) : null);
  const words = (entry: LogEntry): string =>
    `${KIND_WORDS[entry.kind]} ${entryWords(entry, {}, account.unit, account.temperature)}`;
</script>

<details class="bg-base-200 rounded-box p-4" bind:open>
  <summary class="cursor-pointer max-sm:min-h-11">Taken out of the log</summary>
  {#await gone}
    <p class="quiet" role="status">Looking…</p>
  {:then rows}
    {#if rows?.length}
      <ul class="grid gap-1 pt-2">
        {#each rows as entry (entry.key)}
          <li class="flex flex-wrap items-baseline gap-2">
            <span class="quiet">{dayWords(entry.at.slice(0, 10))}</span>
            <span class="min-w-0">{words(entry)}</span>
            <button class="btn btn-sm max-sm:min-h-11" onclick={() => log.bringBack(runId, entry)}
              >Bring it back<span class="sr-only"> {words(entry)}</span></button
            >
          </li>
        {/each}
      </ul>
    {:else if rows}
      <p class="quiet pt-2">Nothing is: what you take out stands here and can come back.</p>
    {/if}
  {:catch error}
    <p class="text-error" role="alert">{asRefusal(error).message}</p>
  {/await}
</details>
