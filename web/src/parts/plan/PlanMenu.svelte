<script lang="ts">
  import type { Run } from "../../api/client";
  import { garden } from "../../api/garden.svelte";
  import { account } from "../../api/grower.svelte";
  import { runs } from "../../api/runs.svelte";
  import { dayWords, trim } from "../../units/format";
  import { download } from "../download";
  import Field from "../form/Field.svelte";
  import { newForm } from "../form/form.svelte";
  import { notice } from "../notice.svelte";
  import EndRun from "../run/EndRun.svelte";
  import PlanAnew from "../run/PlanAnew.svelte";

  // what can be done with the open plan: named, copied, begun, ended, put away
  let { run, close }: { run: Run; close: () => void } = $props();
  const form = newForm();

  let name = $derived(run.name);
  let on = $derived(account.today);
  let more = $state<"" | "end" | "anew">("");
  const now = $derived(run.lived.find((stage) => stage.began_on && !stage.ended_on));
  const begun = $derived(run.lived.filter((stage) => stage.began_on));
  const source = $derived(runs.of(run.copied_from_id));
  /** What comes after the stage it is in: none begins that was passed over. */
  const next = $derived(
    run.lived.slice(run.lived.findLastIndex((stage) => stage.began_on) + 1).at(0),
  );

  async function work(does: () => Promise<unknown>): Promise<boolean> {
    const done = await form.send(does);
    form.kept = false;
    return done;
  }
  const copy = (own_space: boolean): Promise<boolean> =>
    work(() => garden.copyPlan(run, `${garden.nameOf(run)} (copy)`, { own_space }));
  async function putAway(): Promise<void> {
    // another plan is open by the time this one is missed
    const [gone, called] = [run, garden.nameOf(run)];
    if (await work(() => garden.putAway(gone, true))) {
      notice.say(`${called} is put away.`, () => garden.putAway(gone, false));
      close();
    }
  }
  const save = (): Promise<boolean> =>
    work(async () => {
      const file = await runs.file(run.id);
      download(file.name, file.text, "application/json");
    });
</script>

<div class="border-base-300 grid w-full gap-2 border-t py-2" role="group" aria-label="This plan">
  <p>
    {#if run.ended_on}
      <strong
        >{run.ended_how === "given_up" ? "Given up" : "Ended"} on {dayWords(
          run.ended_on,
        )}{run.harvest !== null
          ? `, ${trim(run.harvest, 1)} ${run.harvest_unit} harvested`
          : ""}.</strong
      >
      It began on {dayWords(run.begun_on ?? run.started_on)}; its past stays as it was.
    {:else if run.begun_on}
      <strong
        >Begun on {dayWords(run.begun_on)}{now?.began_on
          ? `, in ${now.name} since ${dayWords(now.began_on)}`
          : ""}.</strong
      >
      It stands on its own copy of space, crop, lamps and wishes: what you edit there does not reach it.
    {:else}
      <strong>Not begun.</strong> It follows its space, crop and lamps as you change them; once it begins
      it stands on a copy of its own.
    {/if}
    {#if source}<span class="quiet">Copied from {garden.nameOf(source)}.</span>{/if}
  </p>
  <!-- one thing at a time: each is made on what the one before has left -->
  <fieldset class="flex flex-wrap items-end gap-2" disabled={form.busy}>
    <form
      class="flex items-end gap-2"
      onsubmit={(event) => {
        event.preventDefault();
        void work(() => runs.name(run.id, name));
      }}
      novalidate
    >
      <div class="w-56"><Field small label="Its name" name="name" bind:value={name} /></div>
      <button class="btn btn-sm max-sm:min-h-11" disabled={name === run.name}>Name it</button>
    </form>
    {#if !run.ended_on}
      <div class="w-40"><Field small type="date" label="On" name="on" bind:value={on} /></div>
    {/if}
    {#if !run.begun_on}
      <button
        class="btn btn-sm btn-primary max-sm:min-h-11"
        onclick={() => work(() => runs.begin(run.id, on))}>Begin the run</button
      >
    {:else if !run.ended_on}
      {#if next}
        <button
          class="btn btn-sm btn-primary max-sm:min-h-11"
          onclick={() => work(() => runs.beginStage(run.id, next.stage_id, on))}
          >{next.name} begins</button
        >
      {/if}
      <button
        class="btn btn-sm max-sm:min-h-11"
        aria-expanded={more === "end"}
        onclick={() => (more = more === "end" ? "" : "end")}>The run ends…</button
      >
      <button
        class="btn btn-sm max-sm:min-h-11"
        aria-expanded={more === "anew"}
        onclick={() => (more = more === "anew" ? "" : "anew")}>Plan anew…</button
      >
      {#if now && begun.length > 1}
        <button
          class="btn btn-sm btn-ghost max-sm:min-h-11"
          onclick={() => work(() => runs.takeBackStage(run.id, now.stage_id))}
          >{now.name} has not begun</button
        >
      {:else}
        <button
          class="btn btn-sm btn-ghost max-sm:min-h-11"
          onclick={() => work(() => runs.takeBackBegin(run.id))}>It has not begun</button
        >
      {/if}
    {:else}
      <button
        class="btn btn-sm btn-ghost max-sm:min-h-11"
        onclick={() => work(() => runs.takeBackEnd(run.id))}>It goes on</button
      >
    {/if}
    <span class="flex flex-wrap gap-2">
      <button class="btn btn-sm max-sm:min-h-11" onclick={() => copy(false)}
        >Copy to a new plan</button
      >
      <button
        class="btn btn-sm max-sm:min-h-11"
        title="What you then change of its space does not reach this plan"
        onclick={() => copy(true)}>Copy, with its space</button
      >
      {#if runs.present.length > 1}
        <a class="btn btn-sm max-sm:min-h-11" href="/plans">Beside other plans</a>
      {/if}
      <button class="btn btn-sm max-sm:min-h-11" onclick={save}>Save as a file</button>
      <button class="btn btn-sm max-sm:min-h-11" onclick={putAway}>Put it away</button>
      <button class="btn btn-sm btn-ghost max-sm:min-h-11" onclick={close}>Close</button>
    </span>
  </fieldset>
  {#if more === "end"}<EndRun {run} ended={() => (more = "")} />{/if}
  {#if more === "anew"}<PlanAnew {run} done={() => (more = "")} />{/if}
  {#if form.general}<p class="text-error" role="alert">{form.general}</p>{/if}
</div>
