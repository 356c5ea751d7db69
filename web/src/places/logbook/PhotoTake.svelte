<script lang="ts">
  import { asRefusal } from "../../api/client";
  import { log } from "../../api/logbook.svelte";
  import { keepPhoto } from "../../api/photos";
  import { notice } from "../../parts/notice.svelte";

  let { runId }: { runId: number } = $props();
  const id = $props.id();
  let note = $state("");
  let sending = $state(false);
  let refused = $state("");
  let field = $state<HTMLInputElement | null>(null);

  async function take(event: Event & { currentTarget: HTMLInputElement }): Promise<void> {
    const file = event.currentTarget.files?.[0];
    if (!file) return;
    [sending, refused] = [true, ""];
    try {
      await keepPhoto(runId, file, note.trim());
      note = "";
      notice.say("The photo is kept, without the place where it was taken.");
      await log.load(runId).catch(() => undefined);
    } catch (error) {
      refused = asRefusal(error).message;
    }
    sending = false;
    if (field) field.value = "";
  }
</script>

<div class="grid gap-2 sm:grid-cols-2">
  <label class="grid gap-0.5">
    <span class="quiet text-sm">Words for the photo, if wanted</span>
    <input class="input w-full max-sm:min-h-11" maxlength="300" bind:value={note} />
  </label>
  <div class="grid gap-0.5">
    <label class="quiet text-sm" for={id}>Photo</label>
    <input
      {id}
      bind:this={field}
      type="file"
      accept="image/jpeg,image/png,image/webp"
      class="file-input w-full max-sm:min-h-11"
      disabled={sending}
      onchange={take}
      aria-describedby="{id}-more"
    />
  </div>
  <p id="{id}-more" class="text-sm sm:col-span-2" role="status">
    {#if sending}Sending it…{:else if refused}<span class="text-error">{refused}</span>{/if}
  </p>
</div>
