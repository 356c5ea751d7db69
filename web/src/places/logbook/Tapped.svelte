<script lang="ts">
  import { tick, untrack } from "svelte";

  import type { LogEntry } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { log } from "../../api/logbook.svelte";
  import Figure from "../../parts/form/Figure.svelte";
  import { iso } from "../../units/moment";
  import { CLEANED_WORDS, KIND_WORDS, MANY_WORDS, SEEN_WORDS } from "../../words/log";

  interface Props {
    runId: number;
    changing: LogEntry | null;
    done: () => void;
  }
  let { runId, changing, done }: Props = $props();

  type Kind = LogEntry["kind"];
  const KINDS: Kind[] = [
    "tops",
    "setting",
    "watts",
    "temperature",
    "symptom",
    "outage",
    "dead",
    "cover",
    "cleaned",
    "water",
    "note",
  ];
  const PARTS = [
    "tips",
    "upper leaves",
    "lower leaves",
    "leaves",
    "edges",
    "stems",
    "buds",
    "flowers",
  ];
  const PLACES = [
    "under the lamp",
    "back left",
    "back right",
    "front left",
    "front right",
    "everywhere",
  ];

  let kind = $state<Kind | null>(null);
  let values = $state<Record<string, number | string | undefined>>({});
  let text = $state("");
  /** As the browser's own field has it; empty: now. */
  let when = $state("");
  let form = $state<HTMLFormElement | null>(null);

  $effect(() => {
    const entry = changing;
    if (!entry) return;
    untrack(() => {
      [kind, values, text, when] = [entry.kind, { ...entry.values }, entry.text, local(entry.at)];
      void tick().then(() => form?.scrollIntoView({ block: "nearest" }));
    });
  });

  function local(at: string): string {
    const moment = new Date(Date.parse(at));
    const shifted = Date.parse(at) - moment.getTimezoneOffset() * 60_000;
    return iso(shifted).slice(0, 16);
  }
  function choose(next: Kind): void {
    kind = kind === next && !changing ? null : next;
    [values, text] = [{}, ""];
    if (changing) done();
    when = "";
  }
  const WRITTEN: Kind[] = ["cover", "water", "note"];
  const NEEDED: Partial<Record<Kind, string[]>> = {
    tops: ["tops_cm"],
    setting: ["height_cm", "dial_pct", "hours"],
    watts: ["watts"],
    temperature: ["celsius"],
    outage: ["minutes"],
    dead: ["count"],
    symptom: ["what"],
    cleaned: ["what"],
  };
  const usable = $derived(
    kind !== null &&
      (WRITTEN.includes(kind)
        ? text.trim() !== ""
        : (NEEDED[kind] ?? []).some((name) => values[name] !== undefined && values[name] !== "")),
  );
  const number = (name: string) => (typeof values[name] === "number" ? values[name] : undefined);
  const word = (name: string) => (typeof values[name] === "string" ? values[name] : "");

  function keep(event: SubmitEvent): void {
    event.preventDefault();
    if (!kind || !usable) return;
    const said = Object.entries(values).filter(([, value]) => value !== undefined && value !== "");
    log.enter(runId, {
      kind,
      text: text.trim(),
      values: Object.fromEntries(said),
      ...(when ? { at: iso(Date.parse(when)) } : {}),
      replaces: changing?.key ?? null,
    });
    [kind, values, text, when] = [null, {}, "", ""];
    done();
  }
</script>

{#snippet figure(name: string, label: string, unit?: string, of?: "length" | "temperature")}
  <Figure
    {label}
    {unit}
    kind={of ?? "plain"}
    bind:value={() => number(name), (value) => (values = { ...values, [name]: value ?? undefined })}
  />
{/snippet}
{#snippet choice(name: string, label: string, options: string[], words: Record<string, string>)}
  <label class="grid gap-0.5">
    <span class="quiet text-sm">{label}</span>
    <select
      class="select w-full max-sm:min-h-11"
      bind:value={() => word(name), (value) => (values = { ...values, [name]: value })}
    >
      <option value="">–</option>
      {#each options as option (option)}<option value={option}>{words[option] ?? option}</option
        >{/each}
    </select>
  </label>
{/snippet}

<div class="grid gap-3">
  <div class="flex flex-wrap gap-2" role="group" aria-label="Or tap what it is">
    {#each KINDS as each (each)}
      <button
        class="btn btn-sm max-sm:min-h-11"
        class:btn-neutral={kind === each}
        class:bg-base-100={kind !== each}
        aria-pressed={kind === each}
        onclick={() => choose(each)}>{KIND_WORDS[each]}</button
      >
    {/each}
  </div>
  {#if kind}
    <form bind:this={form} class="grid gap-3 sm:grid-cols-2" onsubmit={keep} novalidate>
      {#if kind === "tops"}
        {@render figure("tops_cm", "Tops above the floor", undefined, "length")}
        {@render choice("where", "Where, if not overall", PLACES, {})}
      {:else if kind === "setting"}
        {@render figure("height_cm", "Lamp above the tops", undefined, "length")}
        {@render figure("dial_pct", "Dial", "%")}
        {@render figure("hours", "On for", "h")}
      {:else if kind === "watts"}
        {@render figure("watts", "At the plug", "W")}
      {:else if kind === "temperature"}
        {@render figure("celsius", "Temperature", undefined, "temperature")}
        {@render choice("where", "Of", ["air", "leaf", "lamp"], {})}
      {:else if kind === "outage"}
        {@render figure("minutes", "How long", "min")}
      {:else if kind === "dead"}
        {@render figure("count", "How many")}
      {:else if kind === "cleaned"}
        {@render choice("what", "What", Object.keys(CLEANED_WORDS), CLEANED_WORDS)}
      {:else if kind === "symptom"}
        {@render choice("what", "What", Object.keys(SEEN_WORDS), SEEN_WORDS)}
        {@render choice("part", "On the plant", PARTS, {})}
        {@render choice("where", "In the tent", PLACES, {})}
        {@render choice("many", "On how many", Object.keys(MANY_WORDS), MANY_WORDS)}
        {@render figure("since_days", "Since", "days")}
      {/if}
      <label class="grid gap-0.5 sm:col-span-2">
        <span class="quiet text-sm">{WRITTEN.includes(kind) ? "What" : "In words, if wanted"}</span>
        <input class="input w-full max-sm:min-h-11" type="text" maxlength="500" bind:value={text} />
      </label>
      <label class="grid gap-0.5">
        <span class="quiet text-sm">When; empty: now</span>
        <input
          class="input w-full max-sm:min-h-11"
          type="datetime-local"
          max={`${account.today}T23:59`}
          bind:value={when}
        />
      </label>
      <div class="flex items-end gap-2">
        <button class="btn btn-primary max-sm:min-h-12" disabled={!usable}
          >{changing ? "Keep the change" : "Keep it"}</button
        >
        {#if changing}
          <button
            type="button"
            class="btn btn-ghost max-sm:min-h-12"
            onclick={() => {
              kind = null;
              done();
            }}>Leave it as it was</button
          >
        {/if}
      </div>
    </form>
  {/if}
</div>
