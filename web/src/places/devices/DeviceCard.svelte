<script lang="ts">
  import { circuits } from "../../api/circuits.svelte";
  import type { Device, DeviceCurve, DeviceMade, QuantityName } from "../../api/client";
  import { devices } from "../../api/devices.svelte";
  import { fixtures } from "../../api/fixtures.svelte";
  import { account } from "../../api/grower.svelte";
  import { spaces } from "../../api/spaces.svelte";
  import { every } from "../../parts/live/every";
  import SmallCurve from "../../parts/live/SmallCurve.svelte";
  import { attempt, notice } from "../../parts/notice.svelte";
  import { dayWords, trim } from "../../units/format";
  import { ago, figure, inOrder, KIND, QUANTITY } from "../../words/devices";
  import { worded } from "../../words/said";
  import DeviceForm from "./DeviceForm.svelte";
  import Schedule from "./Schedule.svelte";

  interface Props {
    device: Device;
    now: number;
    /** The plan whose times it may be sent; none where none is open in its space. */
    runId: number | null;
    told: (made: DeviceMade) => void;
  }
  let { device, now, runId, told }: Props = $props();
  const id = $props.id();

  const SPANS = [
    { hours: 3, label: "3 hours" },
    { hours: 24, label: "a day" },
    { hours: 24 * 30, label: "30 days" },
    { hours: 24 * 365, label: "a year" },
  ];
  let hours = $state(24);
  let picked = $state<string | null>(null);
  let curve = $state.raw<{ key: string; curve: DeviceCurve } | null>(null);
  let editing = $state(false);

  const series = $derived(inOrder(device.series));
  const channels = $derived(new Set(series.map((one) => one.channel)).size > 1);
  const keyOf = (one: { quantity: QuantityName; channel: number }): string =>
    `${one.quantity}-${one.channel}`;
  const shown = $derived(series.find((one) => keyOf(one) === picked) ?? series[0]);
  const wanted = $derived(shown ? `${shown.quantity} ${shown.channel} ${hours}` : "");
  $effect(() => {
    if (!wanted) return;
    const [quantity, channel, span] = wanted.split(" ");
    return every(30, async () => {
      const found = await devices.curve(
        device.id,
        quantity as QuantityName,
        Number(channel),
        Number(span),
      );
      curve = { key: wanted, curve: found };
    });
  });

  const belongs = $derived.by(() => {
    const lamp = fixtures.of(device.fixture_id);
    const piece = lamp?.pieces.find((row) => row.id === device.piece_id);
    return (
      spaces.of(device.space_id)?.name ??
      (lamp ? [lamp.name, piece?.name].filter(Boolean).join(", ") : null) ??
      circuits.of(device.circuit_id)?.name ??
      "put away"
    );
  });
  const lines = $derived(
    (devices.watched?.findings ?? []).filter(
      (each) =>
        each.device_id === device.id &&
        !/^device\.(comes|goes|windows|output|ramp|schedule)/.test(each.line.code),
    ),
  );
  const heard = $derived(
    device.paused
      ? "paused: nothing of it is kept"
      : device.heard_at
        ? `heard ${ago(device.heard_at, now)}`
        : "not heard yet",
  );
  const silent = $derived(
    !device.paused && device.heard_at !== null && now - Date.parse(device.heard_at) > 3_600_000,
  );
  const doors = $derived(
    [device.has_token ? "a token" : "", device.topic ? `the topic ${device.topic}` : ""].filter(
      Boolean,
    ),
  );

  async function putAway(): Promise<void> {
    const { name } = device;
    if (await attempt(() => devices.putAway(device.id, true)))
      notice.say(`${name} is put away, and its token with it.`, () =>
        devices.putAway(device.id, false),
      );
  }
</script>

