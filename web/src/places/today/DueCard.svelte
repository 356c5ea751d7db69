<script lang="ts">
  import type { Due } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { newKey } from "../../api/key";
  import { log } from "../../api/logbook.svelte";
  import { runs } from "../../api/runs.svelte";
  import { type Answered, today } from "../../api/today.svelte";
  import Field from "../../parts/form/Field.svelte";
  import Figure from "../../parts/form/Figure.svelte";
  import { getGo } from "../../parts/go";
  import { attempt } from "../../parts/notice.svelte";
  import EndRun from "../../parts/run/EndRun.svelte";
  import { dayWords } from "../../units/format";
  import { OUTCOME_WORDS } from "../../words/log";
  import { worded } from "../../words/said";
  import SetForm from "./SetForm.svelte";

  interface Props {
    runId: number;
    due: Due;
    /** Open the run's own plan before another place is gone to. */
    open: () => void;
  }
  let { runId, due, open }: Props = $props();

  const go = getGo();
  const unit = $derived(account.unit);
  const run = $derived(runs.of(runId));
  const words = $derived(due.lines.map((line) => worded(line, unit)).join(". "));
  const LATER: Due["kind"][] = ["stage", "harvest"];
  let setting = $state(false);
  let tops = $state<number | null>(null);
  let on = $derived(account.today);
  let plain = $state("");

  const reply = (what: Answered, ...more: Parameters<typeof today.answer>[4][]): void =>
    today.answer(runId, due, what, words, ...more);

  async function begin(): Promise<void> {
    const stage = due.stage_id;
    if (stage === null) return;
    if (await attempt(() => runs.beginStage(runId, stage, on))) await attempt(() => today.load());
  }
  /** What came of a sign, and of what was tried for it: weighed when it shows again. */
  function came(what: string): void {
    const values = { of: due.of, what };
    reply("done", { kind: "outcome", text: plain.trim(), values });
  }
  /** A timer that is on more than once a day is kept like one set at the bench. */
  async function keepWindows(height_cm: number, dial_pct: number): Promise<void> {
    const stage_id = run?.lived.find((stage) => stage.began_on && !stage.ended_on)?.stage_id;
    const windows = due.to_set?.windows;
    if (stage_id === undefined || !windows) return;
    const levers = { windows, height_cm, dial_pct, level: 0, group: 0 };
    const body = { stage_id, kind: "set" as const, ...levers };
    if (await attempt(() => runs.log(runId, body, newKey()))) reply("done");
  }
  function visit(path: Parameters<typeof go>[0]): void {
    open();
    go(path);
  }
</script>

<li class="due" class:late={due.late_days > 0}>
  <p class="text-lg">
    {#if due.late_days > 0}<strong class="text-error"
        >{due.late_days === 1 ? "1 day late" : `${due.late_days} days late`}</strong
      >{/if}
    <strong>{words}</strong>
  </p>
  {#if due.why}<p class="quiet">{worded(due.why, unit)}</p>{/if}
  {#if due.holds_until}
    <p class="quiet">Done so, it holds until {dayWords(due.holds_until)} at least.</p>
  {/if}

  {#if due.kind === "set" || due.kind === "timer"}
    {#if due.to_set && setting}
      <SetForm
        toSet={due.to_set}
        timer={due.kind === "timer"}
        first={due.key === "set:first"}
        keep={(entries) => {
          if (entries.some((entry) => entry.kind === "setting")) reply("done", ...entries);
          else for (const entry of entries) log.enter(runId, entry);
        }}
        {keepWindows}
        close={() => (setting = false)}
      />
    {/if}
  {:else if due.kind === "tops"}
    <div class="flex flex-wrap items-end gap-2">
      <div class="w-44">
        <Figure label="Tops above the floor" kind="length" bind:value={tops} />
      </div>
      <button
        class="btn btn-primary min-h-11"
        disabled={!tops || tops <= 0}
        onclick={() => tops && reply("done", { kind: "tops", text: "", values: { tops_cm: tops } })}
        >Keep it</button
      >
    </div>
  {:else if due.kind === "stage"}
    <div class="flex flex-wrap items-end gap-2">
      <div class="w-44"><Field type="date" label="It began on" name="on" bind:value={on} /></div>
      <button class="btn btn-primary min-h-11" onclick={begin}>It has begun</button>
    </div>
  {:else if due.kind === "harvest" && run}
    <EndRun {run} ended={() => void attempt(() => today.load())} />
  {:else if due.kind === "look" || due.kind === "seen"}
    <div class="flex flex-wrap items-end gap-2">
      <label class="grid min-w-0 grow gap-0.5">
        <span class="quiet text-sm"
          >{due.kind === "seen" ? "In words, if wanted" : "What they show; empty: all well"}</span
        >
        <input class="input min-h-11 w-full" maxlength="300" bind:value={plain} />
      </label>
    </div>
  {/if}

  {#if !setting}
    <div class="flex flex-wrap gap-2">
      {#if due.to_set}
        <button class="btn btn-primary min-h-11" onclick={() => (setting = true)}>Done…</button>
      {:else if due.kind === "walk"}
        <button class="btn btn-primary min-h-11" onclick={() => visit("/readings")}
          >Walk with the sensor</button
        >
      {:else if due.kind === "seen" && due.of}
        {#each Object.entries(OUTCOME_WORDS) as [what, label] (what)}
          <button class="btn btn-primary min-h-11" onclick={() => came(what)}
            >{label.charAt(0).toUpperCase() + label.slice(1)}</button
          >
        {/each}
      {:else if due.kind === "look" || due.kind === "seen"}
        <button
          class="btn btn-primary min-h-11"
          onclick={() =>
            reply("done", { kind: "note", text: plain.trim() || "plants look well", values: {} })}
          >Looked</button
        >
      {:else if due.kind === "cut"}
        <button class="btn btn-primary min-h-11" onclick={() => reply("done")}>It is right</button>
      {:else if due.kind === "set"}
        <button class="btn min-h-11" onclick={() => visit("/bench")}>To the bench</button>
      {/if}
      <button class="btn btn-ghost min-h-11" onclick={() => reply("later")}>Later</button>
      {#if !LATER.includes(due.kind)}
        <button class="btn btn-ghost min-h-11" onclick={() => reply("never")}>Not needed</button>
      {/if}
    </div>
  {/if}
</li>

<style>
  .due {
    display: grid;
    gap: 0.5rem;
    padding: 0.75rem 1rem;
    background: var(--color-base-200);
    border-radius: var(--radius-box);
    border-left: 5px solid var(--color-primary);
  }
  .due.late {
    border-left-color: var(--color-error);
  }
</style>
