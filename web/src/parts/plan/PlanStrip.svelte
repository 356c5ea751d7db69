<script lang="ts">
  import Redo2 from "@lucide/svelte/icons/redo-2";
  import Undo2 from "@lucide/svelte/icons/undo-2";

  import { asRefusal, type Run } from "../../api/client";
  import { devices } from "../../api/devices.svelte";
  import { crops } from "../../api/crops.svelte";
  import { fixtures } from "../../api/fixtures.svelte";
  import { account } from "../../api/grower.svelte";
  import { garden } from "../../api/garden.svelte";
  import { installs } from "../../api/installs.svelte";
  import { runs } from "../../api/runs.svelte";
  import { spaces } from "../../api/spaces.svelte";
  import { changeWords } from "../../words/changes";
  import { worded } from "../../words/said";
  import { STEP } from "../../words/install";
  import { every } from "../live/every";
  import { notice } from "../notice.svelte";
  import PutAway from "../PutAway.svelte";
  import Picker from "./Picker.svelte";
  import PlanMenu from "./PlanMenu.svelte";

  let sentence = $state("");

  async function choose(part: Parameters<typeof garden.choose>[0]): Promise<void> {
    sentence = "";
    try {
      await garden.choose(part);
    } catch (error) {
      sentence = asRefusal(error).message;
    }
  }

  const mark = (run: Run): string => (run.ended_on ? " (ended)" : run.begun_on ? " (running)" : "");
  const plans = $derived(
    runs.present.map((run) => ({ id: run.id, name: `${garden.nameOf(run)}${mark(run)}` })),
  );
  const away = $derived(runs.away.map((run) => ({ id: run.id, name: garden.nameOf(run) })));
  /** Those to choose from, and the one chosen even when it was put away. */
  const offered = <T extends { id: number; removed?: boolean }>(rows: T[], chosen?: number): T[] =>
    rows.filter((row) => !row.removed || row.id === chosen);
  async function turn(which: "undo" | "redo"): Promise<void> {
    try {
      const found = await garden.turn(which);
      if (!found) return;
      const stage = garden.crop?.stages.find((each) => each.id === found.stage_id)?.name;
      const what = changeWords(found, stage ?? "");
      if (which === "undo") notice.say(`Taken back: ${what}.`, () => turn("redo"), "Make it again");
      else notice.say(`Made again: ${what}.`, () => turn("undo"));
    } catch (error) {
      notice.say(asRefusal(error).message);
    }
  }

  function keys(event: KeyboardEvent): void {
    const typing = (event.target as HTMLElement).closest("input, select, textarea");
    if (typing || !(event.ctrlKey || event.metaKey) || event.altKey || !garden.run) return;
    const key = event.key.toLowerCase();
    if (key !== "z" && key !== "y") return;
    event.preventDefault();
    void turn(key === "y" || event.shiftKey ? "redo" : "undo");
  }

  const left = $derived(installs.of(garden.runId));

  /** What devices warn of is seen from every place; it is asked for once a minute. */
  const watching = $derived(devices.present.length ? garden.runId : null);
  $effect(() => {
    const id = watching;
    if (id !== null) return every(60, () => devices.watch(id));
    return undefined;
  });
  const URGENT = /^device\.(draws_nothing|draws_at_night|silent|clock|leaps|stuck)/;
  const warned = $derived(
    devices.watched && devices.watched.run_id === garden.runId
      ? devices.watched.findings.find((each) => URGENT.test(each.line.code))
      : undefined,
  );

  /** What can be done with the plan; on a phone what it is made of too. */
  let menu = $state(false);
</script>

<svelte:window onkeydown={keys} />

<section
  aria-label="Your plan"
  class="border-base-300 bg-base-200 flex flex-wrap items-center gap-x-4 gap-y-1 border-b px-4 py-1"
>
  {#if runs.present.length}
    <Picker
      label="Plan"
      wide
      rows={plans}
      value={garden.runId}
      empty="A new plan"
      pick={(id) => garden.openPlan(id)}
    />
    {#if garden.run}
      <span class="flex">
        <button
          class="btn btn-sm btn-square btn-ghost max-sm:min-h-11 max-sm:min-w-11"
          aria-label="Take back the last change of this plan"
          title="Take back (Ctrl+Z)"
          onclick={() => turn("undo")}><Undo2 size={18} /></button
        >
        <button
          class="btn btn-sm btn-square btn-ghost max-sm:min-h-11 max-sm:min-w-11"
          aria-label="Make again what was taken back"
          title="Make again (Ctrl+Shift+Z)"
          onclick={() => turn("redo")}><Redo2 size={18} /></button
        >
      </span>
      <button
        class="btn btn-sm btn-ghost max-sm:min-h-11"
        aria-expanded={menu}
        onclick={() => (menu = !menu)}>This plan…</button
      >
      <button class="btn btn-sm btn-ghost max-sm:hidden" onclick={() => garden.newPlan()}
        >New plan</button
      >
    {/if}
  {/if}
  <div class={["contents", garden.run && !menu && "max-sm:hidden"]}>
    <Picker
      label="Space"
      href="/space"
      rows={offered(spaces.all, garden.choice.space_id)}
      value={garden.choice.space_id ?? null}
      empty={spaces.present.length ? "Choose a space" : "First: measure a space"}
      settled={Boolean(garden.run?.begun_on)}
      pick={(id) => choose({ space_id: id })}
    />
    <Picker
      label="Crop"
      href="/space"
      rows={offered(crops.all, garden.choice.crop_id)}
      value={garden.choice.crop_id ?? null}
      empty="Choose a crop"
      settled={Boolean(garden.run?.begun_on)}
      pick={(id) => choose({ crop_id: id })}
    />
    <Picker
      label="Lamp"
      href="/fixtures"
      rows={offered(fixtures.all, garden.choice.fixture_id)}
      value={garden.choice.fixture_id ?? null}
      empty="Choose a lamp"
      settled={Boolean(garden.run?.begun_on)}
      pick={(id) => choose({ fixture_id: id })}
    />
    {#if garden.run}
      <button class="btn btn-ghost min-h-11 sm:hidden" onclick={() => garden.newPlan()}
        >New plan</button
      >
    {/if}
  </div>
  {#if menu && garden.run}
    {#key garden.run.id}<PlanMenu run={garden.run} close={() => (menu = false)} />{/key}
  {/if}
  {#if menu || !garden.run}
    <PutAway
      noun="plan"
      rows={away}
      bringBack={async (id) => {
        const run = runs.of(id);
        if (run) await garden.putAway(run, false);
      }}
    />
  {/if}
  {#if left.length}
    <p class="w-full text-sm">
      <a class="link" href="/install"
        >Not done yet, for safety: {left.map((step) => STEP[step].short).join(", ")}</a
      >
    </p>
  {/if}
  {#if warned}
    <p class="text-error w-full text-sm font-semibold" role="status">
      <a class="link" href="/devices">{worded(warned.line, account.unit)}</a>
    </p>
  {/if}
  {#if sentence}
    <p class="text-error w-full" role="alert">{sentence} Your plan is as it was.</p>
  {/if}
</section>