<section class="bg-base-200 rounded-box grid content-start gap-2 p-4" aria-labelledby={id}>
  <div class="flex flex-wrap items-baseline gap-x-3">
    <h2 {id} class="text-lg font-semibold">{device.name}</h2>
    <span class="quiet"
      >{KIND[device.kind]} · {belongs}{device.simulated ? " · simulated" : ""}</span
    >
    <span class={["ml-auto", silent ? "text-error font-semibold" : "quiet"]}>{heard}</span>
  </div>
  {#each lines as each, i (i)}
    <p class={each.well ? "text-success" : "text-error font-semibold"}>
      {each.well ? "✓" : "!"}
      {worded(each.line, account.unit)}
    </p>
  {/each}
  {#if series.length}
    <div class="flex flex-wrap gap-1" role="group" aria-label="What {device.name} reads">
      {#each series as one (keyOf(one))}
        <button
          class={[
            "grid min-h-11 rounded-md border px-3 py-1 text-left",
            one === shown ? "border-primary bg-base-100" : "border-base-300",
          ]}
          aria-pressed={one === shown}
          onclick={() => (picked = keyOf(one))}
        >
          <span class="quiet text-xs"
            >{QUANTITY[one.quantity]}{channels ? ` ${one.channel}` : ""}</span
          >
          <strong
            >{one.value === null
              ? "–"
              : figure(one.quantity, one.value, account.temperature)}</strong
          >
        </button>
      {/each}
    </div>
    {#if shown && curve}
      {#key curve.key}<SmallCurve quantity={shown.quantity} curve={curve.curve} {hours} />{/key}
    {/if}
    <div class="join" role="group" aria-label="How far back">
      {#each SPANS as span (span.hours)}
        <button
          class="btn join-item btn-xs max-sm:min-h-11"
          class:btn-neutral={hours === span.hours}
          aria-pressed={hours === span.hours}
          onclick={() => (hours = span.hours)}>{span.label}</button
        >
      {/each}
    </div>
  {:else if device.kind === "prices"}
    <p class="quiet">
      {device.taken
        ? `${device.taken} price files taken; they stand on Power.`
        : "No prices have come yet."}
    </p>
  {/if}
  {#if device.kind === "controller"}<Schedule {device} {runId} />{/if}
  {#if device.refused || device.doubled}
    <details>
      <summary class="quiet cursor-pointer max-sm:min-h-11"
        >{device.taken} kept, {device.doubled} sent twice, {device.refused} refused</summary
      >
      <ul class="list-disc pl-5">
        {#each [...device.refusals].reverse() as row (`${row.day} ${row.reason}`)}
          <li>{dayWords(row.day)}: {trim(row.count, 0)}, the last because {row.sentence}</li>
        {/each}
      </ul>
    </details>
  {/if}
  <div class="flex flex-wrap items-center gap-1">
    <span class="quiet mr-auto"
      >{doors.length ? `Comes in by ${doors.join(" and ")}` : "No door is open to it"}</span
    >
    <button
      class="btn btn-sm btn-ghost max-sm:min-h-11"
      aria-label="{device.paused ? 'Take in again' : 'Pause'}: {device.name}"
      onclick={() => attempt(() => devices.pause(device.id, !device.paused))}
      >{device.paused ? "Take in again" : "Pause"}</button
    >
    <button
      class="btn btn-sm btn-ghost max-sm:min-h-11"
      aria-expanded={editing}
      aria-label="Change: {device.name}"
      onclick={() => (editing = !editing)}>Change…</button
    >
  </div>
  {#if editing}
    <div class="border-base-300 grid gap-2 border-t pt-2">
      <DeviceForm {device} done={() => (editing = false)} />
      <div class="flex flex-wrap gap-1">
        <button
          class="btn btn-sm max-sm:min-h-11"
          aria-label="{device.has_token ? 'New token' : 'Make a token'}: {device.name}"
          onclick={() => attempt(async () => told(await devices.newToken(device.id)))}
          >{device.has_token ? "New token in its place" : "Make a token"}</button
        >
        {#if device.has_token}
          <button
            class="btn btn-sm max-sm:min-h-11"
            aria-label="Revoke the token: {device.name}"
            onclick={() => attempt(() => devices.revoke(device.id))}>Revoke its token</button
          >
        {/if}
        <button
          class="btn btn-sm max-sm:min-h-11"
          aria-label="Put away: {device.name}"
          onclick={putAway}>Put it away</button
        >
      </div>
    </div>
  {/if}
</section>
