<script lang="ts">
  import { untrack } from "svelte";

  import type { PlanBeside, PlansBeside, Run } from "../../api/client";
  import { garden } from "../../api/garden.svelte";
  import { account } from "../../api/grower.svelte";
  import { runs } from "../../api/runs.svelte";
  import { newForm } from "../../parts/form/form.svelte";
  import SelectField from "../../parts/form/SelectField.svelte";
  import FloorChange from "../../parts/floor/FloorChange.svelte";
  import MiniFloor from "../../parts/floor/MiniFloor.svelte";
  import { getGo } from "../../parts/go";
  import { hours, length, money, percent, trim } from "../../units/format";
  import { aimName } from "../../words/aims";
  import { linedWords } from "../../words/linings";
  import { relaxedWords } from "../../words/reasons";
  import { gainWords, shareWords } from "./plans";

  const MOST = 3;
  const FLOOR = 170;
  const go = getGo();
  const unit = $derived(account.unit);
  const asking = newForm();
  let found = $state.raw<PlansBeside | null>(null);

  // the open plan stands first; beside it what it was copied from, or was copied to
  const first = $derived(garden.run);
  const rest = $derived(runs.present.filter((run) => run.id !== first?.id));
  const kin = (run: Run): boolean =>
    run.id === first?.copied_from_id || run.copied_from_id === first?.id;
  let chosen = $state<number[] | null>(null);
  const others = $derived.by(() => {
    if (chosen) return rest.filter((run) => chosen?.includes(run.id)).slice(0, MOST);
    const own = rest.filter(kin);
    const same = rest.filter((run) => !kin(run) && run.crop_id === first?.crop_id);
    return [...own, ...same].slice(0, own.length ? Math.min(own.length, MOST) : 1);
  });

  /** A copy is read against what it was copied from. */
  const ordered = $derived.by(() => {
    const source = others.find((run) => run.id === first?.copied_from_id);
    const all = first ? [first, ...others] : others;
    if (source?.crop_id !== first?.crop_id) return all;
    return [...all].sort((a, b) => Number(b === source) - Number(a === source));
  });

  function toggle(id: number): void {
    const now = others.map((run) => run.id);
    chosen = now.includes(id) ? now.filter((one) => one !== id) : [...now, id];
  }

  const stages = $derived(garden.crop?.stages ?? []);
  const stage = $derived(stages.find((one) => one.id === garden.stageId) ?? stages[0]);

  let asked = 0;
  async function ask(runId: number, ids: number[], stageId: number): Promise<void> {
    const mine = ++asked;
    await asking.send(async () => {
      const answer = await runs.beside(runId, ids, stageId);
      if (mine === asked) found = answer;
    });
  }
  $effect(() => {
    if (!stage || !others.length) return;
    const [[head, ...tail], stageId] = [ordered.map((run) => run.id), stage.id];
    if (head !== undefined) untrack(() => void ask(head, tail, stageId));
  });

  const plans = $derived(found?.plans ?? []);
  const base = $derived(plans[0]);
  const nameOf = (plan: PlanBeside): string => {
    const run = runs.of(plan.run_id);
    return run ? garden.nameOf(run) : "a plan";
  };

  interface Row {
    label: string;
    of: (plan: PlanBeside) => string;
    /** The figure, where the share by which it differs from the first one's is of interest. */
    value?: (plan: PlanBeside) => number | undefined;
  }
  const MADE: Row[] = [
    { label: "Space", of: ({ space: s }) => `${s.name}, ${length(s.width_cm, unit)} × ${length(s.depth_cm, unit)} × ${length(s.height_cm, unit)}` },
    { label: "Walls", of: ({ space }) => linedWords(space) },
    { label: "Lamps", of: ({ lamps }) => lamps.map((l) => `${l.count > 1 ? `${l.count} × ` : ""}${l.name}`).join(", ") },
    { label: "Crop", of: (plan) => plan.crop },
    { label: "Planned for", of: (plan) => aimName(plan.aim) },
  ]; // prettier-ignore
  const AT: Row[] = [
    { label: "Stage", of: ({ stage: s }) => s ? `${s.name}: DLI ${trim(s.dli_low, 1)}–${trim(s.dli_high, 1)}` : "–" },
    { label: "Hang at", of: ({ stage: s }) => s?.setting ? length(s.setting.height_cm, unit) : "–" },
    { label: "Dial", of: ({ stage: s }) => s?.setting ? trim(s.setting.dial_pct, 1) : "–" },
    { label: "On for", of: ({ stage: s }) => s?.setting ? hours(s.setting.hours) : "–" },
    { label: "DLI, mol/m²/d", of: ({ stage: s }) => s?.outcome ? trim(s.outcome.dli, 1) : "–", value: (p) => p.stage?.outcome?.dli },
    { label: "Mean PPFD, µmol/m²/s", of: ({ stage: s }) => s?.outcome ? String(Math.round(s.outcome.mean)) : "–", value: (p) => p.stage?.outcome?.mean },
    { label: "Brightest spot", of: ({ stage: s }) => s?.outcome ? String(Math.round(s.outcome.peak)) : "–", value: (p) => p.stage?.outcome?.peak },
    { label: "Dimmest spot over mean", of: ({ stage: s }) => s?.outcome ? s.outcome.evenness.toFixed(2) : "–", value: (p) => p.stage?.outcome?.evenness },
    { label: "Floor in the band", of: ({ stage: s }) => s?.floor ? percent(s.floor.inside_share) : "–" },
    { label: "Watts", of: ({ stage: s }) => s?.outcome ? `${Math.round(s.outcome.watts)} W` : "–", value: (p) => p.stage?.outcome?.watts },
    { label: "Missed there", of: ({ stage: s }) => s?.refused || (s?.relaxed.length ? relaxedWords(s.relaxed) : "✓ nothing") },
  ]; // prettier-ignore
  const SEASON: Row[] = [
    { label: "Energy", of: (plan) => plan.refused ? "–" : `${Math.round(plan.kwh)} kWh`, value: (p) => p.kwh },
    { label: "It costs", of: (plan) => plan.refused ? "–" : money(plan.cost, plan.currency), value: (p) => p.currency === base?.currency ? p.cost : undefined },
    { label: "Days", of: (plan) => plan.refused ? "–" : String(plan.days) },
    { label: "Trips to the tent", of: (plan) => plan.refused ? "–" : String(plan.trips) },
    { label: "Short of a target in", of: (plan) => plan.refused || (plan.short.length ? plan.short.join(", ") : "✓ no stage") },
  ]; // prettier-ignore
  const beside = (row: Row, plan: PlanBeside): string => {
    const [value, of] = [row.value?.(plan), base && row.value?.(base)];
    return plan === base || value === undefined || of === undefined ? "" : shareWords(value, of);
  };
