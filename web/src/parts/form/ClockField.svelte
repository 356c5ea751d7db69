<script lang="ts">
  import { clock } from "../../units/format";
  import FieldNote from "./FieldNote.svelte";
  import { useField } from "./form.svelte";

  interface Props {
    label: string;
    /** Minutes after midnight. */
    value: number;
    /** The field's name on the server: what is said of it stands here. */
    name?: string;
  }
  let { label, value = $bindable(), name }: Props = $props();
  const id = $props.id();
  const field = useField(() => name);

  function read(event: Event & { currentTarget: HTMLInputElement }): void {
    const [hour, minute] = event.currentTarget.value.split(":").map(Number);
    if (hour !== undefined && minute !== undefined && !Number.isNaN(hour + minute))
      value = hour * 60 + minute;
  }
</script>

<div class="grid content-start gap-0.5">
  <label class="quiet text-sm whitespace-nowrap" for={id}>{label}</label>
  <input
    {id}
    type="time"
    class="input input-sm w-32 max-sm:min-h-11"
    value={clock(value)}
    onchange={read}
    aria-invalid={Boolean(field.error)}
    aria-describedby={field.error ? `${id}-more` : undefined}
  />
  <FieldNote id="{id}-more" error={field.error} />
</div>
