<script lang="ts">
  import { answer, client } from "../../api/client";
  import { garden } from "../../api/garden.svelte";
  import { account } from "../../api/grower.svelte";
  import { spaces } from "../../api/spaces.svelte";
  import { length } from "../../units/format";

  // the room each stage leaves is the server's to work out; it follows every kept change
  const asked = $derived(
    garden.run && garden.space && garden.crop
      ? { run: garden.run, space: garden.space, crop: garden.crop, fixture: garden.fixture }
      : null,
  );
  const rooms = $derived(
    asked
      ? answer(
          client.GET("/api/runs/{run_id}/headroom", { params: { path: { run_id: asked.run.id } } }),
        )
      : null,
  );
</script>

<div class="py-3 text-lg">
  <h1 class="sr-only">Space & crop</h1>
  {#if !spaces.present.length}
    <p>
      <strong>Start with a tape measure:</strong> width, depth and height of the space. Then pick a crop
      and a lamp above, and the bench answers.
    </p>
  {:else if !rooms}
    <p>Choose space, crop and lamp above to see how much room the plants leave.</p>
  {:else}
    {#await rooms}
      <p class="quiet">Working out the headroom…</p>
    {:then stages}
      <p>
        Room from the tops to the lamp:
        {#each stages as stage, i (stage.stage_id)}
          {i ? " · " : ""}{stage.name}
          <strong class:text-error={!stage.fits}
            >{length(Math.max(stage.highest_cm, 0), account.unit)}</strong
          >
          {#if !stage.fits}
            <span class="text-error">
              – {length(stage.missing_cm, account.unit)} too little: lower pots, a shorter crop or a flatter
              lamp
            </span>
          {/if}
        {/each}
      </p>
    {:catch error}
      <p class="text-error" role="alert">{error.message}</p>
    {/await}
  {/if}
</div>
