<script lang="ts">
  import { onDestroy, onMount, untrack } from "svelte";

  import { garden } from "../../api/garden.svelte";
  import { runs } from "../../api/runs.svelte";
  import { account } from "../../api/grower.svelte";
  import Cautions from "../../parts/cautions/Cautions.svelte";
  import Elevation from "../../parts/elevation/Elevation.svelte";
  import Floor from "../../parts/floor/Floor.svelte";
  import DialRail from "../../parts/rails/DialRail.svelte";
  import HoursRail from "../../parts/rails/HoursRail.svelte";
  import { attempt } from "../../parts/notice.svelte";
  import { View } from "../../parts/view.svelte";
  import { groupLetter } from "../../words/groups";
  import AnswerLine from "./AnswerLine.svelte";
  import ArrangePanel from "./ArrangePanel.svelte";
  import { Arranging } from "./arranging.svelte";
  import { BenchState } from "./bench.svelte";
  import GroupsPanel from "./GroupsPanel.svelte";
  import LiningGains from "./LiningGains.svelte";
  import PlanButton from "./PlanButton.svelte";
  import SetSo from "./SetSo.svelte";
  import Positions from "./Positions.svelte";
  import Reasons from "./Reasons.svelte";
  import Schools from "./Schools.svelte";
  import SwitchesPanel from "./SwitchesPanel.svelte";
  import StageChange from "./StageChange.svelte";
  import StageTabs from "./StageTabs.svelte";

  const desk = new BenchState();
  const opened = new View();
  const others = $derived(opened.name === "others");
  const lining = $derived(opened.name === "lining");
  const elsewhere = $derived(opened.name === "positions");
  const grouping = $derived(opened.name === "groups");
  const switching = $derived(opened.name === "switches");
  const arranging = new Arranging((runId) => {
    if (run && stage) void desk.open(run.id, stage.id, stage.from_day);
    void attempt(() => runs.refresh(runId));
  });
  function flush(): void {
    desk.flush();
    arranging.flush();
  }
  onDestroy(flush);

  // before anything is taken back, what was moved last is kept
  onMount(() => {
    const settle = (): Promise<unknown> => Promise.all([desk.settle(), arranging.settle()]);
    garden.settling.add(settle);
    return () => garden.settling.delete(settle);
  });

  const run = $derived(garden.run);
  // lamps that were taken back hang elsewhere
  $effect(() => {
    if (garden.back?.what !== "lamps" && garden.back?.what !== "made_of") return;
    untrack(() => {
      if (arranging.open && run) void arranging.begin(run.id);
    });
  });
  const bench = $derived(desk.bench);
  // as the run stands on them; until its first answer as the crop has them
  const parts = $derived(
    desk.answered === run?.id && bench
      ? bench.made_of.stages
      : (garden.crop?.stages ?? []).map((s) => ({ ...s, from_day: 0, first_day: 0 })),
  );
  const first = $derived(bench?.made_of.first ?? run?.started_on ?? "");
  const stage = $derived(
    parts.find((p) => p.id === garden.stageId && p.from_day === garden.fromDay) ??
      parts.find((p) => p.id === garden.stageId) ??
      parts.find((p) => p.id === run?.stage_id) ??
      parts[0] ??
      null,
  );
  const levers = $derived(desk.levers);
  const unit = $derived(account.unit);
  const plan = $derived(bench?.solution.setting);
  const atPlan = $derived(
    plan?.height_cm === bench?.setting.height_cm &&
      plan?.dial_pct === bench?.setting.dial_pct &&
      plan?.hours === bench?.setting.hours,
  );

  // what the answer hangs on; a kept change of space, lamp or crop opens it again
  const stageId = $derived(stage?.id ?? null);
  // a change just begun is looked at before any answer names it
  const fromDay = $derived(garden.stageId === stageId ? garden.fromDay : 0);
  $effect(() => {
    desk.over = Boolean(run?.ended_on);
    // the stage by its number: each answer names the stages anew
    if (run && stageId !== null && garden.space && garden.fixture)
      void desk.open(run.id, stageId, fromDay);
  });

  // what was worked out elsewhere is tried as soon as the levers stand
  $effect(() => {
    const wanted = garden.toTry;
    if (!wanted || !desk.levers || desk.opening || desk.answered !== run?.id) return;
    garden.toTry = null;
    desk.move(wanted);
  });

  // a change that has been taken out meanwhile is none to look at
  $effect(() => {
    const there = bench?.made_of.stages.some(
      (part) => part.id === bench.stage.id && part.from_day === bench.from_day,
    );
    if (run && bench && desk.answered === run.id && there === false)
      garden.lookAt(run.id, bench.stage.id);
  });

  // another run has other lamps
  let arrangedRun: number | undefined;
  $effect(() => {
    if (run?.id !== arrangedRun) arranging.open = false;
    arrangedRun = run?.id;
  });

  function keys(event: KeyboardEvent): void {
    const typing = (event.target as HTMLElement).closest("input, select, textarea");
    if (typing || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === "p") desk.toPlan();
  }
