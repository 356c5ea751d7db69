<script lang="ts" generics="T extends object">
  import type { Form } from "./form.svelte";
  import { differing, pathWords, together, valueWords } from "./elsewhere";

  type Tree = Record<string, unknown>;
  interface Props {
    form: Form;
    /** The row as it was when this form began. */
    began: T;
    mine: T;
    /** Take the form as it was put together; it began with what is there now. */
    take: (together: T, began: T) => void;
  }
  let { form, began, mine, take }: Props = $props();

  $effect(() => {
    form.settles = true;
    return () => (form.settles = false);
  });
  const theirs = $derived((form.refused?.present ?? null) as Tree | null);
  const rows = $derived(
    theirs ? differing(began as Tree, $state.snapshot(mine) as Tree, theirs) : [],
  );
  /** Which fields are taken from there; those nobody touched here, unless it is said otherwise. */
  let chosen = $state<Record<string, boolean>>({});
  const there = (path: string, both: boolean): boolean => chosen[path] ?? !both;

  function put(): void {
    const now = theirs;
    if (!now) return;
    const paths = rows.filter((row) => there(row.path, row.both)).map((row) => row.path);
    const made = together($state.snapshot(mine) as Tree, now, paths);
    form.refused = null;
    chosen = {};
    take(made as T, now as T);
  }
</script>

{#if theirs}
  <section class="border-warning grid gap-2 border-l-4 pl-3" aria-labelledby="elsewhere-title">
    <h3 id="elsewhere-title" class="font-semibold">Changed elsewhere meanwhile</h3>
    {#if rows.length}
      <ul class="grid gap-2">
        {#each rows as row (row.path)}
          {@const name = pathWords(row.path, [theirs, mine as Tree, began as Tree])}
          <li class="flex flex-wrap items-center gap-2">
            <span class="min-w-32">{name}</span>
            <div class="join" role="group" aria-label={name}>
              <button
                type="button"
                class="btn join-item btn-sm max-sm:min-h-11"
                class:btn-neutral={!there(row.path, row.both)}
                aria-pressed={!there(row.path, row.both)}
                onclick={() => (chosen[row.path] = false)}>here: {valueWords(row.mine)}</button
              >
              <button
                type="button"
                class="btn join-item btn-sm max-sm:min-h-11"
                class:btn-neutral={there(row.path, row.both)}
                aria-pressed={there(row.path, row.both)}
                onclick={() => (chosen[row.path] = true)}>there: {valueWords(row.theirs)}</button
              >
            </div>
          </li>
        {/each}
      </ul>
      <p class="quiet">
        What you did not touch is taken from there. Nothing is kept until you keep it.
      </p>
    {:else}
      <p>Nothing of what this form has differs.</p>
    {/if}
    <div>
      <button type="button" class="btn btn-sm btn-primary max-sm:min-h-11" onclick={put}
        >Put it together so</button
      >
    </div>
  </section>
{/if}
