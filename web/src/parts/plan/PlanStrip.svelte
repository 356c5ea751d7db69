<script lang="ts">
  import { asRefusal } from "../../api/client";
  import { garden } from "../../api/garden.svelte";
  import Picker from "./Picker.svelte";

  let sentence = $state("");
  /** On a phone what the plan is made of stays folded once there is one. */
  let unfolded = $state(false);

  async function choose(part: Parameters<typeof garden.choose>[0]): Promise<void> {
    sentence = "";
    try {
      await garden.choose(part);
    } catch (error) {
      sentence = asRefusal(error).message;
    }
  }

  const plans = $derived(
    garden.runs.map((run) => ({
      id: run.id,
      name: [
        garden.spaces.find((s) => s.id === run.space_id)?.name,
        garden.crops.find((c) => c.id === run.crop_id)?.name,
      ].join(" · "),
    })),
  );
</script>

<section
  aria-label="Your plan"
  class="border-base-300 bg-base-200 flex flex-wrap items-center gap-x-4 gap-y-1 border-b px-4 py-1"
>
  {#if garden.runs.length}
    <Picker
      label="Plan"
      rows={plans}
      value={garden.runId}
      empty="A new plan"
      pick={(id) => garden.openPlan(id)}
    />
    {#if garden.run}
      <button class="btn btn-sm btn-ghost max-sm:hidden" onclick={() => garden.newPlan()}
        >New plan</button
      >
      <button
        class="btn btn-sm btn-ghost min-h-11 sm:hidden"
        aria-expanded={unfolded}
        onclick={() => (unfolded = !unfolded)}>Change</button
      >
    {/if}
  {/if}
  <div class={["contents", garden.run && !unfolded && "max-sm:hidden"]}>
    <Picker
      label="Space"
      href="/space"
      rows={garden.spaces}
      value={garden.choice.space_id ?? null}
      empty={garden.spaces.length ? "Choose a space" : "First: measure a space"}
      pick={(id) => choose({ space_id: id })}
    />
    <Picker
      label="Crop"
      href="/space"
      rows={garden.crops}
      value={garden.choice.crop_id ?? null}
      empty="Choose a crop"
      pick={(id) => choose({ crop_id: id })}
    />
    <Picker
      label="Lamp"
      href="/fixtures"
      rows={garden.fixtures.filter((f) => !f.removed || f.id === garden.choice.fixture_id)}
      value={garden.choice.fixture_id ?? null}
      empty="Choose a lamp"
      pick={(id) => choose({ fixture_id: id })}
    />
    {#if garden.run}
      <button class="btn btn-ghost min-h-11 sm:hidden" onclick={() => garden.newPlan()}
        >New plan</button
      >
    {/if}
  </div>
  {#if sentence}
    <p class="text-error w-full" role="alert">{sentence} Your plan is as it was.</p>
  {/if}
</section>
