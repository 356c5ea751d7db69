<script lang="ts" generics="T extends string | number">
  interface Props {
    label: string;
    value: T;
    options: { value: T; label: string }[];
    error?: string | undefined;
    hint?: string | undefined;
    small?: boolean;
  }
  let { label, value = $bindable(), options, error, hint, small = false }: Props = $props();
  const id = $props.id();
</script>

<div class="grid content-start gap-0.5">
  <label class="quiet text-sm" for={id}>{label}</label>
  <select
    {id}
    class="select w-full max-sm:min-h-11"
    class:select-sm={small}
    bind:value
    aria-invalid={Boolean(error)}
  >
    {#each options as option (option.value)}
      <option value={option.value}>{option.label}</option>
    {/each}
  </select>
  {#if error}
    <p class="text-error text-sm" role="alert">{error}</p>
  {:else if hint}
    <p class="quiet text-sm">{hint}</p>
  {/if}
</div>
