<script lang="ts">
  import {
    asRefusal,
    type InstallStep,
    type Offer,
    type StepName,
    type TickIn,
  } from "../../api/client";
  import ClockField from "../../parts/form/ClockField.svelte";
  import Figure from "../../parts/form/Figure.svelte";
  import { newForm } from "../../parts/form/form.svelte";
  import { account } from "../../api/grower.svelte";
  import { clock, dayWords, type LengthUnit, trim } from "../../units/format";
  import { figure } from "../../words/devices";
  import { READ, STEP } from "../../words/install";
  import { worded } from "../../words/said";

  interface Props {
    step: InstallStep;
    number: number;
    unit: LengthUnit;
    tick: (step: StepName, body: TickIn | null) => Promise<void>;
    after?: (step: StepName) => void;
  }
  let { step, number, unit, tick, after }: Props = $props();
  const id = $props.id();
  const form = newForm();

  // svelte-ignore state_referenced_locally
  let read = $state<Record<string, number | null>>({ ...step.readings });
  const done = $derived(step.done_at !== null);
  const UNIT: Record<string, string> = { watts: "W", volts: "V", amps: "A" };

  async function send(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    const body = Object.fromEntries(step.asks.map((name) => [name, read[name] ?? null]));
    // by the time it is kept another step may stand here
    const [name, asks] = [step.name, step.asks.length];
    const kept = await form.send(() => tick(step.name, body as TickIn));
    if (kept && !asks) after?.(name);
  }
  /** What a device reads just now stands in the fields; where that is all the step asks, it is done. */
  async function take(offer: Offer): Promise<void> {
    read = { ...read, ...offer.readings };
    const needed = step.name === "warm" ? ["sink_c", "room_c"] : [];
    if (needed.some((name) => read[name] == null)) return;
    const body = Object.fromEntries(step.asks.map((name) => [name, read[name] ?? null]));
    await form.send(() => tick(step.name, { ...body, by: offer.by } as TickIn));
  }
  function offered(offer: Offer): string {
    return step.asks
      .filter((name) => name in offer.readings)
      .map((name): [string, number] => [name, offer.readings[name] ?? 0])
      .map(([name, value]) =>
        name.endsWith("_minute")
          ? clock(value)
          : UNIT[name]
            ? `${trim(value, 2)} ${UNIT[name]}`
            : figure("temperature", value, account.temperature),
      )
      .join(", ");
  }
  async function undo(): Promise<void> {
    try {
      await tick(step.name, null);
    } catch (error) {
      form.refused = asRefusal(error);
    }
  }
</script>

<section
  class={["rounded-box border p-4", done ? "border-base-300" : "bg-base-200 border-transparent"]}
  aria-labelledby={id}
>
  <div class="flex flex-wrap items-baseline gap-x-3">
    <h2 {id} class="text-lg font-semibold">{number}. {STEP[step.name].title}</h2>
    {#if step.safety}<span class="text-accent text-sm font-medium">for safety</span>{/if}
    {#if done && step.done_at}<span class="text-success ml-auto text-sm font-medium"
        >✓ done on {dayWords(step.done_at.slice(0, 10))}{step.by
          ? `, read by ${step.by}`
          : ""}</span
      >{/if}
  </div>
  <ul class="my-1 list-disc pl-5 max-sm:text-lg">
    {#each step.lines as line, i (i)}
      <li
        class={/^(circuit\.(?!well)|cord\.|heavy\.over)/.test(line.code)
          ? "text-error font-semibold"
          : ""}
      >
        {worded(line, unit)}
      </li>
    {/each}
  </ul>
  <form class="flex flex-wrap items-end gap-3 print:hidden" onsubmit={send} novalidate>
    {#each step.asks as name (name)}
      {#if name.endsWith("_minute")}
        <ClockField
          label={READ[name]}
          bind:value={() => read[name] ?? 0, (v) => (read[name] = v)}
          {name}
        />
      {:else}
        <Figure
          label={READ[name]}
          kind={UNIT[name] ? "plain" : "temperature"}
          unit={UNIT[name]}
          bind:value={() => read[name], (v) => (read[name] = v ?? null)}
          {name}
        />
      {/if}
    {/each}
    {#each step.offers as offer (offer.by)}
      <button
        type="button"
        class="btn btn-outline max-sm:min-h-14 max-sm:w-full"
        disabled={form.busy}
        onclick={() => take(offer)}>Take {offered(offer)} from {offer.by}</button
      >
    {/each}
    <button
      class={["btn max-sm:min-h-14 max-sm:w-full", !done && "btn-primary"]}
      disabled={form.busy}
      aria-label="{done && step.asks.length ? 'Keep the reading' : 'Done'}: {STEP[step.name].title}"
      >{done && step.asks.length ? "Keep the reading" : "Done"}</button
    >
    {#if done}
      <button
        type="button"
        class="btn btn-ghost max-sm:min-h-11"
        aria-label="Not done after all: {STEP[step.name].title}"
        onclick={undo}>Not done after all</button
      >
    {/if}
    {#if form.general}<p class="text-error w-full" role="alert">{form.general}</p>{/if}
  </form>
  <div aria-live="polite">
    {#if step.verdict}
      {#each step.verdict.lines as line, i (i)}
        <p class={["mt-1 font-semibold", step.verdict.well ? "text-success" : "text-error"]}>
          {worded(line, unit)}
        </p>
      {/each}
    {/if}
  </div>
</section>
