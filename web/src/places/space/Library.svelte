<script lang="ts">
  import { asRefusal, type LibraryCrop } from "../../api/client";
  import { crops } from "../../api/crops.svelte";
  import { garden } from "../../api/garden.svelte";

  let shelf = $state<LibraryCrop[]>([]);
  let chosen = $state("");
  let sentence = $state("");
  const id = $props.id();
  const groups = $derived([...new Set(shelf.map((crop) => crop.group))]);

  async function look(): Promise<void> {
    if (shelf.length) return;
    try {
      shelf = await crops.library();
    } catch (error) {
      sentence = asRefusal(error).message;
    }
  }

  /** A copy of one's own; the shipped crop stays as it is. */
  async function copy(): Promise<void> {
    const crop = shelf.find((c) => c.name === chosen);
    if (!crop) return;
    try {
      const { group: _, ...body } = crop;
      const saved = await crops.save(null, body);
      await garden.choose({ crop_id: saved.id });
      sentence = "";
    } catch (error) {
      sentence = asRefusal(error).message;
    }
  }
  void look();
</script>

<div class="flex flex-wrap items-end gap-2">
  <div class="grid gap-0.5">
    <label class="quiet text-sm" for={id}>From the library</label>
    <select {id} class="select select-sm w-56 max-sm:min-h-11" bind:value={chosen}>
      <option value="">Choose a crop</option>
      {#each groups as group (group)}
        <optgroup label={group}>
          {#each shelf.filter((crop) => crop.group === group) as crop (crop.name)}
            <option value={crop.name}>{crop.name}</option>
          {/each}
        </optgroup>
      {/each}
    </select>
  </div>
  <button class="btn btn-sm max-sm:min-h-11" disabled={!chosen} onclick={copy}>Take a copy</button>
  {#if sentence}<p class="text-error" role="alert">{sentence}</p>{/if}
</div>
