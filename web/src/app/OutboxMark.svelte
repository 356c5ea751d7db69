<script lang="ts">
  import { outbox } from "../api/outbox.svelte";
  import { notice } from "../parts/notice.svelte";

  const things = (count: number): string => (count === 1 ? "1 entry" : `${count} entries`);
</script>

{#if outbox.signedOut}
  <p class="mark" role="status">
    You were signed out. {things(outbox.waiting)} wait on this device and are sent once you
    <button class="link" onclick={() => location.reload()}>sign in again</button>.
  </p>
{:else if outbox.away && outbox.waiting}
  <p class="mark" role="status">
    No signal: {things(outbox.waiting)}
    {outbox.waiting === 1 ? "waits" : "wait"} on this device.
  </p>
{/if}
{#if outbox.full}
  <p class="mark" role="alert">
    This device has no room to keep what you enter: stay on this page until it is sent.
  </p>
{/if}
{#if outbox.refused.length}
  <p class="mark" role="alert">
    {things(outbox.refused.length)} could not be kept: {outbox.refused[0]?.refused}
    <button class="link" onclick={() => outbox.retry()}>Try again</button>
    <button class="link" onclick={() => notice.say("Thrown away.", outbox.discard())}
      >Throw away</button
    >
  </p>
{/if}

<style>
  .mark {
    background: var(--color-base-200);
    border-left: 4px solid var(--color-warning);
    padding: 0.25rem 1rem;
  }
</style>
