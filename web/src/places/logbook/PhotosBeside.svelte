<script lang="ts">
  import type { LogEntry } from "../../api/client";
  import { photoOf } from "../../api/photos";
  import { dayOfRun } from "../../parts/season/picture";

  // photographs over time: two of them beside each other
  let { entries, begun }: { entries: LogEntry[]; begun: string } = $props();
  const photos = $derived(entries.filter((entry) => entry.kind === "photo").toReversed());
  let left = $state<string | null>(null);
  let right = $state<string | null>(null);
  const first = $derived(photos.find((each) => each.key === left) ?? photos[0]);
  const second = $derived(
    photos.find((each) => each.key === right) ?? (photos.length > 1 ? photos.at(-1) : undefined),
  );
  const called = (entry: LogEntry): string =>
    `Day ${dayOfRun(begun, entry.at) + 1}${entry.text ? `: ${entry.text}` : ""}`;
</script>

{#if first}
  <section class="bg-base-200 rounded-box grid gap-2 p-4" aria-label="Photos over time">
    <h2 class="font-semibold">Photos over time</h2>
    <div class="grid gap-3 sm:grid-cols-2">
      {#each [first, second] as entry, i (i)}
        {#if entry}
          <figure class="grid content-start gap-1">
            <a href={photoOf(entry)} target="_blank" rel="noreferrer"
              ><img
                src={photoOf(entry)}
                alt={called(entry)}
                loading="lazy"
                class="rounded-box"
              /></a
            >
            {#if photos.length > 1}
              <select
                class="select select-sm w-full max-sm:min-h-11"
                aria-label={i ? "The later photo" : "The earlier photo"}
                bind:value={() => entry.key, (key) => (i ? (right = key) : (left = key))}
              >
                {#each photos as each (each.key)}<option value={each.key}>{called(each)}</option
                  >{/each}
              </select>
            {:else}<figcaption>{called(entry)}</figcaption>{/if}
          </figure>
        {/if}
      {/each}
    </div>
  </section>
{/if}

<style>
  img {
    width: 100%;
    max-height: 22rem;
    object-fit: contain;
    background: var(--color-base-300);
  }
</style>
