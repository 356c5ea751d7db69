<script lang="ts">
  import type { FitsHere } from "../../api/client";
  import { fits } from "../../api/readings.svelte";
  import { attempt } from "../../parts/notice.svelte";
  import { SENSOR_WORDS } from "../../words/fits";

  interface Props {
    runId: number;
    here: FitsHere;
    seen: number | null;
    see: (fitId: number) => void;
  }
  let { runId, here, seen, see }: Props = $props();

  const choose = (id: number | null): Promise<boolean> => attempt(() => fits.choose(runId, id));
</script>

<section class="bg-base-200 rounded-box p-4" aria-label="Fits of this tent">
  <h2 class="font-semibold">What this tent is planned by</h2>
  <ul class="mt-1 grid gap-1">
    <li class="flex flex-wrap items-center gap-x-3">
      <span class="min-w-0 flex-1" class:font-semibold={here.in_use === null}
        >The lamp's record alone{here.in_use === null ? ", in use" : ""}</span
      >
      {#if here.in_use !== null}
        <button class="btn btn-sm max-sm:min-h-11" onclick={() => choose(null)}
          >Plan by the record</button
        >
      {/if}
    </li>
    {#each here.fits as row (row.id)}
      <li class="flex flex-wrap items-center gap-x-3">
        <span class="min-w-0 flex-1" class:font-semibold={row.in_use}
          >{row.readings} reading{row.readings === 1 ? "" : "s"} of {row.read_on}
          <span class="quiet"
            >{SENSOR_WORDS[row.sensor]}; {row.lamps.join(", ")}{row.note
              ? `; ${row.note}`
              : ""}</span
          >{row.in_use ? ", in use" : ""}</span
        >
        <button
          class="btn btn-sm btn-ghost max-sm:min-h-11"
          aria-pressed={seen === row.id}
          onclick={() => see(row.id)}>Look at it</button
        >
        {#if !row.in_use}
          <button class="btn btn-sm max-sm:min-h-11" onclick={() => choose(row.id)}
            >Plan by this<span class="sr-only">, of {row.read_on}</span></button
          >
        {/if}
      </li>
    {/each}
  </ul>
</section>
