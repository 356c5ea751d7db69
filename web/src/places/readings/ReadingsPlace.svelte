<script lang="ts">
  import { untrack } from "svelte";

  import {
    answer,
    asRefusal,
    client,
    type Expected,
    type FitFound,
    type NextReading,
    unanswered,
  } from "../../api/client";
  import { devices } from "../../api/devices.svelte";
  import { garden } from "../../api/garden.svelte";
  import { account } from "../../api/grower.svelte";
  import { fits, sensors } from "../../api/readings.svelte";
  import { attempt, notice } from "../../parts/notice.svelte";
  import { getGo } from "../../parts/go";
  import { hang, length } from "../../units/format";
  import { changeWords, rangeWords } from "../../words/fits";
  import Asked from "./Asked.svelte";
  import ChangeTried from "./ChangeTried.svelte";
  import DeviceFill from "./DeviceFill.svelte";
  import FitHistory from "./FitHistory.svelte";
  import FitSaid from "./FitSaid.svelte";
  import NumberPad from "./NumberPad.svelte";
  import { slipWords } from "./slips";
  import Sensors from "./Sensors.svelte";
  import WarmUp from "./WarmUp.svelte";
  import WalkFloor from "./WalkFloor.svelte";
  import { type Walk, walkOf } from "./walk.svelte";

  const go = getGo();
  const SETTLED_MS = 250;
  const AGAIN_MS = 3000;

  let walk = $state.raw<Walk | null>(null);
  /** What the walk makes of the tent so far. */
  let found = $state.raw<FitFound | null>(null);
  let refused = $state("");
  let working = $state(false);
  /** The server cannot be reached, as inside a lined tent; counted is how often it was asked. */
  let away = $state(false);
  let turns = $state(0);
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

  $effect(() => {
    const id = run?.id;
    if (id === undefined) return;
    untrack(() => {
      walk = null;
      found = seen = inUse = null;
      void attempt(async () => {
        const [, now] = await Promise.all([sensors.load(), fits.load(id)]);
        const space = garden.space;
        if (!space) return;
        const made = walkOf(account.grower?.name ?? "", space.id, now.width_cm, now.depth_cm);
        if (!made.resumed) await asPlanned(id, made);
        walk = made;
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

  // what was read so far is tried as it stands, once the typing rests
  $effect(() => {
    const runId = run?.id;
    const body = mapId === null ? walk?.body : { ...fitOfMap(mapId) };
    if (runId === undefined || !body || (!body.rows?.length && mapId === null)) {
      found = null;
      refused = "";
      return;
    }
    void turns;
    const asked = new AbortController();
    let again: ReturnType<typeof setTimeout> | undefined;
    const wait = setTimeout(() => {
      working = true;
      fits
        .trial(runId, body, asked.signal)
        .then((told) => {
          [found, refused, away] = [told, "", false];
        })
        .catch((error: unknown) => {
          if (asked.signal.aborted) return;
          if (unanswered(error)) {
            // no signal: what was found stays, and is asked for again by and by
            away = true;
            again = setTimeout(() => turns++, AGAIN_MS);
          } else [found, refused, away] = [null, asRefusal(error).message, false];
        })
        .finally(() => {
          if (!asked.signal.aborted) working = false;
        });
    }, SETTLED_MS);
    return () => {
      clearTimeout(wait);
      clearTimeout(again);
      asked.abort();
    };
  });

  function fitOfMap(id: number): NonNullable<Walk["body"]> {
    const { asked } = walk ?? { asked: null };
    return {
      rows: [],
      spots: [],
      map_id: id,
      sensor_id: asked?.sensor_id ?? null,
      left_out: asked?.left_out ?? [],
      plane_cm: null,
      floor_reflectance: null,
      edge_cm: null,
      daylight: asked?.daylight ?? false,
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
    const body = mapId === null ? walk.body : fitOfMap(mapId);
    keeping = true;
    const kept = await attempt(() => fits.keep(id, body, key));
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
    });
  }

  /** What the server expects at each spot; as it was told last, where there is no signal. */
  let expected = $state.raw<Expected[]>([]);
  $effect(() => {
    const runId = run?.id;
    const body = walk?.body;
    if (runId === undefined || !body || mapId !== null) return;
    const asked = new AbortController();
    const dial_pct = walk?.asked.dial_pct ?? null;
    const wait = setTimeout(() => {
      fits
        .expected(runId, { ...body, dial_pct }, asked.signal)
        .then((told) => (expected = told))
        .catch(() => {
          // without an answer nothing is asked about a figure
        });
    }, SETTLED_MS);
    return () => {
      clearTimeout(wait);
      asked.abort();
    };
  });

  /** What cannot be a reading of this tent is asked about before it is kept. */
  function doubt(value: number): string {
    if (!walk?.spot) return "";
    const zero = walk.asked.zero;
    const read = walk.read.map((each) => (typeof each === "number" ? each - zero : each));
    return slipWords(value - zero, walk.at, expected, read, walk.spots);
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
      class="bg-base-200 rounded-box grid grid-cols-[minmax(0,1fr)] gap-3 p-4"
      aria-label="The walk"
    >
      {#if mapId === null}
        <div class="flex flex-wrap items-baseline justify-between gap-2">
          <h2 class="font-semibold">
            {#if current.spot}
              {length(current.spot.x_cm, unit)} from the left, {length(current.spot.y_cm, unit)} from
              the front{current.spot.lift_cm
                ? `, lamp raised to ${hang(current.asked.height_cm + current.spot.lift_cm, unit)}`
                : ""}
            {:else}
              All spots read
            {/if}
          </h2>
          <span class="quiet">{current.left} left</span>
        </div>
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
        {#if asking}<Asked walk={current} {here} />{/if}
        <WarmUp walk={current} />
        <WalkFloor
          width_cm={current.width}
          depth_cm={current.depth}
          spots={current.spots}
          read={current.read}
          at={current.at}
          {unit}
          {found}
          go={(at) => current.go(at)}
        />
        {#if current.spot}
          <NumberPad
            label="Reading at spot {current.at + 1}"
            keep={(value) => current.take(value)}
            skip={() => current.take(null)}
            back={current.at > 0 ? () => current.back() : null}
            {doubt}
          />
          <DeviceFill
            here={near}
            lux={sensors.of(current.asked.sensor_id)?.kind === "lux"}
            at={current.at}
            take={(value) => current.take(value)}
          />
        {/if}
        {#if away}
          <p class="quiet text-sm" role="status">
            No signal: {current.count} reading{current.count === 1 ? "" : "s"} kept on this device. Walk
            on; they are worked out as soon as the server answers.
          </p>
        {/if}
        {#if current.count}
          <div>
            <button
              class="btn btn-sm btn-ghost max-sm:min-h-11"
              onclick={() => {
                const [read, own, at] = [[...current.read], [...current.own], current.at];
                current.clear();
                notice.say("The walk begins anew.", () => current.restore(read, own, at));
              }}>Begin the walk anew</button
            >
          </div>
        {/if}
      {:else}
        <h2 class="font-semibold">From your map: {maps.find((map) => map.id === mapId)?.name}</h2>
        <Asked walk={current} {here} />
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
      {#if refused}<p class="text-error" role="alert">{refused}</p>{/if}
      {#if found}
        <section class="bg-base-200 rounded-box grid gap-3 p-4" aria-label="What the readings say">
          <FitSaid {found} add={mapId === null ? add : undefined} {correct} />
          <div class="flex flex-wrap items-center gap-3">
            <button
              class="btn btn-primary max-sm:min-h-11"
              disabled={keeping || away}
              onclick={keep}>Plan by these readings</button
            >
            {#if keeping || working}<span class="quiet" role="status">Working it out…</span>{/if}
          </div>
        </section>
      {:else if working}
        <p role="status">Working out what the readings say; the first time takes a few seconds…</p>
      {/if}
      {#if seen}
        <section class="bg-base-200 rounded-box p-4" aria-label="A fit that is kept">
          <FitSaid found={seen.found} />
        </section>
      {/if}
      <FitHistory runId={run.id} {here} seen={seen?.id ?? null} {see} />
      <Sensors />
      <ChangeTried />
    </div>
  </div>
{/if}
