<script lang="ts">
  import type { Run } from "../../api/client";
  import { garden } from "../../api/garden.svelte";
  import { account } from "../../api/grower.svelte";
  import { runs } from "../../api/runs.svelte";
  import Field from "../form/Field.svelte";
  import { attempt, notice } from "../notice.svelte";

  // another plan for a run under way; the one it had stays to be seen
  let { run, done }: { run: Run; done?: () => void } = $props();
  const id = $props.id();
  let on = $derived(account.today);
  let by = $state("");
  /** Plans that have not begun, of the same crop: tried out beside it. */
  const others = $derived(
    runs.present.filter((other) => !other.begun_on && other.crop_id === run.crop_id),
  );

  async function plan(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    if (await attempt(() => runs.planAnew(run.id, on, by ? Number(by) : null))) {
      notice.say("Planned anew. The plan before it stays in the season's picture.");
      done?.();
    }
  }
</script>

<form class="flex flex-wrap items-end gap-2" aria-label="Plan anew" onsubmit={plan} novalidate>
  <div class="w-40"><Field small type="date" label="From" name="on" bind:value={on} /></div>
  <div class="grid gap-0.5">
    <label class="quiet text-sm" for="{id}-by">By</label>
    <select id="{id}-by" class="select select-sm w-64 max-sm:min-h-11" bind:value={by}>
      <option value="">its space, crop and lamp as they are now</option>
      {#each others as other (other.id)}
        <option value={String(other.id)}>{garden.nameOf(other)}</option>
      {/each}
    </select>
  </div>
  <button class="btn btn-sm btn-primary max-sm:min-h-11">Plan anew</button>
</form>
