<script lang="ts">
  import { attempt } from "./notice.svelte";

  interface Props {
    /** What one of them is called: "space", "lamp". */
    noun: string;
    rows: { id: number; name: string }[];
    bringBack: (id: number) => Promise<unknown>;
  }
  let { noun, rows, bringBack }: Props = $props();
</script>

{#if rows.length}
  <details class="mt-2">
    <summary class="quiet cursor-pointer max-sm:min-h-11"
      >Put away: {rows.length} {noun}{rows.length === 1 ? "" : "s"}</summary
    >
    <ul class="mt-1 flex flex-wrap gap-x-4 gap-y-1">
      {#each rows as row (row.id)}
        <li class="flex items-center gap-2">
          {row.name}
          <button
            type="button"
            class="btn btn-sm max-sm:min-h-11"
            aria-label="Bring it back: {row.name}"
            onclick={() => attempt(() => bringBack(row.id))}>Bring it back</button
          >
        </li>
      {/each}
    </ul>
  </details>
{/if}
