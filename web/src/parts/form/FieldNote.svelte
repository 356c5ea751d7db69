<script lang="ts">
  interface Props {
    id: string;
    error?: string | undefined;
    hint?: string | undefined;
  }
  let { id, error, hint }: Props = $props();
</script>

{#if error}
  <p {id} class="text-error text-sm" role="alert">{error}</p>
{:else if hint}
  <p {id} class="quiet text-sm">{hint}</p>
{/if}