</script>

<svelte:window onkeydown={keys} onpagehide={flush} />

{#if !run}
  <div class="mx-auto max-w-xl py-10 text-lg">
    <h1 class="mb-2 text-2xl font-semibold">Nothing on the bench yet</h1>
    <ol class="grid gap-2">
      <li>
        {garden.space ? "✓" : "1."} <a class="link" href="/space">A space</a>: measure it once.
      </li>
      <li>
        {garden.crop ? "✓" : "2."} <a class="link" href="/space">A crop</a>: its stages say how much
        light.
      </li>
      <li>
        {garden.fixture ? "✓" : "3."} <a class="link" href="/fixtures">A lamp</a>: from your shelf.
      </li>
    </ol>
    <p class="quiet mt-3">Choose what is missing in the row above and the answer stands here.</p>
  </div>
{:else}
  <!-- on a phone the answer comes before the tools -->
  <div class="max-sm:flex max-sm:flex-col">
    <div class="flex-wrap items-center gap-2 pt-1 max-sm:contents sm:flex">
      <div class="max-sm:order-1 max-sm:pt-1">
        <StageTabs
          {parts}
          {first}
          current={stage}
          pick={(part) => garden.lookAt(run.id, part.id, part.from_day)}
        />
      </div>
      <div class="flex flex-1 flex-wrap items-center gap-2 max-sm:order-3">
        {#if bench && !arranging.open && !opened.name && !run.begun_on}
          <button
            class="btn btn-sm btn-ghost max-sm:min-h-11"
            onclick={() => arranging.begin(run.id)}
            >{bench.geometry.lamps.length > 1
              ? `${bench.geometry.lamps.length} lamps`
              : "One lamp"}: move, turn, add</button
          >
        {/if}
        {#if bench?.groups.length && !arranging.open && !opened.name}
          <button class="btn btn-sm btn-ghost max-sm:min-h-11" onclick={() => opened.open("groups")}
            >{bench.groups.length > 1
              ? "Groups of lamps"
              : `Group ${groupLetter(bench.groups[0]?.group ?? 1)}`}</button
          >
        {/if}
        {#if bench?.switches.length && !arranging.open && !opened.name}
          <button
            class="btn btn-sm btn-ghost max-sm:min-h-11"
            onclick={() => opened.open("switches")}>{bench.switches.length} switches</button
          >
        {/if}
        {#if bench && stage && !desk.over && !arranging.open && !opened.name}
          <StageChange
            runId={run.id}
            {first}
            part={stage}
            look={(id, day) => {
              const [at, from] = [garden.stageId, garden.fromDay];
              garden.lookAt(run.id, id, day);
              if (at === id && from === day) void desk.open(run.id, id, day);
            }}
          />
        {/if}
        {#if bench && !arranging.open && !opened.name}
          <button class="btn btn-sm btn-ghost max-sm:min-h-11" onclick={() => opened.open("others")}
            >What others would do</button
          >
          <button class="btn btn-sm btn-ghost max-sm:min-h-11" onclick={() => opened.open("lining")}
            >What lining would gain</button
          >
          <button
            class="btn btn-sm btn-ghost max-sm:min-h-11"
            onclick={() => opened.open("positions")}>Heights, dials</button
          >
        {/if}
        {#if bench && run.begun_on && !run.ended_on && stage}
          <SetSo runId={run.id} {bench} ready={!desk.opening && bench.stage.id === stage.id} />
        {/if}
        {#if bench}
          <PlanButton
            {atPlan}
            keeping={desk.keeping}
            toPlan={() => desk.toPlan()}
            retry={() => desk.keep()}
          />
        {/if}
      </div>
    </div>
    {#if desk.refused && !bench}
      <div class="py-8 text-lg max-sm:order-2" role="alert">
        <h1 class="text-2xl font-semibold">This cannot be hung here</h1>
        <p class="my-2 max-w-3xl">{desk.refused.message}</p>
        <p>
          <a class="link" href="/space">Change the space or the crop</a> or
          <a class="link" href="/fixtures">choose another lamp</a>.
        </p>
        {#if Object.keys(desk.refused.fields).some((field) => field.startsWith("lamps"))}
          <button class="btn mt-2" onclick={() => arranging.reset(run.id)}
            >Hang one lamp in the middle again</button
          >
        {/if}
      </div>
    {:else if !bench || !levers || !plan}
      <p class="quiet py-10 max-sm:order-2" role="status">Working out the light in this tent…</p>
    {:else}
      <div class="max-sm:order-2">
        <AnswerLine
          {bench}
          {unit}
          {atPlan}
          aim={run.aim}
          overCap={run.over_cap}
          giveUpCap={(over_cap) => attempt(() => garden.choose({ over_cap }))}
        />
      </div>
      <div
        aria-busy={desk.opening}
        class="grid grid-cols-[minmax(0,1fr)] gap-x-5 gap-y-1 max-sm:order-4 lg:grid-cols-[minmax(19rem,24rem)_minmax(20rem,1fr)_20rem]"
      >
        <div class="flex flex-col gap-1">
          {#each bench.stretches as stretch (stretch.lever)}
            {#if stretch.lever === "dial"}
              <DialRail
                dial={bench.dial}
                {stretch}
                value={levers.dial_pct}
                plan={plan.dial_pct}
                watts={bench.outcome.watts}
                lightFraction={bench.light_fraction}
                move={(dial_pct) => desk.move({ dial_pct })}
              />
            {/if}
          {/each}
          <div class="relative h-80 lg:h-auto lg:flex-1">
            {#each bench.stretches as stretch (stretch.lever)}
              {#if stretch.lever === "height"}
                <Elevation
                  geometry={bench.geometry}
                  step={bench.height_step_cm}
                  {stretch}
                  value={levers.height_cm}
                  plan={plan.height_cm}
                  light={bench.light_fraction}
                  {unit}
                  move={(height_cm) => desk.move({ height_cm })}
                />
              {/if}
            {/each}
          </div>
        </div>
        {#if others && stage}
          <div class="lg:col-span-2">
            <Schools
              runId={run.id}
              stageId={stage.id}
              fromDay={bench.from_day}
              {bench}
              {unit}
              attempt={(setting) => desk.move(setting)}
              close={() => opened.close()}
            />
          </div>
        {:else if lining && stage}
          <div class="lg:col-span-2">
            <LiningGains
              runId={run.id}
              stageId={stage.id}
              {bench}
              currency={bench.made_of.currency}
              close={() => opened.close()}
            />
          </div>
        {:else if elsewhere && stage}
          <div class="lg:col-span-2">
            <Positions
              runId={run.id}
              stageId={stage.id}
              {bench}
              {unit}
              attempt={(setting) => desk.move(setting)}
              close={() => opened.close()}
            />
          </div>
        {:else if grouping && stage}
          <div class="lg:col-span-2">
            <GroupsPanel
              runId={run.id}
              {bench}
              settled={() => void desk.open(run.id, bench.stage.id, bench.from_day)}
              close={() => opened.close()}
            />
          </div>
        {:else if switching && stage}
          <div class="lg:col-span-2">
            <SwitchesPanel
              runId={run.id}
              {bench}
              settled={() => void desk.open(run.id, bench.stage.id, bench.from_day)}
              close={() => opened.close()}
            />
          </div>
        {:else}
          <Floor
            {bench}
            {unit}
            arrange={arranging.open
              ? {
                  chosen: arranging.chosen,
                  choose: (at) => (arranging.chosen = at),
                  move: (at, x_cm, y_cm) => arranging.change(at, { x_cm, y_cm }),
                }
              : undefined}
          />
          {#if arranging.open}
            <ArrangePanel desk={arranging} />
          {:else}
            <Reasons
              {bench}
              {unit}
              currency={bench.made_of.currency}
              {atPlan}
              toNearest={(part) => desk.move(part)}
              lock={(name) => desk.lock(name)}
            />
          {/if}
        {/if}
        <div class="lg:col-span-3">
          {#each bench.stretches as stretch (stretch.lever)}
            {#if stretch.lever === "hours"}
              <HoursRail
                {stretch}
                value={levers.hours}
                plan={plan.hours}
                onMinute={levers.on_minute}
                price={bench.price}
                lostHours={bench.lost_h}
                rampMin={bench.made_of.ramp_min}
                middleHours={bench.middle_hours}
                windows={bench.windows}
                nightHours={bench.night_h}
                sun={bench.sun}
                stepMin={bench.made_of.timer_step_min}
                move={(hours) => desk.move({ hours })}
                moveOn={(on_minute) => desk.move({ on_minute })}
              />
            {/if}
          {/each}
        </div>
      </div>
      <div class="max-sm:order-5">
        <Cautions
          co2={bench.made_of.co2_enriched}
          shortDay={bench.stage.response === "short-day"}
        />
      </div>
    {/if}
  </div>
{/if}
