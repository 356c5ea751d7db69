<script lang="ts">
  import { tick, untrack } from "svelte";

  import { answer, client, type FitFound, type NextReading, type WalkRow } from "../../api/client";
  import { devices } from "../../api/devices.svelte";
  import { garden } from "../../api/garden.svelte";
  import { account } from "../../api/grower.svelte";
  import { outbox } from "../../api/outbox.svelte";
  import { fits, sensors, walks } from "../../api/readings.svelte";
  import { attempt, notice } from "../../parts/notice.svelte";
  import { getGo } from "../../parts/go";
  import { hang } from "../../units/format";
  import { changeWords, rangeWords } from "../../words/fits";
  import Asked from "./Asked.svelte";
  import ChangeTried from "./ChangeTried.svelte";
  import Compared from "./Compared.svelte";
  import DialFound from "./DialFound.svelte";
  import FitHistory from "./FitHistory.svelte";
  import FitSaid from "./FitSaid.svelte";
  import Sensors from "./Sensors.svelte";
  import { Trial } from "./trial.svelte";
  import WalkFloor from "./WalkFloor.svelte";
  import WalkHistory from "./WalkHistory.svelte";
  import WalkPad from "./WalkPad.svelte";
  import WalkTable from "./WalkTable.svelte";
  import WarmUp from "./WarmUp.svelte";
  import WattsOnly from "./WattsOnly.svelte";
  import { type Walk, walkOf } from "./walk.svelte";

  const go = getGo();
  const PHONE = 640;
  let section = $state<HTMLElement | null>(null);

  let walk = $state.raw<Walk | null>(null);
  /** How high the plan has the lamp above the tops. */
  let planned = $state<number | null>(null);
  let keeping = $state(false);
  /** A fit that is kept and looked at. */
  let seen = $state.raw<{ id: number; found: FitFound } | null>(null);
  let inUse = $state.raw<FitFound | null>(null);
  let asking = $state(false);
  let mapId = $state<number | null>(null);

  const run = $derived(garden.run);
  const unit = $derived(account.unit);
  const here = $derived(fits.here);
  const near = $derived(
    garden.space ? devices.in(garden.space.id, [garden.fixture?.id ?? 0], null) : [],
  );
  const maps = $derived(here?.maps.filter((map) => map.here) ?? []);
  const body = $derived(mapId === null ? (walk?.body ?? null) : fitOfMap(mapId));
  const trial = new Trial(
    () => run?.id,
    () => body,
  );

  $effect(() => {
    const id = run?.id;
    if (id === undefined) return;
    untrack(() => {
      walk = null;
      seen = inUse = null;
      void attempt(async () => {
        const [, now] = await Promise.all([sensors.load(), fits.load(id), walks.load(id)]);
        const space = garden.space;
        if (!space) return;
        const grower = account.grower?.name ?? "";
        const made = walkOf(grower, space.id, now.width_cm, now.depth_cm, (key, asked, entry) =>
          walks.enter(id, key, asked, entry),
        );
        made.layout = {
          ...made.layout,
          dials: made.layout.dials.length ? made.layout.dials : now.dials,
        };
        planned = null;
        await asPlanned(id, made);
        walk = made;
        // in the tent, phone in hand, the next spot comes first
        if (made.resumed && innerWidth < PHONE)
          void tick().then(() => section?.scrollIntoView({ block: "start" }));
      });
    });
  });

  /** The lamp is read where the plan has it. */
  async function asPlanned(run_id: number, made: Walk): Promise<void> {
    const stage_id = garden.stageId;
    if (stage_id === null) return;
    try {
      const path = "/api/runs/{run_id}/stages/{stage_id}/bench" as const;
      const params = { path: { run_id, stage_id } };
      const { setting } = await answer(client.GET(path, { params }));
      planned = setting.height_cm;
      if (made.resumed) return;
      made.asked = {
        ...made.asked,
        height_cm: Math.round(setting.height_cm),
        dial_pct: setting.dial_pct,
      };
    } catch {
      // a plan that cannot be leaves the usual height
    }
  }

  $effect(() => {
    const id = here?.in_use ?? null;
    const runId = run?.id;
    if (id === null || runId === undefined) {
      inUse = null;
      return;
    }
    void attempt(async () => {
      const told = await fits.found(runId, id, null);
      // another may have been put in use meanwhile
      if (fits.here?.in_use === id) inUse = told;
    });
  });

  function fitOfMap(id: number): Walk["body"] {
    const asked = walk?.asked;
    return {
      zero: 0,
      backgrounds: [],
      watts: null,
      walk: null,
      rows: [],
      spots: [],
      map_id: id,
      sensor_id: asked?.sensor_id ?? null,
      left_out: asked?.left_out ?? [],
      plane_cm: null,
      floor_reflectance: null,
      edge_cm: null,
      daylight: asked?.daylight === "left",
      open_read: asked?.open_read ?? "",
      open_now: asked?.open_now ?? "",
      read_on: null,
      note: maps.find((map) => map.id === id)?.name ?? "",
      height_cm: null,
    };
  }

  async function keep(): Promise<void> {
    if (!run || !walk) return;
    const [id, key] = [run.id, walk.key];
    // a walk whose readings the server has all goes with its fit
    const mine = mapId === null ? { ...walk.body, walk: walk.id } : fitOfMap(mapId);
    keeping = true;
    const kept = await attempt(async () => {
      await fits.keep(id, mine, key);
      await walks.load(id);
    });
    keeping = false;
    if (!kept) return;
    if (mapId === null) walk.clear();
    mapId = null;
    notice.say("The plan goes by your readings from now on.", () => fits.choose(id, null));
  }

  async function see(fitId: number): Promise<void> {
    const runId = run?.id;
    if (runId === undefined) return;
    if (seen?.id === fitId) {
      seen = null;
      return;
    }
    await attempt(async () => {
      seen = { id: fitId, found: await fits.found(runId, fitId, null) };
    });
  }

  function correct(name: FitFound["corrections"][number]["name"], used: boolean): void {
    if (!walk) return;
    const others = walk.asked.left_out.filter((each) => each !== name);
    walk.asked = { ...walk.asked, left_out: used ? others : [...others, name] };
    walk.changed();
  }

  function add(next: NextReading): void {
    walk?.add({
      x_cm: next.x_cm,
      y_cm: next.y_cm,
      lift_cm: next.height_cm - walk.asked.height_cm,
      dial_pct: null,
    });
  }

  async function takeUp(row: WalkRow): Promise<void> {
    if (!run || !walk) return;
    const [id, mine] = [run.id, walk];
    const before = mine.count ? mine.state() : null;
    await attempt(async () => {
      mine.load(await walks.one(id, row.key));
      mapId = null;
      notice.say("The walk is taken up again.", before && (() => mine.restore(before)));
    });
  }

  const headline = $derived.by(() => {
    if (here?.changed_since)
      return "This tent was rebuilt or lined anew since it was read: read it again";
    if (inUse) return `By your readings this tent gives ${changeWords(inUse.mean)}`;
    return "Nothing measured here yet: five readings correct the plan at every height";
  });
