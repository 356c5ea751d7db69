<script lang="ts">
  import { untrack } from "svelte";

  import type { Crop, CropIn, StageIn } from "../../api/client";
  import { crops } from "../../api/crops.svelte";
  import { garden } from "../../api/garden.svelte";
  import DraftNote from "../../parts/form/DraftNote.svelte";
  import { Draft } from "../../parts/form/drafts";
  import Elsewhere from "../../parts/form/Elsewhere.svelte";
  import SaveRow from "../../parts/form/SaveRow.svelte";
  import SelectField from "../../parts/form/SelectField.svelte";
  import { newForm } from "../../parts/form/form.svelte";
  import Field from "../../parts/form/Field.svelte";
  import { attempt, notice } from "../../parts/notice.svelte";
  import StageFields from "./StageFields.svelte";

  let { crop }: { crop: Crop } = $props();

  function begin(): CropIn {
    const { name, habit, stages } = $state.snapshot(crop);
    return { name, habit, stages } as CropIn;
  }
  const typed: Draft<CropIn> = untrack(
    () =>
      new Draft(
        `crop ${crop.id}`,
        begin(),
        () => form.name || "the crop",
        () => $state.snapshot(form) as CropIn,
      ),
  );
  let form: CropIn = $state(typed.start);
  /** The crop as this form began, to tell what was changed here from what was elsewhere. */
  let began = $state.raw(untrack(begin));
  let removed = $state<{ at: number; stage: StageIn } | null>(null);
  const sending = newForm();

  function add(): void {
    const last = form.stages.at(-1);
    if (!last) return;
    const { id: _, ...values } = $state.snapshot(last) as StageIn;
    form.stages.push({
      ...values,
      name: "",
      plant_start_cm: last.plant_end_cm,
      provenance: "your own",
    });
  }

  function remove(at: number): void {
    const stage = form.stages[at];
    if (!stage || form.stages.length < 2) return;
    removed = { at, stage };
    form.stages.splice(at, 1);
  }

  function bringBack(): void {
    if (removed) form.stages.splice(removed.at, 0, removed.stage);
    removed = null;
  }

  async function save(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    await sending.send(async () => {
      const saved = await crops.save(crop.id, $state.snapshot(form) as CropIn);
      // new stages now have ids; without them a second save would make them again
      form.stages = saved.stages.map((stage) => ({ ...stage }));
      began = $state.snapshot(form) as CropIn;
      typed.done();
      removed = null;
    });
  }

  async function putAway(): Promise<void> {
    const { id, name } = crop;
    if (await attempt(() => crops.putAway(id, true)))
      notice.say(`${name} is put away; plans of it go on.`, () => crops.putAway(id, false));
  }

  async function copy(): Promise<void> {
    await sending.send(async () => {
      const values = $state.snapshot(form) as CropIn;
      const stages = values.stages.map(({ id: _, ...stage }) => stage);
      const name = `${values.name} (mine)`.slice(0, 80);
      const saved = await crops.save(null, { ...values, name, stages } as CropIn);
      await garden.choose({ crop_id: saved.id });
    });
  }
</script>

<form class="grid gap-3" onsubmit={save} novalidate>
  <DraftNote waited={typed.waited} again={() => (form = begin())} />
  <div class="grid gap-2 sm:grid-cols-2">
    <Field label="Crop" bind:value={form.name} name="name" />
    <SelectField
      label="How it stands"
      bind:value={form.habit}
      options={[
        { value: "carpet", label: "An even carpet of leaves" },
        { value: "pots", label: "Pots standing apart" },
      ]}
    />
  </div>
  <ol class="grid gap-2">
    {#each form.stages as stage, i (stage)}
      <li class="bg-base-100 rounded-box p-3">
        <StageFields
          bind:stage={form.stages[i] as StageIn}
          number={i + 1}
          remove={form.stages.length > 1 ? () => remove(i) : undefined}
        />
      </li>
    {/each}
  </ol>
  {#if removed}
    <p role="status">
      {removed.stage.name || "The stage"} is taken out; it goes when you keep the crop.
      <button type="button" class="btn btn-sm" onclick={bringBack}>Bring it back</button>
    </p>
  {/if}
  <Elsewhere
    form={sending}
    {began}
    mine={form}
    take={(made, now) => {
      form = made;
      began = now;
    }}
  />
  <div class="flex flex-wrap items-center gap-3">
    <SaveRow form={sending} label="Keep the crop" />
    <button type="button" class="btn btn-ghost" onclick={add}>Add a stage</button>
    <button type="button" class="btn btn-ghost" onclick={copy}>Copy as my own</button>
    <button type="button" class="btn btn-ghost" onclick={putAway}>Put it away</button>
  </div>
</form>
