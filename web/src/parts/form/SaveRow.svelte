<script lang="ts">
  import type { Form } from "./form.svelte";

  let { form, label = "Keep" }: { form: Form; label?: string } = $props();
</script>

{#if form.general}
  <p class="text-error" role={form.marked ? "status" : "alert"}>{form.general}</p>
{/if}
<div class="flex flex-wrap items-center gap-3">
  <button class="btn btn-primary max-sm:min-h-11" disabled={form.busy}>{label}</button>
  {#if form.busy}
    <span class="quiet" role="status">Keeping…</span>
  {:else if form.kept}
    <span class="text-success" role="status">Kept.</span>
  {/if}
</div>
