<script lang="ts">
  import type { PastSetting, Run } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { runs } from "../../api/runs.svelte";
  import { clock, hours, length, trim } from "../../units/format";

  // what was really set and measured, the newest first
  let { run, stages }: { run: Run; stages: { id: number; name: string }[] } = $props();
  const past = $derived(runs.past(run.id));

  const stageOf = (id: number): string => stages.find((stage) => stage.id === id)?.name ?? "";
  function moment(row: PastSetting): string {
    const zone = account.grower?.time_zone ?? "UTC";
    const how = { dateStyle: "medium", timeStyle: "short", timeZone: zone } as const;
    return new Intl.DateTimeFormat("en-GB", how).format(new Date(row.holds_from ?? row.made_at));
  }
  function words(row: PastSetting): string {
    return [
      row.height_cm === null ? "" : length(row.height_cm, account.unit),
      row.dial_pct === null ? "" : `dial ${trim(row.dial_pct, 1)}`,
      row.watts === null ? "" : `${trim(row.watts, 1)} W`,
      row.windows.map((w) => `${hours(w.hours)} from ${clock(w.on_minute)}`).join(" and "),
    ]
      .filter(Boolean)
      .join(", ");
  }
</script>

<section aria-labelledby="past-title" class="pt-3">
  <h2 id="past-title" class="text-lg font-semibold">What was really set</h2>
  {#await past}
    <p class="quiet" role="status">Looking it up…</p>
  {:then rows}
    {#if rows.length}
      <ul class="grid gap-0.5">
        {#each rows as row (row.id)}
          <li>
            <span class="quiet">{moment(row)}, {stageOf(row.stage_id)}:</span>
            {row.kind === "measured" ? "measured" : "set to"}
            <strong>{words(row)}</strong>
          </li>
        {/each}
      </ul>
    {:else}
      <p class="quiet">
        Nothing yet. On the bench, “Set so at the tent now” keeps where lamp, dial and timer stand;
        it is never changed afterwards.
      </p>
    {/if}
  {:catch error}
    <p class="text-error" role="alert">{error.message}</p>
  {/await}
</section>
