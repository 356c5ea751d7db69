<script lang="ts">
  let { waited, again }: { waited: boolean; again: () => void } = $props();
  let gone = $state(false);
</script>

{#if waited && !gone}
  <p role="status" class="flex flex-wrap items-center gap-2">
    What you typed before is here again, not kept yet.
    <button
      type="button"
      class="btn btn-sm"
      onclick={() => {
        gone = true;
        again();
      }}>Begin with what is kept</button
    >
  </p>
{/if}
