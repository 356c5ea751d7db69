<script lang="ts">
  import type { FullAutoFill } from "svelte/elements";

  interface Props {
    label: string;
    value: string;
    type?: "text" | "password";
    autocomplete?: FullAutoFill;
    error?: string | undefined;
    hint?: string | undefined;
  }
  let {
    label,
    value = $bindable(),
    type = "text",
    autocomplete = "off",
    error,
    hint,
  }: Props = $props();
  const id = $props.id();
</script>

<div class="grid content-start gap-0.5">
  <label class="quiet text-sm" for={id}>{label}</label>
  <input
    {id}
    {type}
    {autocomplete}
    bind:value
    class="input w-full max-sm:min-h-11"
    class:input-error={error}
    aria-invalid={Boolean(error)}
    aria-describedby={error || hint ? `${id}-more` : undefined}
  />
  {#if error}
    <p id="{id}-more" class="text-error text-sm" role="alert">{error}</p>
  {:else if hint}
    <p id="{id}-more" class="quiet text-sm">{hint}</p>
  {/if}
</div>
