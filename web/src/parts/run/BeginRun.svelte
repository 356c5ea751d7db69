<script lang="ts">
  import type { Run } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { runs } from "../../api/runs.svelte";
  import Field from "../form/Field.svelte";
  import { attempt } from "../notice.svelte";

  let { run, begun }: { run: Run; begun?: () => void } = $props();
  let on = $derived(account.today);

  async function begin(): Promise<void> {
    if (await attempt(() => runs.begin(run.id, on))) begun?.();
  }
</script>

<p class="my-2 max-w-2xl">
  When plants are in, let the run begin. It stands on a copy of its own from then on, and what you
  do and see is kept here.
</p>
<div class="flex flex-wrap items-end gap-3">
  <div class="w-44"><Field type="date" label="It began on" name="on" bind:value={on} /></div>
  <button class="btn btn-primary max-sm:min-h-11" onclick={begin}>Begin the run</button>
</div>
