<script lang="ts">
  import { asRefusal, type Run } from "../../api/client";
  import { crops } from "../../api/crops.svelte";
  import { fixtures } from "../../api/fixtures.svelte";
  import { garden } from "../../api/garden.svelte";
  import { runs } from "../../api/runs.svelte";
  import { spaces } from "../../api/spaces.svelte";
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
  /** What can be done with the plan; on a phone what it is made of too. */
  let menu = $state(false);
</script>

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
  {#if sentence}
    <p class="text-error w-full" role="alert">{sentence} Your plan is as it was.</p>
  {/if}
</section>
