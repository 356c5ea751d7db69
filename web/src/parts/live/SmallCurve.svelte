<script lang="ts">
  import type { DeviceCurve, QuantityName } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { figure, QUANTITY } from "../../words/devices";
  import { drawn } from "./curve";

  interface Props {
    quantity: QuantityName;
    curve: DeviceCurve;
    hours: number;
  }
  let { quantity, curve, hours }: Props = $props();
  const [WIDTH, HEIGHT] = [320, 56];

  const shown = $derived(drawn(curve, WIDTH, HEIGHT));
  const of = (value: number): string => figure(quantity, value, account.temperature);
  const since = $derived(
    hours <= 48
      ? new Date(curve.since_ms).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" })
      : new Date(curve.since_ms).toLocaleDateString("en-GB", { day: "numeric", month: "short" }),
  );
</script>

{#if curve.at_ms.length}
  <div class="grid grid-cols-[minmax(0,1fr)_auto] gap-x-2">
    <svg
      viewBox="0 -2 {WIDTH} {HEIGHT + 4}"
      preserveAspectRatio="none"
      class="border-base-300 h-14 w-full border-b border-l"
      role="img"
      aria-label="{QUANTITY[quantity]} since {since}: {of(shown.low)} to {of(shown.high)}"
    >
      <path d={shown.band} class="fill-primary stroke-primary opacity-25" />
      <path
        d={shown.line}
        class="stroke-primary fill-none"
        stroke-width={curve.at_ms.length > 1 ? 1.5 : 5}
        stroke-linecap="round"
        vector-effect="non-scaling-stroke"
      />
    </svg>
    <p class="quiet flex flex-col justify-between text-right text-xs whitespace-nowrap">
      <span>{of(shown.high)}</span><span>{of(shown.low)}</span>
    </p>
    <p class="quiet flex justify-between text-xs"><span>{since}</span><span>now</span></p>
  </div>
{:else}
  <p class="quiet">Nothing was heard in this time.</p>
{/if}
