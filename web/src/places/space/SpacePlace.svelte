<script lang="ts">
  import type { Space } from "../../api/client";
  import { crops } from "../../api/crops.svelte";
  import { garden } from "../../api/garden.svelte";
  import { racks } from "../../api/racks.svelte";
  import { spaces } from "../../api/spaces.svelte";
  import { attempt, notice } from "../../parts/notice.svelte";
  import PutAway from "../../parts/PutAway.svelte";
  import SpaceTabs from "../../parts/SpaceTabs.svelte";
  import { dayWords } from "../../units/format";
  import CropForm from "./CropForm.svelte";
  import Library from "./Library.svelte";
  import Headroom from "./Headroom.svelte";
  import RackForm from "./RackForm.svelte";
  import RackPanel from "./RackPanel.svelte";
  import SpaceForm from "./SpaceForm.svelte";

  let adding = $state<"no" | "space" | "rack">("no");

  async function putAway(space: Space): Promise<void> {
    if (await attempt(() => spaces.putAway(space.id, true)))
      notice.say(`${space.name} is put away; plans in it go on.`, () =>
        spaces.putAway(space.id, false),
      );
  }
  /** A space of its own, like this one; the open plan moves into it unless it has begun. */
  async function copy(from: Space): Promise<void> {
    await attempt(async () => {
      const made = await spaces.copy(from.id, `${from.name.slice(0, 73)} (copy)`);
      const moves = !garden.run?.begun_on;
      if (moves) await garden.choose({ space_id: made.id });
      notice.say(`${made.name} is made${moves ? ", and this plan stands in it" : ""}.`);
    });
  }
  const space = $derived(adding === "no" ? garden.space : null);
</script>

<SpaceTabs here="space" />
<Headroom />
{#if space?.rack_id}{#key space.rack_id}<RackPanel rackId={space.rack_id} />{/key}{/if}
{#if garden.run?.begun_on}
  <p class="pb-2" role="status">
    The open run stands on its own copy from {dayWords(garden.run.begun_on)}: what you change here
    is for the plans that come after it.
  </p>
{/if}
<div class="grid items-start gap-5 xl:grid-cols-[22rem_1fr]">
  <section class="bg-base-200 rounded-box p-4" aria-labelledby="space-title">
    <div class="mb-2 flex items-center justify-between">
      <h2 id="space-title" class="text-lg font-semibold">
        {space ? (space.rack_id === null ? "The space" : "This level") : "A new space"}
      </h2>
      {#if space}
        <button class="btn btn-sm btn-ghost" onclick={() => (adding = "space")}>Add another</button>
      {:else if spaces.present.length}
        <button class="btn btn-sm btn-ghost" onclick={() => (adding = "no")}>Back</button>
      {/if}
    </div>
    {#if !space}
      <div class="join mb-3" role="group" aria-label="What it is">
        <button
          class="btn join-item btn-sm max-sm:min-h-11"
          class:btn-neutral={adding !== "rack"}
          aria-pressed={adding !== "rack"}
          onclick={() => (adding = "space")}>Tent, cupboard, room</button
        >
        <button
          class="btn join-item btn-sm max-sm:min-h-11"
          class:btn-neutral={adding === "rack"}
          aria-pressed={adding === "rack"}
          onclick={() => (adding = "rack")}>Rack of shelves</button
        >
      </div>
    {/if}
    {#if adding === "rack"}
      <RackForm
        done={(rack) => {
          adding = "no";
          const lowest = rack.levels[0];
          if (lowest) garden.lookIn(lowest.id, null);
          globalThis.scrollTo({ top: 0 });
        }}
      />
    {:else}
      {#key `${space?.id} ${garden.turned}`}
        <SpaceForm {space} done={() => (adding = "no")} />
      {/key}
    {/if}
    {#if space}
      <button class="btn btn-sm btn-ghost mt-2" onclick={() => copy(space)}>Copy this space</button>
    {/if}
    {#if space && space.rack_id === null}
      <button class="btn btn-sm btn-ghost mt-2" onclick={() => putAway(space)}
        >Put this space away</button
      >
    {/if}
    <PutAway
      noun="space"
      rows={spaces.away.filter((row) => !racks.away.some((rack) => rack.id === row.rack_id))}
      bringBack={(id) => spaces.putAway(id, false)}
    />
    <PutAway noun="rack" rows={racks.away} bringBack={(id) => racks.putAway(id, false)} />
  </section>
  <section class="bg-base-200 rounded-box p-4" aria-labelledby="crop-title">
    <div class="mb-2 flex flex-wrap items-end justify-between gap-2">
      <h2 id="crop-title" class="text-lg font-semibold">The crop and its stages</h2>
      <Library />
    </div>
    {#if garden.crop}
      {#key `${garden.crop.id} ${garden.turned}`}
        <CropForm crop={garden.crop} />
      {/key}
    {:else}
      <p class="quiet">Choose a crop above to see its stages.</p>
    {/if}
    <PutAway noun="crop" rows={crops.away} bringBack={(id) => crops.putAway(id, false)} />
  </section>
</div>
