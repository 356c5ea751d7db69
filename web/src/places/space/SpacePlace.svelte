<script lang="ts">
  import { garden } from "../../api/garden.svelte";
  import CropForm from "./CropForm.svelte";
  import Library from "./Library.svelte";
  import Headroom from "./Headroom.svelte";
  import SpaceForm from "./SpaceForm.svelte";

  let adding = $state(false);
  const space = $derived(adding ? null : garden.space);
</script>

<Headroom />
<div class="grid items-start gap-5 xl:grid-cols-[22rem_1fr]">
  <section class="bg-base-200 rounded-box p-4" aria-labelledby="space-title">
    <div class="mb-2 flex items-center justify-between">
      <h2 id="space-title" class="text-lg font-semibold">
        {space ? "The space" : "A new space"}
      </h2>
      {#if space}
        <button class="btn btn-sm btn-ghost" onclick={() => (adding = true)}>Add another</button>
      {:else if garden.spaces.length}
        <button class="btn btn-sm btn-ghost" onclick={() => (adding = false)}>Back</button>
      {/if}
    </div>
    {#key space?.id}
      <SpaceForm {space} done={() => (adding = false)} />
    {/key}
  </section>
  <section class="bg-base-200 rounded-box p-4" aria-labelledby="crop-title">
    <div class="mb-2 flex flex-wrap items-end justify-between gap-2">
      <h2 id="crop-title" class="text-lg font-semibold">The crop and its stages</h2>
      <Library />
    </div>
    {#if garden.crop}
      {#key garden.crop.id}
        <CropForm crop={garden.crop} />
      {/key}
    {:else}
      <p class="quiet">Choose a crop above to see its stages.</p>
    {/if}
  </section>
</div>
