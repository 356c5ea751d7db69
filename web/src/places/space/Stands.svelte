<script lang="ts">
  import type { Stand } from "../../api/client";
  import { garden } from "../../api/garden.svelte";
  import NumberField from "../../parts/form/NumberField.svelte";

  interface Props {
    stands: Stand[];
    /** The space's sides in cm. */
    width: number;
    depth: number;
    at: (field: string) => string | undefined;
  }
  let { stands = $bindable(), width, depth, at }: Props = $props();
  const unit = $derived(garden.unit);
  let gone = $state<{ at: number; stand: Stand } | null>(null);

  const COLUMNS = [
    { field: "x_cm", label: "From left" },
    { field: "y_cm", label: "From front" },
    { field: "width_cm", label: "Wide" },
    { field: "depth_cm", label: "Deep" },
    { field: "raise_cm", label: "Lifts by" },
  ] as const;

  /** A third of the floor in the middle, one brick high. */
  function add(): void {
    const [w, d] = [Math.round(width / 3) || 30, Math.round(depth / 3) || 30];
    stands = [...stands, { x_cm: w, y_cm: d, width_cm: w, depth_cm: d, raise_cm: 10 }];
  }
  function set(i: number, field: keyof Stand, value: number | null): void {
    stands = stands.map((s, k) => (k === i ? { ...s, [field]: value ?? NaN } : s));
  }
  function takeOut(i: number): void {
    const stand = stands[i];
    if (stand) gone = { at: i, stand };
    stands = stands.filter((_, k) => k !== i);
  }
  function bringBack(): void {
    if (gone) stands = stands.toSpliced(gone.at, 0, gone.stand);
    gone = null;
  }
</script>

<details open={stands.length > 0 || gone !== null}>
  <summary class="cursor-pointer">Steps that lift plants nearer to the lamp</summary>
  <div class="mt-1 grid gap-2">
    {#each stands as stand, i (i)}
      <div class="flex flex-wrap items-end gap-2" role="group" aria-label="Step {i + 1}">
        {#each COLUMNS as column (column.field)}
          <NumberField
            narrow
            label={column.label}
            length={unit}
            bind:value={() => stand[column.field], (v) => set(i, column.field, v)}
            error={at(`stands.${i}.${column.field}`)}
          />
        {/each}
        <button
          type="button"
          class="btn btn-sm btn-ghost max-sm:min-h-11"
          aria-label="Take out step {i + 1}"
          onclick={() => takeOut(i)}>Take out</button
        >
      </div>
    {/each}
    {#if gone}
      <p role="status">
        The step is taken out. <button type="button" class="btn btn-sm" onclick={bringBack}
          >Bring it back</button
        >
      </p>
    {/if}
    <div>
      <button type="button" class="btn btn-sm max-sm:min-h-11" onclick={add}>Add a step</button>
    </div>
  </div>
</details>
