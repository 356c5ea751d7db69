<script lang="ts">
  import { circuits } from "../../api/circuits.svelte";
  import type { DeviceMade, Door } from "../../api/client";
  import { devices } from "../../api/devices.svelte";
  import { garden } from "../../api/garden.svelte";
  import { every } from "../../parts/live/every";
  import TodayMeasured from "../../parts/live/TodayMeasured.svelte";
  import { attempt } from "../../parts/notice.svelte";
  import PutAway from "../../parts/PutAway.svelte";
  import SpaceTabs from "../../parts/SpaceTabs.svelte";
  import BrokerCard from "./BrokerCard.svelte";
  import DeviceCard from "./DeviceCard.svelte";
  import DeviceForm from "./DeviceForm.svelte";
  import TokenCard from "./TokenCard.svelte";

  let door = $state.raw<Door | null>(null);
  let made = $state.raw<DeviceMade | null>(null);
  let adding = $state(false);
  let loaded = $state(false);
  let now = $state(Date.now());

  $effect(() => {
    void attempt(() => circuits.load());
  });
  $effect(() =>
    every(5, async () => {
      await devices.load();
      door = await devices.door();
      // as this server's clock has it: the browser's may be another
      now = Date.parse(door.now);
      loaded = true;
    }),
  );
  $effect(() => {
    const timer = setInterval(() => (now += 1000), 1000);
    return () => clearInterval(timer);
  });

  const here = $derived(
    garden.space
      ? devices.in(garden.space.id, [garden.fixture?.id ?? 0], garden.space.circuit_id)
      : [],
  );
  const elsewhere = $derived(devices.present.filter((device) => !here.includes(device)));
  const speaking = $derived(
    here.filter(
      (device) => device.heard_at !== null && now - Date.parse(device.heard_at) < 3_600_000,
    ).length,
  );
  const many = (count: number, noun: string): string => `${count} ${noun}${count === 1 ? "" : "s"}`;
  const toSee = $derived(
    devices.watched && devices.watched.run_id === garden.runId
      ? devices.watched.findings.filter((each) => !each.well).length
      : 0,
  );
  const answer = $derived.by(() => {
    if (!devices.present.length) return "Nothing reports yet";
    if (!here.length) return "No device belongs to this space yet";
    const all = speaking === here.length;
    const report = all
      ? `${here.length === 1 ? "The device reports" : `All ${here.length} devices report`}`
      : `${speaking} of ${many(here.length, "device")} reported within the hour`;
    return toSee ? `${report}; ${many(toSee, "thing")} to look at` : `${report}, and all is well`;
  });
</script>

<SpaceTabs here="devices" />
<div class="flex flex-wrap items-center gap-3 pb-3">
  <h1 class="text-2xl">
    <strong>{answer}.</strong>
  </h1>
  <button
    class="btn ml-auto max-sm:min-h-11"
    aria-expanded={adding}
    onclick={() => (adding = !adding)}>Add a device</button
  >
</div>
{#if adding}
  <section class="bg-base-200 rounded-box mb-4 p-4" aria-label="A new device">
    <DeviceForm device={null} made={(found) => (made = found)} done={() => (adding = false)} />
  </section>
{/if}
{#if made}
  <div class="mb-4">
    {#key made.token}<TokenCard {made} close={() => (made = null)} />{/key}
  </div>
{/if}
{#if loaded && !devices.present.length && !adding}
  <p class="max-w-2xl pb-4 text-lg">
    A plug-in watt meter, a timer, a thermometer or a light sensor can report what it reads: then
    today's watts stand beside the planned ones, and a lamp that stays dark is seen at once. Add
    one, copy its token into the device, and watch its first message arrive. Any device that can
    send a line of HTTP will do, or one that speaks MQTT.
  </p>
{/if}
<div class="grid gap-4">
  {#if garden.run}<TodayMeasured brief runId={garden.run.id} />{/if}
  <div
    class="grid grid-cols-[minmax(0,1fr)] items-start gap-4 xl:grid-cols-[repeat(2,minmax(0,1fr))]"
  >
    {#each here as device (device.id)}
      <DeviceCard {device} {now} runId={garden.run?.id ?? null} told={(found) => (made = found)} />
    {/each}
  </div>
  {#if elsewhere.length}
    <h2 class="text-xl font-semibold">Elsewhere</h2>
    <div
      class="grid grid-cols-[minmax(0,1fr)] items-start gap-4 xl:grid-cols-[repeat(2,minmax(0,1fr))]"
    >
      {#each elsewhere as device (device.id)}
        <DeviceCard {device} {now} runId={null} told={(found) => (made = found)} />
      {/each}
    </div>
  {/if}
  {#if door}<BrokerCard {door} {now} />{/if}
  {#if door?.strangers}
    <p class="quiet">
      {door.strangers} request{door.strangers === 1 ? "" : "s"} since this server started came with a
      token nobody knows: a device that was revoked, or a typing mistake.
    </p>
  {/if}
  <PutAway noun="device" rows={devices.away} bringBack={(id) => devices.putAway(id, false)} />
</div>
