<script lang="ts">
  import type { Device, DeviceCommand } from "../../api/client";
  import { devices } from "../../api/devices.svelte";
  import { account } from "../../api/grower.svelte";
  import { every } from "../../parts/live/every";
  import { attempt } from "../../parts/notice.svelte";
  import { trim } from "../../units/format";
  import { worded } from "../../words/said";

  interface Props {
    device: Device;
    runId: number | null;
  }
  let { device, runId }: Props = $props();

  type Window = NonNullable<Device["schedule"]>[number];
  const words = (one: Window): string =>
    `Channel ${one.channel}: ${one.on} to ${one.off}, ${trim(one.output_pct, 0)} %` +
    (one.ramp_min ? `, ${one.ramp_min} min up and down` : "");
  const watched = $derived(devices.watched?.run_id === runId ? devices.watched : null);
  const lines = $derived(
    (watched?.findings ?? []).filter(
      (each) =>
        each.device_id === device.id &&
        /^device\.(comes|goes|windows|output|ramp|schedule)/.test(each.line.code),
    ),
  );
  const planned = $derived(watched?.planned_schedule ?? []);
  const agrees = $derived(lines.some((each) => each.well));

  let commands = $state.raw<DeviceCommand[]>([]);
  $effect(() => {
    const id = device.id;
    return every(5, async () => {
      commands = await devices.commands(id);
    });
  });
  const sent = $derived(commands.find((each) => each.body.command === "schedule"));

  async function send(): Promise<void> {
    if (runId === null) return;
    const id = runId;
    await attempt(async () => {
      const made = await devices.sendPlan(device.id, id);
      commands = [made, ...commands];
    });
  }
  // it has read its times back: look whether they are the plan's
  const readAt = $derived(device.schedule_at);
  $effect(() => {
    if (readAt && runId !== null) void devices.watch(runId).catch(() => undefined);
  });
</script>

<div class="grid gap-1">
  {#if device.schedule}
    <p>
      <span class="quiet">It keeps:</span>
      {device.schedule.map(words).join("; ") || "off all day"}
    </p>
  {:else}
    <p class="quiet">It has not read its times back yet.</p>
  {/if}
  {#each lines as each, i (i)}
    <p class={each.well ? "text-success" : "text-error font-semibold"}>
      {each.well ? "✓" : "!"}
      {worded(each.line, account.unit)}
    </p>
  {/each}
  {#if planned.length && !agrees}
    <div class="flex flex-wrap items-center gap-2">
      <button class="btn btn-sm btn-primary max-sm:min-h-11" onclick={send}
        >Send it the plan's times</button
      >
      <span class="quiet">{planned.map(words).join("; ")}</span>
    </div>
  {/if}
  {#if sent && !sent.done_at}
    <p role="status" class="text-accent">
      {sent.given_at
        ? "It was given the times; it has not read them back yet."
        : "Waiting until it asks…"}
    </p>
  {/if}
</div>
