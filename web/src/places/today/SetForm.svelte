<script lang="ts">
  import type { ToSet } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import type { Entered } from "../../api/logbook.svelte";
  import ClockField from "../../parts/form/ClockField.svelte";
  import Figure from "../../parts/form/Figure.svelte";
  import { windowsWords } from "../../units/format";

  interface Props {
    toSet: ToSet;
    /** Only the timer is to be set. */
    timer: boolean;
    /** Nothing was known before: all of it is kept. */
    first: boolean;
    keep: (entries: Entered[]) => void;
    /** Keep a timer that is on more than once a day: no line of the log holds that. */
    keepWindows: (height_cm: number, dial_pct: number) => void;
    close: () => void;
  }
  let { toSet, timer, first, keep, keepWindows, close }: Props = $props();

  /** As the sentence above has it: what a tape measure tells. */
  const taped = (cm: number): number => {
    const step = account.unit === "cm" ? 1 : 2.54 / 4;
    return Math.round(cm / step) * step;
  };
  let height = $derived<number | null>(taped(toSet.height_cm));
  let dial = $derived<number | null>(toSet.dial_pct);
  let lit = $derived<number | null>(toSet.windows.reduce((sum, window) => sum + window.hours, 0));
  let on = $derived(toSet.windows[0]?.on_minute ?? 360);
  let tops = $state<number | null>(null);

  /** On more than once a day, and that is to be kept. */
  const twice = $derived((timer || first) && toSet.windows.length > 1);
  const usable = $derived(
    timer
      ? lit !== null && lit >= 0 && lit <= 24
      : height !== null && height > 0 && dial !== null && dial >= 0 && dial <= 100,
  );

  function submit(event: SubmitEvent): void {
    event.preventDefault();
    if (!usable) return;
    if (twice) {
      if (tops) keep([{ kind: "tops", text: "", values: { tops_cm: tops } }]);
      keepWindows(timer ? toSet.height_cm : (height ?? toSet.height_cm), dial ?? toSet.dial_pct);
      close();
      return;
    }
    const values: Entered["values"] = {};
    if (!timer) Object.assign(values, { height_cm: height, dial_pct: dial });
    if (timer || first) Object.assign(values, { hours: lit, on_minute: on });
    const entries: Entered[] = [];
    // the lamp is measured from tops as they now are
    if (tops) entries.push({ kind: "tops", text: "", values: { tops_cm: tops } });
    entries.push({ kind: "setting", text: "", values });
    keep(entries);
    close();
  }
</script>

<form class="grid gap-2" onsubmit={submit} novalidate>
  <p class="quiet text-sm">As it really stands now:</p>
  <div class="grid grid-cols-2 gap-2 sm:grid-cols-4">
    {#if !timer}
      <Figure label="Lamp above the tops" kind="length" bind:value={height} />
      <Figure label="Dial" unit="%" bind:value={dial} />
      <Figure label="Tops, if measured" kind="length" bind:value={tops} />
    {/if}
    {#if twice}
      <p class="col-span-2 self-end">On {windowsWords(toSet.windows)}</p>
    {:else if timer || first}
      <Figure label="On for" unit="h" bind:value={lit} />
      <ClockField label="From, by the timer" bind:value={on} />
    {/if}
  </div>
  <div class="flex flex-wrap gap-2">
    <button class="btn btn-primary min-h-11" disabled={!usable}>Keep it</button>
    <button type="button" class="btn btn-ghost min-h-11" onclick={close}>Not yet</button>
  </div>
</form>
