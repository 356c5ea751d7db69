<script lang="ts">
  import type { FullAutoFill } from "svelte/elements";

  import FieldNote from "./FieldNote.svelte";
  import { useField } from "./form.svelte";

  interface Props {
    label: string;
    value: string;
    /** The field's name on the server: what is said of it stands here. */
    name?: string;
    type?: "text" | "password" | "date";
    autocomplete?: FullAutoFill;
    hint?: string | undefined;
    small?: boolean;
  }
  let {
    label,
    value = $bindable(),
    name,
    type = "text",
    autocomplete = "off",
    hint,
    small = false,
  }: Props = $props();
  const id = $props.id();
  const field = useField(() => name);
</script>

<div class="grid content-start gap-0.5">
  <label class="quiet text-sm" for={id}>{label}</label>
  <input
    {id}
    {type}
    {autocomplete}
    bind:value
    class="input w-full max-sm:min-h-11"
    class:input-sm={small}
    class:input-error={field.error}
    aria-invalid={Boolean(field.error)}
    aria-describedby={field.error || hint ? `${id}-more` : undefined}
  />
  <FieldNote id="{id}-more" error={field.error} {hint} />
</div>
