<script lang="ts">
  interface Props {
    /** What it is for, read out. */
    label: string;
    keep: (value: number) => void;
    skip: () => void;
    back: (() => void) | null;
    /** What is asked about a figure before it is kept; empty where nothing is. */
    doubt?: (value: number) => string;
    skipLabel?: string;
  }
  let { label, keep, skip, back, doubt = () => "", skipLabel = "Leave it out" }: Props = $props();

  let text = $state("");
  let asked = $state("");
  let field = $state<HTMLInputElement | null>(null);

  const KEYS = ["7", "8", "9", "4", "5", "6", "1", "2", "3", ".", "0"];
  const value = $derived(text.trim() === "" ? NaN : Number(text.trim().replace(",", ".")));
  const usable = $derived(Number.isFinite(value) && value >= 0);

  function press(key: string): void {
    asked = "";
    if (key === "." && text.includes(".")) return;
    if (text.length < 7) text += key;
  }
  function take(): void {
    if (!usable) return;
    const why = asked ? "" : doubt(value);
    if (why) {
      asked = why;
      return;
    }
    keep(value);
    text = "";
    asked = "";
    field?.focus();
  }
  function submit(event: SubmitEvent): void {
    event.preventDefault();
    take();
  }
</script>

<form class="grid gap-2" onsubmit={submit} aria-label="Reading">
  <input
    bind:this={field}
    class="input input-lg w-full text-right text-3xl tabular-nums"
    type="text"
    inputmode="decimal"
    autocomplete="off"
    aria-label={label}
    aria-invalid={text !== "" && !usable}
    bind:value={text}
    oninput={() => (asked = "")}
  />
  {#if text !== "" && !usable}<p class="text-error">That is no figure.</p>{/if}
  {#if asked}<p class="text-warning" role="alert">{asked}</p>{/if}
  <div class="pad grid-cols-3 gap-2">
    {#each KEYS as key (key)}
      <button type="button" class="btn btn-lg bg-base-100" onclick={() => press(key)}>{key}</button>
    {/each}
    <button
      type="button"
      class="btn btn-lg bg-base-100"
      aria-label="Rub out the last digit"
      onclick={() => {
        text = text.slice(0, -1);
        asked = "";
      }}>⌫</button
    >
  </div>
  <button class="btn btn-primary btn-lg w-full" disabled={!usable}
    >{asked ? "Keep it all the same" : "Keep, next spot"}</button
  >
  <div class="grid grid-cols-2 gap-2">
    <button
      type="button"
      class="btn bg-base-100 max-sm:min-h-12"
      disabled={!back}
      onclick={() => back?.()}>Back one</button
    >
    <button type="button" class="btn bg-base-100 max-sm:min-h-12" onclick={skip}>{skipLabel}</button
    >
  </div>
</form>

<style>
  /* for thumbs; where there is a keyboard the field takes the digits */
  .pad {
    display: none;
  }
  @media (pointer: coarse), (max-width: 640px) {
    .pad {
      display: grid;
    }
  }
</style>
