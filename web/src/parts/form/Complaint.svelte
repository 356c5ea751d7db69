<script lang="ts">
  import { useField } from "./form.svelte";

  // a part of a form that is no single field: what is said of the whole of it
  let { name }: { name: string } = $props();
  const field = useField(() => name);
</script>

{#if field.error}<p class="text-error" role="alert">{field.error}</p>{/if}
