<script lang="ts">
  import { devices } from "../../api/devices.svelte";
  import { account } from "../../api/grower.svelte";
  import { clock, trim } from "../../units/format";
  import { ago, figure } from "../../words/devices";
  import { worded } from "../../words/said";
  import { every } from "./every";

  interface Props {
    runId: number;
    /** Without what is said: that stands elsewhere. */
    brief?: boolean;
  }
  let { runId, brief = false }: Props = $props();

  const EVERY_S = 30;
  $effect(() => {
    const id = runId;
    return every(EVERY_S, () => devices.watch(id));
  });
  const found = $derived(devices.watched?.run_id === runId ? devices.watched : null);
  let now = $state(Date.now());
  $effect(() => {
    const timer = setInterval(() => (now = Date.now()), 1000);
    return () => clearInterval(timer);
  });
  const heard = $derived(found && (found.watts ?? found.kwh ?? found.celsius) !== null);
</script>

{#if found && (heard || found.findings.length)}
  <section class="bg-base-200 rounded-box grid gap-1 p-4" aria-labelledby="measured-title">
    <div class="flex flex-wrap items-baseline gap-x-3">
      <h2 id="measured-title" class="text-lg font-semibold">Today, measured</h2>
      {#if !brief}<a class="link quiet ml-auto" href="/devices">Devices</a>{/if}
    </div>
    <dl class="flex flex-wrap gap-x-8 gap-y-1">
      {#if found.watts !== null}
        <div>
          <dt class="quiet">{found.watts_by}, {ago(found.watts_at, now)}</dt>
          <dd>
            <strong class="text-xl">{trim(found.watts, 1)} W</strong>, {trim(
              found.planned_watts,
              0,
            )} planned at {clock(found.minute)}
          </dd>
        </div>
      {/if}
      {#if found.kwh !== null}
        <div>
          <dt class="quiet">
            Since midnight{found.kwh_hours < (found.minute - 15) / 60
              ? `, known for ${trim(found.kwh_hours, 1)} of ${trim(found.minute / 60, 1)} h`
              : ""}
          </dt>
          <dd>
            <strong class="text-xl">{trim(found.kwh, 2)} kWh</strong>, {trim(found.planned_kwh, 2)} planned
            up to now
          </dd>
        </div>
      {/if}
      {#if found.celsius !== null}
        <div>
          <dt class="quiet">{found.celsius_by}, {ago(found.celsius_at, now)}</dt>
          <dd>
            <strong class="text-xl"
              >{figure("temperature", found.celsius, account.temperature)}</strong
            >
          </dd>
        </div>
      {/if}
    </dl>
    {#if !brief}<ul class="grid gap-1" aria-live="polite" aria-label="What the devices say">
        {#each found.findings as each, i (i)}
          <li class={each.well ? "text-success" : "text-error font-semibold"}>
            {each.well ? "✓" : "!"}
            {worded(each.line, account.unit)}
          </li>
        {/each}
      </ul>{/if}
  </section>
{/if}
