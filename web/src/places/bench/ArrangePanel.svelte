<script lang="ts">
  import { fixtures } from "../../api/fixtures.svelte";
  import { garden } from "../../api/garden.svelte";
  import Figure from "../../parts/form/Figure.svelte";
  import SelectField from "../../parts/form/SelectField.svelte";
  import { groupLetter } from "../../words/groups";
  import type { Arranging } from "./arranging.svelte";

  let { desk }: { desk: Arranging } = $props();

  const lamp = $derived(desk.lamps[desk.chosen]);
  const fixture = $derived(fixtures.all.find((f) => f.id === lamp?.fixture_id));
  const main = $derived(garden.run?.fixture_id);
  const name = (id: number): string => fixtures.all.find((f) => f.id === id)?.name ?? "";
  /** The ones the grower has of this kind, and the one that hangs here even if put away. */
  const pieces = $derived(
    fixture?.pieces.filter((piece) => !piece.removed || piece.id === lamp?.piece_id) ?? [],
  );
  let adding = $state(0);

  async function add(): Promise<void> {
    const id = adding || main;
    if (id !== undefined) await desk.add(id);
  }

  function set(part: Parameters<Arranging["change"]>[1]): void {
    desk.change(desk.chosen, part);
  }

  function toggleBar(bar: number): void {
    if (!lamp) return;
    const off = lamp.bars_off ?? [];
    set({
      bars_off: off.includes(bar)
        ? off.filter((b) => b !== bar)
        : [...off, bar].sort((a, b) => a - b),
    });
  }
</script>

<aside class="grid content-start gap-2 text-[0.9rem]" aria-label="Where the lamps hang">
  <div class="flex items-center gap-2">
    <h2 class="font-semibold">Where the lamps hang</h2>
    <button class="btn btn-sm ml-auto max-sm:min-h-11" onclick={() => (desk.open = false)}
      >Done</button
    >
  </div>
  <div class="flex flex-wrap gap-1" role="group" aria-label="Which lamp">
    {#each desk.lamps as each, i (i)}
      <button
        class="btn btn-sm max-sm:min-h-11"
        class:btn-neutral={i === desk.chosen}
        aria-pressed={i === desk.chosen}
        onclick={() => (desk.chosen = i)}>{i + 1} {name(each.fixture_id)}</button
      >
    {/each}
  </div>
  {#if desk.refused}
    <p class="text-error" role="alert">
      {Object.values(desk.refused.fields)[0] ?? desk.refused.message} The light shown is still that of
      the last arrangement that works.
    </p>
  {/if}
  {#if lamp}
    {#key desk.chosen}
      <div class="grid grid-cols-3 gap-2">
        <Figure
          narrow
          label="From left"
          kind="length"
          bind:value={() => lamp.x_cm, (x) => set({ x_cm: x ?? NaN })}
        />
        <Figure
          narrow
          label="From front"
          kind="length"
          bind:value={() => lamp.y_cm, (y) => set({ y_cm: y ?? NaN })}
        />
        <Figure
          narrow
          label="Turned"
          unit="°"
          bind:value={() => lamp.turn_deg ?? 0, (turn) => set({ turn_deg: turn ?? NaN })}
        />
        <Figure
          narrow
          label="Tilted"
          unit="°"
          bind:value={() => lamp.tilt_deg ?? 0, (tilt) => set({ tilt_deg: tilt ?? NaN })}
        />
        <Figure
          narrow
          label="Higher by"
          kind="length"
          bind:value={() => lamp.raise_cm ?? 0, (up) => set({ raise_cm: up ?? NaN })}
        />
        {#if pieces.length}
          <SelectField
            small
            label="Which one"
            bind:value={() => lamp.piece_id ?? 0, (id) => set({ piece_id: id || null })}
            options={[
              { value: 0, label: "any, as new" },
              ...pieces.map((piece) => ({ value: piece.id, label: piece.name })),
            ]}
          />
        {/if}
        {#if lamp.fixture_id === main}
          <SelectField
            small
            label="Its dial"
            bind:value={
              () => (lamp.own_dial_pct === null ? "rail" : "own"),
              (to) => set({ own_dial_pct: to === "own" ? 100 : null })
            }
            options={[
              { value: "rail", label: "as the plan sets it" },
              { value: "own", label: "its own" },
            ]}
          />
        {/if}
        <SelectField
          small
          label="Set with"
          bind:value={() => lamp.group, (group) => set({ group })}
          options={[
            { value: 0, label: "the plan's levers" },
            ...[1, 2, 3, 4].map((group) => ({
              value: group,
              label: `group ${groupLetter(group)}`,
            })),
          ]}
        />
        {#if lamp.own_dial_pct !== null || lamp.fixture_id !== main}
          <Figure
            narrow
            label="Dial at"
            unit="%"
            bind:value={
              () => lamp.own_dial_pct ?? 100, (dial) => set({ own_dial_pct: dial ?? NaN })
            }
          />
        {/if}
      </div>
      <p class="quiet">
        {#if lamp.group}
          Group {groupLetter(lamp.group)} gets its own dial and timer at each stage: see the button with
          its name on the bench.
        {/if}
        Turned counter-clockwise seen from above; a positive tilt raises its right side. Drag it on the
        floor, or focus it there and use the arrow keys.
      </p>
      {#if lamp.bars_x_cm.length > 1 && fixture?.light_source !== "photometric"}
        <fieldset>
          <legend class="quiet text-sm">Bars lit, left to right before turning</legend>
          <div class="flex flex-wrap gap-1">
            {#each lamp.bars_x_cm as _, bar (bar)}
              {@const lit = !(lamp.bars_off ?? []).includes(bar)}
              <button
                class="btn btn-sm min-w-9 max-sm:min-h-11"
                class:btn-neutral={lit}
                aria-pressed={lit}
                aria-label="Bar {bar + 1} {lit ? 'lit' : 'unplugged'}"
                onclick={() => toggleBar(bar)}>{lit ? bar + 1 : "–"}</button
              >
            {/each}
          </div>
          {#if lamp.bars_off?.length}
            <p class="quiet">
              An unplugged bar is counted to take its share of light and watts; some drivers push
              the current into the others instead. Unplug from the mains first.
            </p>
          {/if}
        </fieldset>
      {/if}
      <div class="flex flex-wrap gap-2">
        <button
          class="btn btn-sm max-sm:min-h-11"
          disabled={desk.lamps.length < 2}
          onclick={() => desk.takeOut(desk.chosen)}>Take it out</button
        >
        <button
          class="btn btn-sm max-sm:min-h-11"
          disabled={!desk.past.length}
          onclick={() => desk.undo()}>Undo</button
        >
        <button class="btn btn-sm btn-ghost max-sm:min-h-11" onclick={() => desk.reset()}
          >One lamp in the middle</button
        >
      </div>
    {/key}
  {/if}
  <div class="flex items-end gap-2">
    <div class="flex-1">
      <SelectField
        small
        label="Hang another"
        bind:value={() => adding || (main ?? 0), (id) => (adding = id)}
        options={fixtures.present.map((f) => ({ value: f.id, label: f.name }))}
      />
    </div>
    <button class="btn btn-sm max-sm:min-h-11" onclick={add}>Add</button>
  </div>
  <span class="sr-only" role="status">{desk.busy ? "Keeping…" : "Kept"}</span>
</aside>
