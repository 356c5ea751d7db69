<script lang="ts">
  import type { WalkRow } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { walks } from "../../api/readings.svelte";
  import { download, fromBase64, TABLE_TYPES, type TableKind } from "../../parts/download";
  import { attempt, notice } from "../../parts/notice.svelte";
  import { hang, trim } from "../../units/format";

  interface Props {
    runId: number;
    /** The walk that is under way. */
    now: string;
    takeUp: (row: WalkRow) => void;
  }
  let { runId, now, takeUp }: Props = $props();

  const FEW = 5;
  let all = $state(false);
  const rows = $derived(walks.here.filter((row) => !row.removed && row.readings > 0));

  const day = (row: WalkRow): string =>
    new Date(row.begun_at).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" });
  const save = (row: WalkRow, kind: TableKind): Promise<boolean> =>
    attempt(async () => {
      const file = await walks.file(runId, row.key, kind);
      download(file.name, fromBase64(file.content), TABLE_TYPES[kind]);
    });
  async function away(row: WalkRow): Promise<void> {
    await attempt(async () => {
      await walks.putAway(runId, row, true);
      notice.say("The walk is put away.", async () => {
        const kept = walks.here.find((each) => each.key === row.key);
        if (kept) await walks.putAway(runId, kept, false);
      });
    });
  }
</script>

<section class="bg-base-200 rounded-box p-4" aria-label="Walks in this tent">
  <h2 class="font-semibold">Walks in this tent</h2>
  {#if !rows.length}
    <p class="quiet">None yet. Each is kept here as you read, with a file to take along.</p>
  {/if}
  <ul class="mt-1 grid gap-2">
    {#each all ? rows : rows.slice(0, FEW) as row (row.key)}
      <li class="flex flex-wrap items-center gap-x-3">
        <span class="min-w-0 flex-1 basis-56">
          {day(row)}, {row.lamp}: {row.readings} reading{row.readings === 1 ? "" : "s"}
          {#if row.mean !== null}
            <span class="quiet"
              >by the sensor {Math.round(row.mean)} in the mean, {Math.round(
                row.lowest ?? 0,
              )}–{Math.round(row.highest ?? 0)}, lamp at {hang(
                row.height_cm ?? 0,
                account.unit,
              )}{row.dial_pct === null ? "" : `, dial ${trim(row.dial_pct, 1)}`}{row.fit_id === null
                ? ""
                : "; planned by it"}{row.key === now ? "; under way" : ""}</span
            >
          {/if}
        </span>
        {#if row.key !== now}
          <button class="btn btn-sm max-sm:min-h-11" onclick={() => takeUp(row)}
            >Take it up again<span class="sr-only">, of {day(row)}</span></button
          >
        {/if}
        {#each ["csv", "xlsx"] as const as kind (kind)}
          <button class="btn btn-sm btn-ghost max-sm:min-h-11" onclick={() => save(row, kind)}
            >{kind.toUpperCase()}<span class="sr-only">, walk of {day(row)}</span></button
          >
        {/each}
        {#if row.key !== now}
          <button class="btn btn-sm btn-ghost max-sm:min-h-11" onclick={() => away(row)}
            >Put away<span class="sr-only"> the walk of {day(row)}</span></button
          >
        {/if}
      </li>
    {/each}
  </ul>
  {#if rows.length > FEW}
    <button class="link mt-1" onclick={() => (all = !all)}
      >{all ? "The newest only" : `All ${rows.length}`}</button
    >
  {/if}
</section>