</script>

{#snippet rows(title: string, list: Row[])}
  <tr><th scope="colgroup" colspan={plans.length + 1} class="pt-4 text-base">{title}</th></tr>
  {#each list as row (row.label)}
    <tr>
      <th scope="row" class="quiet max-w-40 text-left font-normal">{row.label}</th>
      {#each plans as plan (plan.run_id)}
        <td data-label={nameOf(plan)} class="max-w-64 align-top whitespace-normal"
          >{row.of(plan)}
          {#if beside(row, plan)}<span class="quiet">({beside(row, plan)})</span>{/if}</td
        >
      {/each}
    </tr>
  {/each}
{/snippet}

<h1 class="pt-2 text-xl font-semibold">Plans side by side</h1>
{#if !first}
  <p class="py-4">
    Open a plan in the row above, and set others beside it. <a class="link" href="/bench">Bench</a>
  </p>
{:else if !rest.length}
  <p class="max-w-2xl py-4 text-lg">
    There is one plan only. Copy it under “This plan…”, change its lamp, aim or levers there – or
    copy it with its space to try other walls – and read here what that gains.
  </p>
{:else}
  <div class="flex flex-wrap items-end gap-x-5 gap-y-2 py-2">
    <div class="flex flex-wrap items-center gap-2" role="group" aria-label="Beside the open plan">
      <span><strong>{garden.nameOf(first)}</strong> beside</span>
      {#each rest as run (run.id)}
        {@const on = others.includes(run)}
        <button
          class="btn btn-sm max-sm:min-h-11"
          class:btn-neutral={on}
          aria-pressed={on}
          disabled={!on && others.length >= MOST}
          onclick={() => toggle(run.id)}>{garden.nameOf(run)}</button
        >
      {/each}
    </div>
    {#if stage}
      <SelectField
        small
        label="Looked at in"
        bind:value={() => stage.id, (id) => garden.lookAt(first.id, id)}
        options={stages.map((one) => ({ value: one.id, label: one.name }))}
      />
    {/if}
    {#if asking.busy && found}<span class="quiet" role="status">Planning them…</span>{/if}
  </div>
  {#if asking.refused}
    <p class="text-error" role="alert">{asking.refused.message}</p>
  {:else if !others.length}
    <p class="py-4">Choose a plan to set beside it.</p>
  {:else if !found || !base}
    <p class="quiet py-6" role="status">Planning them side by side…</p>
  {:else}
    <div class="pb-2 text-lg" aria-live="polite">
      {#each plans.slice(1) as plan, i (plan.run_id)}
        <p>
          <strong>{nameOf(plan)}</strong> against {nameOf(base)}: {gainWords(
            plan,
            base,
            found.differences[i + 1] ?? null,
          )}.
        </p>
      {/each}
    </div>
    <div class="max-w-full overflow-x-auto">
      <table class="stacked table-sm table w-auto">
        <thead>
          <tr>
            <th scope="col"><span class="sr-only">Figure</span></th>
            {#each plans as plan (plan.run_id)}
              <th scope="col" class="text-base-content max-w-64 text-base whitespace-normal"
                >{nameOf(plan)}</th
              >
            {/each}
          </tr>
        </thead>
        <tbody>
          <tr class="align-top">
            <th scope="row" class="quiet text-left font-normal">Floor at {stage?.name}</th>
            {#each plans as plan (plan.run_id)}
              <td data-label={nameOf(plan)}>
                {#if plan.stage?.floor}
                  <MiniFloor
                    row={plan.stage.floor}
                    x={plan.stage.floor.x_cm}
                    y={plan.stage.floor.y_cm}
                    cap={plan.stage.floor.hot_spot_cap}
                    width={FLOOR}
                  />
                {:else}<span class="text-error">✕ {plan.refused || plan.stage?.refused}</span>{/if}
              </td>
            {/each}
          </tr>
          {#if found.differences.some(Boolean)}
            <tr class="align-top">
              <th scope="row" class="quiet text-left font-normal">Against {nameOf(base)}</th>
              {#each plans as plan, i (plan.run_id)}
                {@const change = found.differences[i]}
                <td data-label={nameOf(plan)}>
                  {#if change}
                    <FloorChange {change} width={FLOOR} than={nameOf(base)} />
                    <p class="max-w-52 whitespace-normal">
                      {percent(change.brighter)} of the floor clearly brighter, {percent(
                        change.dimmer,
                      )} dimmer
                    </p>
                  {/if}
                </td>
              {/each}
            </tr>
          {/if}
          {@render rows("At this stage", AT)}
          {@render rows("The whole season", SEASON)}
          {@render rows("Made of", MADE)}
          <tr>
            <th scope="row"><span class="sr-only">Open</span></th>
            {#each plans as plan (plan.run_id)}
              <td>
                {#if plan.run_id === first.id}<span class="quiet">open now</span>{:else}
                  <button
                    class="btn btn-sm max-sm:min-h-11"
                    aria-label="Open it: {nameOf(plan)}"
                    onclick={() => {
                      garden.openPlan(plan.run_id);
                      go("/bench");
                    }}>Open it</button
                  >
                {/if}
              </td>
            {/each}
          </tr>
        </tbody>
      </table>
    </div>
  {/if}
{/if}