</script>

<div class="pb-3">
  <h1 class="text-2xl"><strong>{headline}.</strong></h1>
  {#if here?.changed_since}
    <p>Until then the plan goes by the record, and by what was learnt of the lamp.</p>
  {:else if inUse}
    <p>
      Mean {rangeWords(inUse.mean.true)} µmol with the lamp at {hang(inUse.height_cm, unit)}; nine
      times in ten inside. Bench, season and shelf answer from it.
    </p>
  {/if}
</div>

{#if !run}
  <p>
    Readings are of a plan's lamps in its space. Make one first:
    <button class="link" onclick={() => go("/bench")}>to the bench</button>.
  </p>
{:else if !here || !walk}
  <p role="status">Looking for what was read here…</p>
{:else}
  {@const current = walk}
  <div class="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[26rem_minmax(0,1fr)]">
    <section
      bind:this={section}
      class="bg-base-200 rounded-box grid grid-cols-[minmax(0,1fr)] gap-3 p-4"
      aria-label="The walk"
    >
      {#if mapId === null}
        <p class="quiet text-sm">
          Lamp{here.lamps.length > 1 ? "s" : ""} at {hang(current.asked.height_cm, unit)} above the sensor,
          {current.asked.dial_pct === null ? "at full" : `dial at ${current.asked.dial_pct}`}{here
            .lamps.length > 1
            ? `; all ${here.lamps.length} that follow the dial on, others off`
            : ""}.
          <button class="link" aria-expanded={asking} onclick={() => (asking = !asking)}
            >{asking ? "Done" : "Change"}</button
          >
        </p>
        {#if asking}<Asked walk={current} {here} {planned} />{/if}
        <WarmUp walk={current} />
        <WalkFloor
          width_cm={current.width}
          depth_cm={current.depth}
          spots={current.spots}
          read={current.read.map((each) => (each ? current.net(each) : each))}
          at={current.at}
          {unit}
          found={trial.found}
          go={(at) => current.go(at)}
        />
        <WalkPad
          walk={current}
          {unit}
          spaceId={garden.space?.id ?? 0}
          {near}
          lux={sensors.of(current.asked.sensor_id)?.kind === "lux"}
          expected={trial.expected}
        />
        {#if trial.away}
          <p class="quiet text-sm" role="status">
            Walk on: {current.count} reading{current.count === 1 ? "" : "s"} kept on this device, worked
            out as soon as the server answers.
          </p>
        {/if}
        {#if current.count}
          <div>
            <button
              class="btn btn-sm btn-ghost max-sm:min-h-11"
              onclick={() => {
                const before = current.state();
                current.clear();
                notice.say("Another walk begins.", () => current.restore(before));
              }}>Begin another walk</button
            >
          </div>
        {/if}
      {:else}
        <h2 class="font-semibold">From your map: {maps.find((map) => map.id === mapId)?.name}</h2>
        <Asked walk={current} {here} {planned} />
      {/if}
      {#if maps.length}
        <label class="grid gap-0.5">
          <span class="quiet text-sm">Or from a map you have kept of a lamp here</span>
          <select class="select w-full max-sm:min-h-11" bind:value={mapId}>
            <option value={null}>none: I walk</option>
            {#each maps as map (map.id)}
              <option value={map.id}>{map.name}, {map.lamp}, {map.readings} readings</option>
            {/each}
          </select>
        </label>
      {/if}
    </section>
    <div class="grid grid-cols-[minmax(0,1fr)] gap-4">
      {#if trial.refused}<p class="text-error" role="alert">{trial.refused}</p>{/if}
      {#if trial.found && body}
        <section class="bg-base-200 rounded-box grid gap-3 p-4" aria-label="What the readings say">
          <FitSaid found={trial.found} add={mapId === null ? add : undefined} {correct} />
          <Compared runId={run.id} {body} />
          <div class="flex flex-wrap items-center gap-3">
            <button
              class="btn btn-primary max-sm:min-h-11"
              disabled={keeping || trial.away || (mapId === null && outbox.waiting > 0)}
              onclick={keep}>Plan by these readings</button
            >
            {#if keeping || trial.working}<span class="quiet" role="status">Working it out…</span
              >{/if}
          </div>
        </section>
      {:else if trial.working}
        <p role="status">Working out what the readings say; the first time takes a few seconds…</p>
      {/if}
      {#if seen}
        <section class="bg-base-200 rounded-box p-4" aria-label="A fit that is kept">
          <FitSaid found={seen.found} />
        </section>
      {/if}
      {#if current.layout.name === "steps"}<DialFound walk={current} />{/if}
      <FitHistory runId={run.id} {here} seen={seen?.id ?? null} {see} />
      <WalkHistory runId={run.id} now={current.id} {takeUp} />
      <WalkTable
        runId={run.id}
        height_cm={current.asked.height_cm}
        take={(readings) => {
          const before = current.state();
          current.fill(readings);
          mapId = null;
          notice.say("The table is taken as a walk.", () => current.restore(before));
        }}
      />
      {#if garden.stageId !== null}
        <WattsOnly
          runId={run.id}
          stageId={garden.stageId}
          height_cm={current.asked.height_cm}
          dial_pct={current.asked.dial_pct ?? 100}
        />
      {/if}
      <Sensors />
      <ChangeTried />
    </div>
  </div>
{/if}
