<script lang="ts">
  import type { RackAnswer } from "../../api/client";
  import { garden } from "../../api/garden.svelte";
  import { account } from "../../api/grower.svelte";
  import { racks } from "../../api/racks.svelte";
  import { runs } from "../../api/runs.svelte";
  import { spaces } from "../../api/spaces.svelte";
  import { getGo } from "../../parts/go";
  import { attempt, notice } from "../../parts/notice.svelte";
  import { clock, hang, hours, money, trim, windowsWords } from "../../units/format";
  import { groupsWords } from "../../words/groups";
  import RackPicture from "./RackPicture.svelte";

  let { rackId }: { rackId: number } = $props();
  const go = getGo();
  const unit = $derived(account.unit);

  // it follows every kept change of a level, a plan or a lamp
  const asked = $derived({ id: rackId, levels: spaces.all, plans: runs.all });
  let found = $state<RackAnswer | null>(null);
  let sentence = $state("");
  $effect(() => {
    const { id } = asked;
    let late = false;
    racks
      .on(id)
      .then((rack) => {
        if (!late) [found, sentence] = [rack, ""];
      })
      .catch((error: Error) => {
        if (!late) sentence = error.message;
      });
    return () => {
      late = true;
    };
  });

  type Level = RackAnswer["levels"][number];
  const lit = $derived(found?.levels.filter((level) => level.outcome) ?? []);

  function open(level: Level, place: "/bench" | "/space"): void {
    garden.lookIn(level.space_id, level.run_id);
    if (place === "/bench") go(place);
  }

  async function more(): Promise<void> {
    const top = found?.levels[0];
    if (top) await attempt(() => racks.addLevel(rackId, top.height_cm));
  }

  async function putAway(): Promise<void> {
    const name = found?.name ?? "";
    if (await attempt(() => racks.putAway(rackId, true)))
      notice.say(`${name} is put away with its levels; plans on them go on.`, () =>
        racks.putAway(rackId, false),
      );
  }
</script>

<section class="bg-base-200 rounded-box mb-5 p-4" aria-labelledby="rack-title">
  {#if sentence}
    <p class="text-error" role="alert">{sentence}</p>
  {:else if !found}
    <p class="quiet" role="status">Adding up the rack…</p>
  {:else}
    <div class="flex flex-wrap items-start gap-x-4 gap-y-1">
      <div class="min-w-0 flex-1 max-sm:basis-full">
        <h2 id="rack-title" class="text-xl leading-tight">
          {#if lit.length}
            <strong>{found.name}</strong> draws
            <strong>{Math.round(found.most_watts)} W</strong> at most (at {clock(
              found.most_at_minute,
            )}) and
            <strong>{found.kwh_per_day.toFixed(2)} kWh</strong> a day{#if found.currency}, <strong
                >{money(found.cost_per_day, found.currency)}</strong
              >{/if}.
          {:else}
            <strong>{found.name}</strong>: nothing is planned on it yet.
          {/if}
        </h2>
        <p class="quiet">
          {lit.length} of {found.levels.length}
          {found.levels.length === 1 ? "level is" : "levels are"} planned{lit.length &&
          !found.currency
            ? "; they pay in several currencies, so the cost is not added up"
            : ""}.
        </p>
      </div>
      <button class="btn btn-sm max-sm:min-h-11" onclick={more}>One level more</button>
      <button class="btn btn-sm btn-ghost max-sm:min-h-11" onclick={putAway}>Put it away</button>
    </div>
    <div class="mt-2 grid items-start gap-4 lg:grid-cols-[16rem_1fr]">
      <RackPicture rack={found} {unit} />
      <div class="overflow-x-auto">
        <table class="table-sm table">
          <thead>
            <tr>
              <th scope="col">Level</th>
              <th scope="col">Lamp, dial, light</th>
              <th scope="col" class="text-right">DLI</th>
              <th scope="col" class="text-right">W</th>
              <th scope="col" class="text-right">kWh a day</th>
              <th scope="col" class="text-right">A day</th>
              <th scope="col"><span class="sr-only">Open</span></th>
            </tr>
          </thead>
          <tbody>
            {#each found.levels as level (level.space_id)}
              {@const here = level.space_id === garden.space?.id}
              <tr class={here ? "bg-base-300" : ""} aria-current={here ? "true" : undefined}>
                <th scope="row" class="text-left">
                  {level.name}
                  <div class="quiet font-normal">
                    {hang(level.height_cm, unit)} clear{level.stage ? `, ${level.stage}` : ""}
                  </div>
                </th>
                {#if level.setting && level.outcome}
                  <td>
                    <strong>{hang(level.lamp_cm, unit)}</strong> above its board, dial
                    <strong>{trim(level.setting.dial_pct, 1)}</strong>,
                    <strong class="whitespace-nowrap">{hours(level.setting.hours)}</strong>
                    <div class="quiet">
                      {hang(level.setting.height_cm, unit)} above the tops, {windowsWords(
                        level.windows,
                      )}{groupsWords(level.groups) ? `; ${groupsWords(level.groups)}` : ""}
                    </div>
                    {#if level.above_dli > 0}
                      <div class="quiet">
                        {trim(level.above_dli, 1)} mol falls through from the level above.
                      </div>
                    {/if}
                  </td>
                  <td class="text-right">
                    <strong class:text-error={!level.fits}>{trim(level.outcome.dli, 1)}</strong>
                    {#if !level.fits}<div class="text-error">not every target</div>{/if}
                  </td>
                  <td class="text-right">{Math.round(level.watts)}</td>
                  <td class="text-right">{level.outcome.kwh_per_day.toFixed(2)}</td>
                  <td class="text-right whitespace-nowrap"
                    >{money(level.cost_per_day, level.currency)}</td
                  >
                {:else}
                  <td colspan="5" class={level.refused ? "text-error" : "quiet"}
                    >{level.refused || "Nothing planned here yet."}</td
                  >
                {/if}
                <td class="whitespace-nowrap">
                  {#if level.run_id !== null}
                    <button
                      class="btn btn-xs max-sm:min-h-11"
                      aria-label="Bench: {level.name}"
                      onclick={() => open(level, "/bench")}>Bench</button
                    >
                  {/if}
                  {#if !here}
                    <button
                      class="btn btn-xs max-sm:min-h-11"
                      aria-label="{level.run_id === null ? 'Plan here' : 'Look'}: {level.name}"
                      onclick={() => open(level, "/space")}
                      >{level.run_id === null ? "Plan here" : "Look"}</button
                    >
                  {/if}
                </td>
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
    </div>
    <p class="quiet mt-1 text-sm">
      As the plans stand today. Plugs, strips and drivers belong outside the damp, at most 80 % of
      the circuit's rating at once; a board carries pots, water and lamps together.
    </p>
  {/if}
</section>
