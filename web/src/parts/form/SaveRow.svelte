<script lang="ts">
  import type { Sending } from "./sending.svelte";

  let { sending, label = "Keep" }: { sending: Sending; label?: string } = $props();
</script>

<div class="flex flex-wrap items-center gap-3">
  <button class="btn btn-primary max-sm:min-h-11" disabled={sending.busy}>{label}</button>
  {#if sending.busy}
    <span class="quiet" role="status">Keeping…</span>
  {:else if sending.kept}
    <span class="text-success" role="status">Kept.</span>
  {:else if sending.general}
    <span class="text-error" role="alert">{sending.general}</span>
  {/if}
</div>
