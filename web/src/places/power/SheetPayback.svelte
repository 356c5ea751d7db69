<script lang="ts">
  import type { Sheet } from "../../api/client";
  import { asRefusal } from "../../api/client";
  import { garden } from "../../api/garden.svelte";
  import Figure from "../../parts/form/Figure.svelte";
  import { money } from "../../units/format";
  import { liningName } from "../../words/linings";
  import type { PowerState } from "./power.svelte";

  interface Props {
    desk: PowerState;
    runId: number;
    price: number | null;
  }
  let { desk, runId, price }: Props = $props();

  let asked = $derived<number | null>(price);
  let found = $state.raw<Sheet[] | null>(null);
  let sentence = $state("");
  let busy = $state(false);
  const currency = $derived(desk.power?.currency ?? "");

  async function reckon(): Promise<void> {
    if (asked === null || Number.isNaN(asked)) return;
    busy = true;
    try {
      [found, sentence] = [await desk.sheets(runId, garden.stageId, asked), ""];
    } catch (error) {
      sentence = asRefusal(error).message;
    }
    busy = false;
  }
</script>

<form
  class="flex flex-wrap items-end gap-2"
  onsubmit={(event) => {
    event.preventDefault();
    void reckon();
  }}
>
  <Figure narrow label="A reflective sheet costs" unit={currency} bind:value={asked} />
  <button class="btn btn-sm mb-1 max-sm:min-h-11" disabled={busy}>In how many days it pays</button>
</form>
<div aria-live="polite">
  {#if busy}<p class="quiet" role="status">Lining the walls…</p>{/if}
  {#if sentence}<p class="text-error">{sentence}</p>{/if}
  {#if found && !found.length}<p>No lining there is sends back more than these walls do.</p>{/if}
  {#if found?.length}
    <ul class="list-disc pl-5">
      {#each found as each (each.lining)}
        <li>
          {liningName(each.lining)}: {each.days === null
            ? "saves nothing here"
            : `${money(each.saved_per_day, currency)} a day, paid back in ${Math.ceil(each.days)} lit days`}
        </li>
      {/each}
    </ul>
  {/if}
</div>
