<script lang="ts" generics="T extends Stand | Plot">
  import type { Plot, Stand } from "../../api/client";
  import Figure from "../../parts/form/Figure.svelte";

  interface Props {
    rows: T[];
    /** What one is called, the question it answers, and the field's name on the server. */
    noun: string;
    title: string;
    field: "stands" | "plots";
    /** A new one, given a third of the floor in the middle. */
    make: (x: number, y: number, w: number, d: number) => T;
    /** The space's sides in cm. */
    width: number;
    depth: number;
  }
  let { rows = $bindable(), noun, title, field, make, width, depth }: Props = $props();
  let gone = $state<{ at: number; row: T } | null>(null);

  const LABELS: Record<string, string> = {
    x_cm: "From left",
    y_cm: "From front",
    width_cm: "Wide",
    depth_cm: "Deep",
    raise_cm: "Lifts by",
  };

  function add(): void {
    const [w, d] = [Math.round(width / 3) || 30, Math.round(depth / 3) || 30];
    rows = [...rows, make(w, d, w, d)];
  }
  function set(i: number, column: string, value: number | null): void {
    rows = rows.map((row, k) => (k === i ? { ...row, [column]: value ?? NaN } : row));
  }
  function takeOut(i: number): void {
    const row = rows[i];
    if (row) gone = { at: i, row };
    rows = rows.filter((_, k) => k !== i);
  }
  function bringBack(): void {
    if (gone) rows = rows.toSpliced(gone.at, 0, gone.row);
    gone = null;
  }
</script>

<details open={rows.length > 0 || gone !== null}>
  <summary class="cursor-pointer">{title}</summary>
  <div class="mt-1 grid gap-2">
    {#each rows as row, i (i)}
      <div class="flex flex-wrap items-end gap-2" role="group" aria-label="{noun} {i + 1}">
        {#each Object.entries(row) as [column, value] (column)}
          <Figure
            narrow
            label={LABELS[column] ?? column}
            kind="length"
            bind:value={() => value as number, (v) => set(i, column, v)}
            name={`${field}.${i}.${column}`}
          />
        {/each}
        <button
          type="button"
          class="btn btn-sm btn-ghost max-sm:min-h-11"
          aria-label="Take out {noun.toLowerCase()} {i + 1}"
          onclick={() => takeOut(i)}>Take out</button
        >
      </div>
    {/each}
    {#if gone}
      <p role="status">
        The {noun.toLowerCase()} is taken out.
        <button type="button" class="btn btn-sm" onclick={bringBack}>Bring it back</button>
      </p>
    {/if}
    <div>
      <button type="button" class="btn btn-sm max-sm:min-h-11" onclick={add}
        >Add a {noun.toLowerCase()}</button
      >
    </div>
  </div>
</details>
