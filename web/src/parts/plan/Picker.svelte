<script lang="ts">
  interface Props {
    label: string;
    rows: { id: number; name: string }[];
    value: number | null;
    empty: string;
    href?: string;
    /** A begun run stands on its own copy: nothing else can be chosen. */
    settled?: boolean;
    /** It names more than one thing, and gets more room. */
    wide?: boolean;
    pick: (id: number) => unknown;
  }
  let { label, rows, value, empty, href, settled = false, wide = false, pick }: Props = $props();
  const id = $props.id();

  function changed(event: Event & { currentTarget: HTMLSelectElement }): void {
    const select = event.currentTarget;
    const chosen = Number(select.value);
    // a refused choice must not stay on show
    select.value = value === null ? "" : String(value);
    void pick(chosen);
  }
</script>

<div
  class={[
    "flex min-w-0 flex-1 items-center gap-2 max-sm:grid max-sm:basis-[45%] max-sm:gap-0 sm:min-w-36",
    wide && "sm:grow-[1.6]",
  ]}
>
  <label class="quiet text-sm whitespace-nowrap" for={id}>
    {#if value === null}
      <span class="text-accent font-semibold">Next:</span>
    {/if}
    {label}
  </label>
  {#if rows.length}
    <select
      {id}
      class="select select-sm w-full overflow-hidden pr-8 text-ellipsis max-sm:min-h-11"
      value={value === null ? "" : String(value)}
      onchange={changed}
      disabled={settled}
      title={settled ? "The run has begun with its own copy; copy it to try another." : undefined}
    >
      {#if value === null}<option value="" disabled>{empty}</option>{/if}
      {#each rows as row (row.id)}
        <option value={String(row.id)}>{row.name}</option>
      {/each}
    </select>
  {:else}
    <a {id} class="link flex h-8 items-center text-sm" {href}>{empty}</a>
  {/if}
</div>
