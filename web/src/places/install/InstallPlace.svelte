<script lang="ts">
  import {
    answer,
    asRefusal,
    client,
    type Install,
    type Refusal,
    type StepName,
    type TickIn,
  } from "../../api/client";
  import { garden } from "../../api/garden.svelte";
  import { account } from "../../api/grower.svelte";
  import { newKey } from "../../api/key";
  import { installs } from "../../api/installs.svelte";
  import Cautions from "../../parts/cautions/Cautions.svelte";
  import TodayMeasured from "../../parts/live/TodayMeasured.svelte";
  import { View } from "../../parts/view.svelte";
  import { STEP } from "../../words/install";
  import InstallDrawing from "./InstallDrawing.svelte";
  import StepCard from "./StepCard.svelte";

  const run = $derived(garden.run);
  let install = $state.raw<Install | null>(null);
  let refused = $state.raw<Refusal | null>(null);
  /** On a phone one step stands alone; the address names it. */
  const opened = new View();

  $effect(() => {
    const id = garden.run?.id;
    if (id === undefined || !garden.space || !garden.fixture || !garden.crop) return;
    let late = false;
    answer(client.GET("/api/runs/{run_id}/install", { params: { path: { run_id: id } } }))
      .then((found) => {
        if (!late) [install, refused] = [found, null];
      })
      .catch((error: unknown) => {
        if (!late) [install, refused] = [null, asRefusal(error)];
      });
    return () => {
      late = true;
    };
  });

  async function tick(step: StepName, body: TickIn | null): Promise<void> {
    if (!run) return;
    const header = { "Idempotency-Key": newKey() };
    const params = { path: { run_id: run.id, step }, header };
    const path = "/api/runs/{run_id}/install/{step}" as const;
    install = await answer(
      body === null ? client.DELETE(path, { params }) : client.PUT(path, { params, body }),
    );
    await installs.load();
  }
  const done = $derived(install?.steps.filter((step) => step.done_at).length ?? 0);
  const next = $derived(install?.steps.find((step) => !step.done_at) ?? null);
  const shown = $derived(
    install?.steps.find((step) => step.name === opened.name) ?? next ?? install?.steps[0],
  );
  const at = $derived(install?.steps.findIndex((step) => step.name === shown?.name) ?? 0);
  function turn(by: number, from = at): void {
    const step = install?.steps[from + by];
    if (step) opened.open(step.name);
    globalThis.scrollTo({ top: 0 });
  }
</script>

{#if !run}
  <div class="mx-auto max-w-xl py-10 text-lg">
    <h1 class="mb-2 text-2xl font-semibold">Nothing to hang yet</h1>
    <p>
      Choose a <a class="link" href="/space">space and a crop</a> and a
      <a class="link" href="/fixtures">lamp</a>; the steps to hang it safely then stand here.
    </p>
  </div>
{:else if refused}
  <div class="py-8 text-lg" role="alert">
    <h1 class="text-2xl font-semibold">The steps cannot be laid out</h1>
    <p class="my-2 max-w-3xl">{refused.message}</p>
  </div>
{:else if !install || !shown}
  <p class="py-8" role="status">Laying out the steps…</p>
{:else}
  <h1 class="pt-2 pb-1 text-2xl">
    {#if next}
      <strong>{done} of {install.steps.length} steps done.</strong> Next: {STEP[
        next.name
      ].title.toLowerCase()}.
    {:else}
      <strong>All {install.steps.length} steps are done.</strong> Plants may come in.
    {/if}
  </h1>
  {#if install.left.length}
    <p class="text-accent pb-2 font-medium">
      Not done yet, for safety: {install.left.map((step) => STEP[step].short).join(", ")}.
    </p>
  {/if}
  <div class="pb-3 empty:hidden print:hidden"><TodayMeasured runId={install.run_id} /></div>
  <div class="grid grid-cols-[minmax(0,1fr)] items-start gap-5 lg:grid-cols-[minmax(0,1fr)_24rem]">
    <!-- one step a screen on the phone, all of them where there is room, and on paper -->
    <ol class="grid gap-3 max-sm:hidden print:block" aria-label="Steps">
      {#each install.steps as step, i (step.name)}
        <li><StepCard {step} number={i + 1} unit={account.unit} {tick} /></li>
      {/each}
    </ol>
    <div class="grid gap-3 sm:hidden print:hidden">
      {#key shown.name}<StepCard
          step={shown}
          number={at + 1}
          unit={account.unit}
          {tick}
          after={(name) =>
            turn(
              1,
              install?.steps.findIndex((step) => step.name === name),
            )}
        />{/key}
      <div class="flex gap-3">
        <button class="btn min-h-14 flex-1" disabled={at === 0} onclick={() => turn(-1)}
          >Before</button
        >
        <button
          class="btn min-h-14 flex-1"
          disabled={at === install.steps.length - 1}
          onclick={() => turn(1)}>Next</button
        >
      </div>
    </div>
    <aside class="bg-base-200 rounded-box p-3 lg:sticky lg:top-3" aria-labelledby="drawing-title">
      <h2 id="drawing-title" class="font-semibold">{install.lamp} in {install.space}</h2>
      <InstallDrawing {install} unit={account.unit} />
      <button class="btn btn-sm mt-2 max-sm:hidden print:hidden" onclick={() => print()}
        >Print the steps</button
      >
    </aside>
  </div>
  <Cautions co2={garden.space?.co2_enriched ?? false} shortDay={false} />
{/if}
