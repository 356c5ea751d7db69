<script lang="ts">
  import type { Device } from "../../api/client";
  import { devices } from "../../api/devices.svelte";
  import { every } from "../../parts/live/every";
  import { settled, type Shown, taken } from "../../parts/live/settled";
  import { percent } from "../../units/format";

  interface Props {
    here: Device[];
    /** A lux meter is read with, so that lux are asked for. */
    lux: boolean;
    /** Which spot is next: what was shown at the one before is not of it. */
    at: number;
    take: (value: number) => void;
  }
  let { here, lux, at, take }: Props = $props();

  const quantity = $derived(lux ? "illuminance" : "ppfd");
  const sensors = $derived(
    here.filter((device) => device.series.some((series) => series.quantity === quantity)),
  );
  /** What each has shown in the last seconds, at this spot. */
  let shown = $state<Record<number, Shown[]>>({});
  let since = 0;

  $effect(() => {
    void at;
    shown = {};
    since = Date.now();
  });
  $effect(() => {
    if (!sensors.length) return;
    return every(2, async () => {
      await devices.load();
      for (const device of sensors) {
        const now = devices.of(device.id)?.series.find((each) => each.quantity === quantity);
        if (!now?.at || now.value === null) continue;
        const when = Date.parse(now.at);
        // a reading that was there before this spot was reached is of another
        if (when < since - 5000) continue;
        shown = {
          ...shown,
          [device.id]: taken(shown[device.id] ?? [], { at: when, value: now.value }),
        };
      }
    });
  });
</script>

{#each sensors as device (device.id)}
  {@const now = settled(shown[device.id] ?? [])}
  <div class="flex flex-wrap items-center gap-2" aria-live="polite">
    <span class="min-w-0 flex-1">
      <strong>{device.name}</strong>
      {#if !now}
        <span class="quiet">has shown nothing at this spot yet</span>
      {:else if now.steady}
        shows <strong>{Math.round(now.mean)}</strong>, steady to {percent(now.spread)}
      {:else}
        shows {Math.round(now.mean)}, <span class="quiet">still moving</span>
      {/if}
    </span>
    <button
      class="btn bg-base-100 max-sm:min-h-12"
      disabled={!now?.steady}
      onclick={() => now && take(Math.round(now.mean * 10) / 10)}
      >Take {now ? Math.round(now.mean) : "it"}</button
    >
  </div>
{/each}
