<script lang="ts">
  import type { LightGiven, LogEntry } from "../../api/client";
  import { log, whence } from "../../api/logbook.svelte";
  import { download, fromBase64, TABLE_TYPES, type TableKind } from "../../parts/download";
  import { attempt } from "../../parts/notice.svelte";
  import { photoOf } from "../../api/photos";
  import { account } from "../../api/grower.svelte";
  import { dayWords, trim } from "../../units/format";
  import { entryWords, KIND_WORDS } from "../../words/log";
  import Causes from "./Causes.svelte";

  interface Props {
    runId: number;
    entries: LogEntry[];
    /** What stood set before each. */
    before: LogEntry["values"][];
    begun: string;
    light: LightGiven | null;
    more: boolean;
    change: (entry: LogEntry) => void;
    remove: (entry: LogEntry) => void;
  }
  let { runId, entries, before, begun, light, more, change, remove }: Props = $props();

  const save = (kind: TableKind): Promise<boolean> =>
    attempt(async () => {
      const file = await log.file(runId, kind);
      download(file.name, fromBase64(file.content), TABLE_TYPES[kind]);
    });
  /** The sign whose causes are looked at, by its entry. */
  let asked = $state<string | null>(null);
  const DAY_MS = 86_400_000;
  const at = (entry: LogEntry): Date => new Date(Date.parse(entry.at));
  const dayOf = (entry: LogEntry): string => {
    const moment = at(entry);
    const two = (value: number): string => String(value).padStart(2, "0");
    return `${moment.getFullYear()}-${two(moment.getMonth() + 1)}-${two(moment.getDate())}`;
  };
  const days = $derived.by(() => {
    const found: { day: string; rows: { entry: LogEntry; before: LogEntry["values"] }[] }[] = [];
    entries.forEach((entry, i) => {
      const day = dayOf(entry);
      const last = found.at(-1);
      const row = { entry, before: before[i] ?? {} };
      if (last?.day === day) last.rows.push(row);
      else found.push({ day, rows: [row] });
    });
    return found;
  });
  const number = (day: string): number =>
    Math.round((Date.parse(day) - Date.parse(begun)) / DAY_MS) + 1;
  /** The light of a day, where it is known. */
  const given = (day: string): string => {
    const found = light?.days.find((each) => each.on === day);
    if (!found?.known) return "";
    return `: ${trim(found.dli, 1)} mol${day === light?.days.at(-1)?.on ? " so far" : ""}`;
  };
  const time = (entry: LogEntry): string =>
    at(entry).toLocaleTimeString(undefined, {
      hour: "2-digit",
      minute: "2-digit",
      hourCycle: "h23",
    });
  /** What was typed besides, where the words do not say it already. */
  const aside = (entry: LogEntry, words: string): string =>
    entry.text &&
    entry.text !== words &&
    !["cover", "water", "note", "answer", "photo", "try", "outcome"].includes(entry.kind)
      ? entry.text
      : "";
</script>

<section class="bg-base-200 rounded-box p-4" aria-label="The log">
  <h2 class="font-semibold">Day by day</h2>
  {#if !days.length}<p class="quiet">What you keep stands here, the newest first.</p>{/if}
  <ol class="grid gap-3">
    {#each days as { day, rows } (day)}
      <li>
        <h3 class="quiet text-sm">
          Day {number(day)}, {dayWords(day)}{given(day)}
        </h3>
        <ul class="grid gap-1">
          {#each rows as { entry, before: was } (entry.key)}
            {@const words = entryWords(entry, was, account.unit, account.temperature)}
            <li class="entry">
              <span class="quiet tabular-nums">{time(entry)}</span>
              <span class="min-w-0">
                <strong>{KIND_WORDS[entry.kind]}</strong>
                {words}
                {#if aside(entry, words)}<span class="quiet">“{aside(entry, words)}”</span>{/if}
                {#if entry.kind === "photo"}
                  <a href={photoOf(entry)} target="_blank" rel="noreferrer"
                    ><img
                      src={photoOf(entry, true)}
                      alt={words || "Photo"}
                      loading="lazy"
                      class="small"
                    /></a
                  >
                {/if}
                {#if entry.edited}<span class="quiet text-sm">changed since</span>{/if}
              </span>
              {#if whence(entry)}
                <span class="quiet text-sm">{whence(entry)}</span>
              {:else}
                <span class="flex gap-1">
                  {#if entry.kind === "symptom" && entry.id}
                    <button
                      class="btn btn-sm max-sm:min-h-11"
                      aria-expanded={asked === entry.key}
                      onclick={() => (asked = asked === entry.key ? null : entry.key)}
                      >What may it be?<span class="sr-only"> {words}</span></button
                    >
                  {/if}
                  {#if !["answer", "photo", "try", "outcome"].includes(entry.kind)}
                    <button
                      class="btn btn-ghost btn-sm max-sm:min-h-11"
                      onclick={() => change(entry)}
                      >Change<span class="sr-only"> {KIND_WORDS[entry.kind]} {words}</span></button
                    >
                  {/if}
                  <button class="btn btn-ghost btn-sm max-sm:min-h-11" onclick={() => remove(entry)}
                    >Take out<span class="sr-only"> {KIND_WORDS[entry.kind]} {words}</span></button
                  >
                </span>
              {/if}
              {#if asked === entry.key}
                <div class="causes"><Causes {runId} {entry} /></div>
              {/if}
            </li>
          {/each}
        </ul>
      </li>
    {/each}
  </ol>
  {#if days.length}
    <p class="flex flex-wrap gap-2 pt-2">
      {#each ["csv", "xlsx"] as const as kind (kind)}
        <button class="btn btn-sm max-sm:min-h-11" onclick={() => save(kind)}
          >The whole log, {kind.toUpperCase()}</button
        >
      {/each}
    </p>
  {/if}
  {#if more}<p class="quiet">Older entries are kept, and not shown here.</p>{/if}
</section>

<style>
  .small {
    max-height: 6rem;
    border-radius: var(--radius-field);
  }
  .causes {
    grid-column: 1 / -1;
  }
  .entry {
    display: grid;
    grid-template-columns: 3.5rem minmax(0, 1fr) auto;
    align-items: baseline;
    column-gap: 0.5rem;
  }
  @media (max-width: 640px) {
    .entry {
      grid-template-columns: 3.5rem minmax(0, 1fr);
    }
    .entry > :last-child {
      grid-column: 2;
    }
  }
</style>
