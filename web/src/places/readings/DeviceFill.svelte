<script lang="ts">
  import { untrack } from "svelte";

  import type { Device, HandIn } from "../../api/client";
  import { devices } from "../../api/devices.svelte";
  import { every } from "../../parts/live/every";
  import { settled, type Shown, taken } from "../../parts/live/settled";
  import { percent } from "../../units/format";

  interface Props {
    here: Device[];
    /** A lux meter is read with, so that lux are asked for. */
    lux: boolean;
    /** Which spot is next, and how it is lit: what was shown at the one before is not of it. */
    hand: HandIn;
    take: (value: number, spread: number) => void;
  }
  let { here, lux, hand, take }: Props = $props();

  const quantity = $derived(lux ? "illuminance" : "ppfd");
  const sensors = $derived(
    here.filter((device) => device.series.some((series) => series.quantity === quantity)),
  );
  const simulated = $derived(sensors.some((device) => device.simulated));
  const spot = $derived(JSON.stringify(hand));
  /** What each has shown in the last seconds, at this spot. */
  let shown = $state<Record<number, Shown[]>>({});
  /** The last each had shown when this spot was reached, by its own clock. */
  let before: Record<number, number> = {};

  const seriesOf = (id: number) =>
    devices.of(id)?.series.find((each) => each.quantity === quantity);
  const lastAt = (id: number): number => Date.parse(seriesOf(id)?.at ?? "") || 0;

  // compared by value: the list is loaded anew with every look
  const ids = $derived(sensors.map(({ id }) => id).join(" "));
  $effect(() => {
    void spot;
    untrack(() => {
      shown = {};
      before = Object.fromEntries(sensors.map(({ id }) => [id, lastAt(id)]));
    });
  });
  // a simulated sensor has no legs of its own
  $effect(() => {
    if (!simulated) return;
    const body = JSON.parse(spot) as HandIn;
    return every(30, () => devices.carry(body));
  });
  $effect(() => {
    if (!ids) return;
    const rows = ids.split(" ").map(Number);
    return every(simulated ? 1 : 2, async () => {
      await devices.load();
      for (const id of rows) {
        const now = seriesOf(id);
        const at = lastAt(id);
        // what was there before this spot was reached is of another
        if (now?.value == null || at <= (before[id] ?? 0)) continue;
        shown = { ...shown, [id]: taken(shown[id] ?? [], { at, value: now.value }) };
      }
    });
  });
</script>

{#each sensors as device (device.id)}
  {@const now = settled(shown[device.id] ?? [])}
  <div class="flex flex-wrap items-center gap-2" aria-live="polite">
    <span class="min-w-0 flex-1">
      <strong>{device.name}</strong>{device.simulated ? " (simulated)" : ""}
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
      onclick={() => now && take(Math.round(now.mean * 10) / 10, now.spread)}
      >Take {now ? Math.round(now.mean) : "it"}</button
    >
  </div>
{/each}
