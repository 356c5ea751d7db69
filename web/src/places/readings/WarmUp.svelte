<script lang="ts">
  import type { Walk } from "./walk.svelte";

  let { walk }: { walk: Walk } = $props();

  const WARM_MIN = 30;
  let now = $state(Date.now());
  $effect(() => {
    const timer = setInterval(() => (now = Date.now()), 1000);
    return () => clearInterval(timer);
  });
  const left = $derived(
    walk.litAt === null ? null : Math.max(WARM_MIN * 60 - (now - walk.litAt) / 1000, 0),
  );
  const clock = $derived(
    left === null
      ? ""
      : `${Math.floor(left / 60)}:${String(Math.floor(left % 60)).padStart(2, "0")}`,
  );
</script>

{#if walk.warm === "waived"}
  <p class="quiet text-sm">
    Read without warming up: lamps give a little more while they are cold.
    <button class="link" onclick={() => walk.warmUp(null)}>Warm it up after all</button>
  </p>
{:else if left === null}
  <p class="text-sm">
    Has the lamp been on for {WARM_MIN} minutes?
    <button class="link" onclick={() => walk.warmUp(Date.now() - WARM_MIN * 60_000)}>Yes</button> ·
    <button class="link" onclick={() => walk.warmUp(Date.now())}>I switch it on now</button> ·
    <button class="link" onclick={() => walk.warmUp("waived")}>Read it cold</button>
  </p>
{:else if left > 0}
  <p class="text-sm" role="timer">
    Warming up: <strong>{clock}</strong> left.
    <button class="link" onclick={() => walk.warmUp("waived")}>Read it cold</button>
  </p>
{:else}
  <p class="quiet text-sm">The lamp is warm.</p>
{/if}
