<script lang="ts">
  import type { Door } from "../../api/client";
  import { devices } from "../../api/devices.svelte";
  import { attempt } from "../../parts/notice.svelte";
  import { ago } from "../../words/devices";

  interface Props {
    door: Door;
    now: number;
  }
  let { door, now }: Props = $props();
  const broker = $derived(door.broker);

  async function map(topic: string, before: number | null, chosen: string): Promise<void> {
    await attempt(async () => {
      if (before !== null) await devices.mapTopic(before, null);
      if (chosen) await devices.mapTopic(Number(chosen), topic);
    });
  }
  const owner = (topic: string): number | null =>
    devices.present.find((device) => device.topic === topic)?.id ?? null;
</script>

<section class="bg-base-200 rounded-box grid gap-2 p-4" aria-labelledby="broker-title">
  <h2 id="broker-title" class="text-lg font-semibold">Over MQTT</h2>
  {#if !broker}
    <p>
      No broker is named. Whoever runs this server names the one you have with
      <code>IDLE_CANOPY_MQTT</code>; HTTP needs none.
    </p>
  {:else}
    <p class={broker.connected ? "" : "text-error font-semibold"}>
      {broker.address}: {broker.connected
        ? `connected, listening at ${broker.topics.join(", ")}`
        : broker.trouble}
    </p>
    {#if broker.arrived.length}
      <div class="overflow-x-auto">
        <table class="table-sm stacked table">
          <thead>
            <tr>
              <th scope="col">Topic</th>
              <th scope="col">Last</th>
              <th scope="col">What came</th>
              <th scope="col">Whose it is</th>
            </tr>
          </thead>
          <tbody>
            {#each broker.arrived as row (row.topic)}
              <tr>
                <th scope="row" class="min-w-40 break-all">{row.topic}</th>
                <td data-label="Last">{ago(row.at, now)}, {row.count} in all</td>
                <td data-label="What came">
                  <code class="text-xs break-all">{row.begins}</code>
                  {#if !row.readable}<span class="text-error">no message this app reads</span>{/if}
                </td>
                <td data-label="Whose it is">
                  <select
                    class="select select-sm w-52 max-sm:min-h-11 max-sm:w-full"
                    aria-label="Device at {row.topic}"
                    value={String(owner(row.topic) ?? "")}
                    onchange={(event) =>
                      map(row.topic, owner(row.topic), event.currentTarget.value)}
                  >
                    <option value="">no device's: not kept</option>
                    {#each devices.present as device (device.id)}
                      <option value={String(device.id)}>{device.name}</option>
                    {/each}
                  </select>
                </td>
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
    {:else}
      <p class="quiet">Nothing has arrived yet.</p>
    {/if}
  {/if}
</section>
