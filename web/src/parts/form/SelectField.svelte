<script lang="ts" generics="T extends string | number">
  import FieldNote from "./FieldNote.svelte";
  import { useField } from "./form.svelte";

  interface Props {
    label: string;
    value: T;
    options: { value: T; label: string }[];
    /** The field's name on the server: what is said of it stands here. */
    name?: string;
    hint?: string | undefined;
    small?: boolean;
  }
  let { label, value = $bindable(), options, name, hint, small = false }: Props = $props();
  const id = $props.id();
  const field = useField(() => name);
</script>

<div class="grid content-start gap-0.5">
  <label class="quiet text-sm" for={id}>{label}</label>
  <select
    {id}
    class="select w-full max-sm:min-h-11"
    class:select-sm={small}
    bind:value
    aria-invalid={Boolean(field.error)}
    aria-describedby={field.error || hint ? `${id}-more` : undefined}
  >
    {#each options as option (option.value)}
      <option value={option.value}>{option.label}</option>
    {/each}
  </select>
  <FieldNote id="{id}-more" error={field.error} {hint} />
</div>
