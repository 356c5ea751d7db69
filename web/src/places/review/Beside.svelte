<script lang="ts">
  import { asRefusal, type Review, type Run } from "../../api/client";
  import { garden } from "../../api/garden.svelte";
  import { reviewOf } from "../../api/review";
  import { runs } from "../../api/runs.svelte";
  import { besideRows } from "./sums";

  // another run's sums beside this one's
  let { run, review }: { run: Run; review: Review } = $props();
  const id = $props.id();
  const others = $derived(runs.present.filter((each) => each.begun_on && each.id !== run.id));
  let chosen = $state<number | null>(null);
  const other = $derived(others.find((each) => each.id === chosen) ?? null);
  const asked = $derived(other ? reviewOf(other.id) : null);
</script>

{#if others.length}
  <section class="bg-base-200 rounded-box p-4" aria-label="Two runs">
    <div class="flex flex-wrap items-center gap-2">
      <h2 class="font-semibold"><label for={id}>Beside another run</label></h2>
      <select {id} class="select select-sm w-72 max-sm:min-h-11" bind:value={chosen}>
        <option value={null}>Choose one…</option>
        {#each others as each (each.id)}
          <option value={each.id}>{garden.nameOf(each)}</option>
        {/each}
      </select>
    </div>
    {#if asked && other}
      {#await asked}
        <p class="quiet" role="status">Looking back on it…</p>
      {:then found}
        {#if found}
          {@const [mine, theirs] = [besideRows(review), besideRows(found)]}
          <div class="overflow-x-auto">
            <table class="table-sm table w-auto">
              <thead>
                <tr>
                  <td></td>
                  <th scope="col">{garden.nameOf(run)}</th>
                  <th scope="col">{garden.nameOf(other)}</th>
                </tr>
              </thead>
              <tbody>
                {#each mine as row, i (row.label)}
                  <tr>
                    <th scope="row" class="font-normal">{row.label}</th>
                    <td>{row.value}</td>
                    <td>{theirs[i]?.value}</td>
                  </tr>
                {/each}
              </tbody>
            </table>
          </div>
        {:else}
          <p>Nothing was kept of how its lamp stood.</p>
        {/if}
      {:catch error}
        <p role="alert">{asRefusal(error).message}</p>
      {/await}
    {/if}
  </section>
{/if}
