<script lang="ts">
  import FieldNote from "./FieldNote.svelte";
  import { useField } from "./form.svelte";

  interface Props {
    label: string;
    accept: string;
    /** Called with the file's name and its text; its bytes are in the file itself. */
    read: (name: string, text: string, file: File) => void;
    /** The field's name on the server: what is said of it stands here. */
    name?: string | string[];
    /** What is said of it outside a form. */
    error?: string | undefined;
    hint?: string | undefined;
  }
  let { label, accept, read, name, error, hint }: Props = $props();
  const id = $props.id();
  const field = useField(() => name);
  const wrong = $derived(error || field.error);

  /** A file chosen again, perhaps changed since, is read again: browsers tell of other files only. */
  function again(event: Event & { currentTarget: HTMLInputElement }): void {
    event.currentTarget.value = "";
  }
  async function chosen(event: Event & { currentTarget: HTMLInputElement }): Promise<void> {
    const file = event.currentTarget.files?.[0];
    if (file) read(file.name, await file.text(), file);
  }
</script>

<div class="grid content-start gap-0.5">
  <label class="quiet text-sm" for={id}>{label}</label>
  <input
    {id}
    type="file"
    {accept}
    class="file-input w-full max-sm:min-h-11"
    onclick={again}
    onchange={chosen}
    aria-invalid={Boolean(wrong)}
    aria-describedby={wrong || hint ? `${id}-more` : undefined}
  />
  <FieldNote id="{id}-more" error={wrong} {hint} />
</div>
