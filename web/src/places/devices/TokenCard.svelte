<script lang="ts">
  import type { DeviceMade } from "../../api/client";
  import { devices } from "../../api/devices.svelte";
  import { account } from "../../api/grower.svelte";
  import { attempt, notice } from "../../parts/notice.svelte";
  import { figure, inOrder } from "../../words/devices";

  interface Props {
    made: DeviceMade;
    close: () => void;
  }
  let { made, close }: Props = $props();

  const now = $derived(devices.of(made.device.id) ?? made.device);
  const arrived = $derived(now.taken > made.device.taken || now.doubled > made.device.doubled);
  const refused = $derived(now.refused > made.device.refused ? now.refusals.at(-1) : undefined);
  const last = $derived(inOrder(now.series)[0]);

  const SAMPLE = {
    meter: { quantity: "power", unit: "W", value: 146.2 },
    controller: { quantity: "switch", unit: "", value: 1 },
    thermometer: { quantity: "temperature", unit: "C", value: 23.4 },
    light: { quantity: "ppfd", unit: "umol/m2/s", value: 412 },
    prices: null,
    other: { quantity: "humidity", unit: "%", value: 55 },
  };
  const door = `${globalThis.location.origin}/api/door`;
  const line = $derived.by(() => {
    const sample = SAMPLE[made.device.kind];
    const head = `curl -H "Authorization: Bearer ${made.token}"`;
    if (!sample) return `${head} --data-binary @hours.price.csv ${door}/prices`;
    const { quantity, unit, value } = sample;
    const body =
      `{\\"id\\": \\"$(date +%s)\\", \\"at\\": \\"$(date -u +%Y-%m-%dT%H:%M:%SZ)\\", ` +
      `\\"quantity\\": \\"${quantity}\\", \\"unit\\": \\"${unit}\\", \\"value\\": ${value}}`;
    return `${head} -d "${body}" ${door}`;
  });
  async function copy(text: string, what: string): Promise<void> {
    await attempt(async () => {
      await navigator.clipboard.writeText(text);
      notice.say(`${what} is copied.`);
    });
  }
</script>

<section class="border-accent rounded-box grid gap-2 border-2 p-4" aria-labelledby="token-title">
  <h2 id="token-title" class="text-lg font-semibold">
    The token of {made.device.name}: copy it now, it is not shown again
  </h2>
  <p class="flex flex-wrap items-center gap-2">
    <code class="bg-base-200 rounded px-2 py-1 break-all select-all">{made.token}</code>
    <button class="btn btn-sm max-sm:min-h-11" onclick={() => copy(made.token, "The token")}
      >Copy the token</button
    >
  </p>
  <p>Try it from any machine that reaches this one:</p>
  <pre class="bg-base-200 rounded p-2 text-sm break-all whitespace-pre-wrap select-all">{line}</pre>
  <div class="flex flex-wrap items-center gap-3">
    <button class="btn btn-sm max-sm:min-h-11" onclick={() => copy(line, "The line")}
      >Copy the line</button
    >
    <p
      role="status"
      class={arrived ? "text-success font-semibold" : refused ? "text-error" : "quiet"}
    >
      {#if arrived && last?.value != null}
        ✓ Arrived: {figure(last.quantity, last.value, account.temperature)}.
      {:else if arrived}
        ✓ Arrived.
      {:else if refused}
        Something came and was refused: {refused.sentence}
      {:else}
        Waiting for its first message…
      {/if}
    </p>
    <button class="btn btn-primary ml-auto max-sm:min-h-11" onclick={close}>I have kept it</button>
  </div>
</section>
