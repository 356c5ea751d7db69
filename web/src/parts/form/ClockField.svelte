<script lang="ts">
  import { clock } from "../../units/format";

  interface Props {
    label: string;
    /** Minutes after midnight. */
    value: number;
    error?: string | undefined;
  }
  let { label, value = $bindable(), error }: Props = $props();
  const id = $props.id();

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
    aria-invalid={Boolean(error)}
  />
  {#if error}<p class="text-error text-sm" role="alert">{error}</p>{/if}
</div>
