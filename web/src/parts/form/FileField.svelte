<script lang="ts">
  interface Props {
    label: string;
    accept: string;
    /** Called with the file's name and its text; its bytes are in the file itself. */
    read: (name: string, text: string, file: File) => void;
    error?: string | undefined;
    hint?: string | undefined;
  }
  let { label, accept, read, error, hint }: Props = $props();
  const id = $props.id();

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
    onchange={chosen}
    aria-invalid={Boolean(error)}
    aria-describedby={error || hint ? `${id}-more` : undefined}
  />
  {#if error}
    <p id="{id}-more" class="text-error text-sm" role="alert">{error}</p>
  {:else if hint}
    <p id="{id}-more" class="quiet text-sm">{hint}</p>
  {/if}
</div>
