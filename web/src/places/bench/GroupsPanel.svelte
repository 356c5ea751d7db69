<script lang="ts">
  import { answer, client, type Bench } from "../../api/client";
  import { newKey } from "../../api/key";
  import ClockField from "../../parts/form/ClockField.svelte";
  import Figure from "../../parts/form/Figure.svelte";
  import SelectField from "../../parts/form/SelectField.svelte";
  import { attempt } from "../../parts/notice.svelte";
  import { trim, windowsWords } from "../../units/format";
  import { groupLetter } from "../../words/groups";

  interface Props {
    runId: number;
    bench: Bench;
    /** What was set is kept: the bench is asked anew. */
    settled: () => void;
    close: () => void;
  }
  let { runId, bench, settled, close }: Props = $props();

  type Group = Bench["groups"][number];
  type How = "rails" | "dial" | "timer" | "off";
  const how = (group: Group): How =>
    !group.own ? "rails" : group.dial_pct === 0 ? "off" : group.own_timer ? "timer" : "dial";
  const params = (group: Group): { run_id: number; stage_id: number; group: number } => ({
    run_id: runId,
    stage_id: bench.stage.id,
    group: group.group,
  });
  const path = "/api/runs/{run_id}/stages/{stage_id}/groups/{group}" as const;

  async function put(group: Group, dial_pct: number, windows: Group["windows"]): Promise<void> {
    if (Number.isNaN(dial_pct) || windows.some((w) => !(w.hours > 0 && w.hours <= 24))) return;
    const sent = { path: params(group), header: { "Idempotency-Key": newKey() } };
    const body = { from_day: bench.from_day, dial_pct, windows };
    if (await attempt(() => answer(client.PUT(path, { params: sent, body })))) settled();
  }

  async function choose(group: Group, to: How): Promise<void> {
    const dial = group.dial_pct || 100;
    // a first guess inside the day of the others: its middle hours
    const noon = bench.on_minute + Math.round((bench.setting.hours * 60) / 2 / 15) * 15;
    const window = { on_minute: (noon - 60 + 1440) % 1440, hours: 2 };
    if (to === "off") return put(group, 0, []);
    if (to === "dial") return put(group, dial, []);
    if (to === "timer") return put(group, dial, group.windows.length ? group.windows : [window]);
    const query = { from_day: bench.from_day };
    const sent = { path: params(group), query, header: { "Idempotency-Key": newKey() } };
    if (await attempt(() => answer(client.DELETE(path, { params: sent })))) settled();
  }

  function windowed(group: Group, at: number, part: Partial<Group["windows"][number]>): void {
    const windows = group.windows.map((w, i) => (i === at ? { ...w, ...part } : w));
    void put(group, group.dial_pct, windows);
  }
</script>

<section class="grid content-start gap-3 text-[0.9rem]" aria-labelledby="groups-title">
  <div class="flex items-center gap-2">
    <h2 id="groups-title" class="font-semibold">Lamps set by themselves at this stage</h2>
    <button class="btn btn-sm ml-auto max-sm:min-h-11" onclick={close}>Back to the floor</button>
  </div>
  <p class="quiet">
    The plan sets the other lamps round these: what they give counts for the day's light and, while
    both are on, for the brightest spot.
  </p>
  {#each bench.groups as group (group.group)}
    {@const letter = groupLetter(group.group)}
    <fieldset class="grid gap-2">
      <legend class="font-semibold"
        >Group {letter}, {group.lamps === 1 ? "one lamp" : `${group.lamps} lamps`}</legend
      >
      <div class="flex flex-wrap items-start gap-2">
        <SelectField
          small
          label="Group {letter} is"
          bind:value={() => how(group), (to) => void choose(group, to)}
          options={[
            { value: "rails", label: "as its lamps are without it" },
            { value: "dial", label: "on its own dial, with the others' timer" },
            { value: "timer", label: "on its own dial and timer" },
            { value: "off", label: "off" },
          ]}
        />
        {#if how(group) === "dial" || how(group) === "timer"}
          <Figure
            narrow
            label="Dial of {letter}"
            unit="%"
            bind:value={() => group.dial_pct, (dial) => void put(group, dial || NaN, group.windows)}
          />
        {/if}
        {#each group.windows as window, i (i)}
          <ClockField
            label={i ? "and again at" : `${letter} comes on`}
            bind:value={() => window.on_minute, (on_minute) => windowed(group, i, { on_minute })}
          />
          <Figure
            narrow
            label="for"
            unit="h"
            bind:value={() => window.hours, (hours) => windowed(group, i, { hours: hours ?? NaN })}
          />
        {/each}
      </div>
      {#if group.own_timer}
        <div class="flex flex-wrap gap-2">
          {#if group.windows.length < 4}
            <button
              class="btn btn-xs max-sm:min-h-11"
              onclick={() => {
                const last = group.windows.at(-1);
                const end = (last?.on_minute ?? 0) + Math.round((last?.hours ?? 0) * 60) + 60;
                void put(group, group.dial_pct, [
                  ...group.windows,
                  { on_minute: end % 1440, hours: 1 },
                ]);
              }}>On once more</button
            >
          {/if}
          {#if group.windows.length > 1}
            <button
              class="btn btn-xs max-sm:min-h-11"
              onclick={() => void put(group, group.dial_pct, group.windows.slice(0, -1))}
              >Not the last time</button
            >
          {/if}
        </div>
      {/if}
      <p>
        {#if how(group) === "off"}
          Switched off at this stage.
        {:else if how(group) === "timer"}
          <strong>{Math.round(group.watts)} W</strong> from
          <strong>{windowsWords(group.windows)}</strong>, {trim(group.kwh_per_day, 2)} kWh a day.
        {:else if how(group) === "dial"}
          <strong>{Math.round(group.watts)} W</strong>, on whenever the others are.
        {:else}
          Nothing is set for it here.
        {/if}
      </p>
    </fieldset>
  {/each}
  {#if bench.group_dli > 0}
    <p>
      Lamps on a timer of their own bring <strong>{trim(bench.group_dli, 1)} mol</strong> a day to the
      tops.
    </p>
  {/if}
  <p class="quiet">
    Which lamp is in which group is chosen where the lamps hang. Mind the load of each timer's
    contacts, and never join two plugs on one timer with a strip made for less.
  </p>
</section>
