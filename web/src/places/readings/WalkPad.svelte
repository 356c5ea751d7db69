<script lang="ts">
  import type { Device, Expected } from "../../api/client";
  import { hang, length, type LengthUnit, trim } from "../../units/format";
  import DeviceFill from "./DeviceFill.svelte";
  import NumberPad from "./NumberPad.svelte";
  import { brighterUnlit, slipWords } from "./slips";
  import type { Walk } from "./walk.svelte";

  interface Props {
    walk: Walk;
    unit: LengthUnit;
    spaceId: number;
    /** Devices whose readings are of this space. */
    near: Device[];
    /** It is read with a lux meter. */
    lux: boolean;
    expected: Expected[];
  }
  let { walk, unit, spaceId, near, lux, expected }: Props = $props();

  let looking = $state(false);
  const asking = $derived(looking ? "look" : walk.asking);
  const at = $derived(asking === "look" ? walk.lookAt : walk.spot);
  const daylit = $derived(walk.asked.daylight === "each");
  const dial = $derived(at?.dial_pct ?? walk.asked.dial_pct);
  const height = $derived(walk.asked.height_cm + (at?.lift_cm ?? 0));
  const label = $derived(
    asking === "look"
      ? "Daylight, lamp off"
      : `${asking === "unlit" ? "Lamp off" : daylit ? "Lamp on" : "Reading"} at spot ${walk.at + 1}`,
  );

  function take(value: number, spread: number | null = null): void {
    if (looking) {
      walk.look(value);
      looking = false;
    } else walk.take(value, spread);
  }

  /** What cannot be a reading of this tent is asked about before it is kept. */
  function doubt(value: number): string {
    if (!walk.spot || asking === "look") return "";
    if (daylit && asking === "lit") return "";
    if (asking === "unlit" && walk.lit !== null) {
      const swapped = brighterUnlit(walk.lit, value);
      if (swapped) return swapped;
    }
    const now = { at: Date.now(), spread: null };
    const shown = asking === "unlit" ? (walk.lit ?? 0) : value;
    const net = walk.net({ ...now, shown, unlit: asking === "unlit" ? value : null });
    const read = walk.read.map((each) => (each ? walk.net(each) : each));
    return slipWords(net, walk.at, expected, read, walk.spots);
  }
</script>

<div class="flex flex-wrap items-baseline justify-between gap-2">
  <h2 class="font-semibold">
    {#if asking === "look"}
      Lamp off: the daylight, {length(at?.x_cm ?? 0, unit)} from the left, {length(
        at?.y_cm ?? 0,
        unit,
      )} from the front
    {:else if at}
      {length(at.x_cm, unit)} from the left, {length(at.y_cm, unit)} from the front{at.lift_cm
        ? `, lamp ${at.lift_cm > 0 ? "raised" : "lowered"} to ${hang(height, unit)}`
        : ""}{at.dial_pct === null ? "" : `, dial at ${trim(at.dial_pct, 1)}`}{asking === "unlit"
        ? ", lamp off"
        : daylit
          ? ", lamp on"
          : ""}
    {:else}
      All spots read
    {/if}
  </h2>
  <span class="quiet">{walk.left} left</span>
</div>
{#if asking && at}
  <NumberPad
    {label}
    keep={take}
    skip={() => {
      if (looking) looking = false;
      else walk.skip();
    }}
    back={walk.at > 0 && !looking ? () => walk.back() : null}
    {doubt}
    skipLabel={asking === "look" && (looking || walk.done) ? "No look now" : "Leave it out"}
  />
  <DeviceFill
    here={near}
    {lux}
    hand={{
      space_id: spaceId,
      x_cm: at.x_cm,
      y_cm: at.y_cm,
      height_cm: height,
      dial_pct: dial,
      lit: asking === "lit",
    }}
    {take}
  />
{/if}
{#if walk.asked.daylight === "background" && walk.looks.length && asking !== "look"}
  <div>
    <button class="btn btn-sm bg-base-100 max-sm:min-h-11" onclick={() => (looking = true)}
      >Look at the daylight again</button
    >
    <span class="quiet text-sm">last {Math.round(walk.looks.at(-1)?.shown ?? 0)}</span>
  </div>
{/if}
