<script lang="ts">
  import type { Power } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { clock, fromC, money, trim } from "../../units/format";

  let { power }: { power: Power } = $props();
  const heat = $derived(power.heat);
  const inches = $derived(account.unit === "in");
  const degrees = $derived(account.temperature);
  const warmer = (k: number): string => `${trim(fromC(k, degrees, true), 1)} °${degrees}`;
  const flow = $derived(
    heat.warmth.wanted_flow_m3_h === null
      ? ""
      : `${Math.round(heat.warmth.wanted_flow_m3_h)} m³/h${inches && heat.wanted_cfm !== null ? ` (${Math.round(heat.wanted_cfm)} CFM)` : ""}`,
  );
</script>

<section class="bg-base-200 rounded-box grid content-start gap-1 p-4" aria-labelledby="heat-title">
  <h2 id="heat-title" class="text-lg font-semibold">Heat</h2>
  <p>
    <strong
      >{Math.round(heat.watts)} W{inches ? ` (${Math.round(heat.btu_per_h)} BTU/h)` : ""}</strong
    >
    end as heat{heat.warmth.tent_watts < heat.watts - 0.5
      ? `, ${Math.round(heat.warmth.tent_watts)} W of it in the tent, the drivers' share outside`
      : ""}.
    {#if heat.warmth.tent_rise_k !== null}
      The tent gets <strong>{warmer(heat.warmth.tent_rise_k)}</strong> warmer than the room.
    {:else}
      How warm the tent gets: say below how much air the fan moves.
    {/if}
    {#if heat.warmth.room_rise_k !== null}
      The room gets <strong>{warmer(heat.warmth.room_rise_k)}</strong> warmer than what comes in.
    {/if}
    {#if flow}For the rise you want the fan has to move <strong>{flow}</strong>.{/if}
  </p>
  <p class="quiet">
    Lit round the coolest hour of the night it would come on at {clock(heat.cool_on_minute)}; the
    wish for cool hours stands on <a class="link" href="/season">Season</a>.
    {#if heat.heating_saved > 0}
      In a heated room it spares {money(heat.heating_saved, power.currency)} of heating a day.
    {/if}
  </p>
</section>
