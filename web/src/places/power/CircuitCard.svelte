<script lang="ts">
  import { circuits } from "../../api/circuits.svelte";
  import type { Power, SpacePower } from "../../api/client";
  import { attempt, notice } from "../../parts/notice.svelte";
  import PutAway from "../../parts/PutAway.svelte";
  import { trim } from "../../units/format";
  import CircuitForm from "./CircuitForm.svelte";
  import { keepRoom } from "./power.svelte";

  interface Props {
    power: Power;
    room: SpacePower | null;
    kept: (room: SpacePower) => void;
    changed: () => void;
  }
  let { power, room, kept, changed }: Props = $props();

  const circuit = $derived(power.circuit);
  const row = $derived(circuits.of(room?.circuit_id));
  let editing = $state<"no" | "new" | "this">("no");
  const PARTS: Record<string, string> = {
    breaker: "Breaker",
    continuous: "Of it for hours",
    plug: "Plug",
    strip: "Strip",
    timer: "Timer's contacts",
    cord: "First cord of the chain",
    lead: "Extension lead",
  };

  async function choose(id: number | null): Promise<void> {
    if (!room) return;
    const { mount, air, space_id, version } = room;
    await attempt(async () =>
      kept(await keepRoom(space_id, version, { circuit_id: id, mount, air })),
    );
  }
  async function putAway(): Promise<void> {
    if (!row) return;
    const { id, name } = row;
    if (await attempt(() => circuits.putAway(id, true))) {
      await choose(null);
      notice.say(`${name} is put away.`, () => circuits.putAway(id, false));
    }
  }
</script>

<section class="bg-base-200 rounded-box grid gap-2 p-4" aria-labelledby="circuit-title">
  <div class="flex flex-wrap items-center gap-2">
    <h2 id="circuit-title" class="text-lg font-semibold">Circuit</h2>
    {#if circuits.present.length}
      <select
        class="select select-sm w-auto max-sm:min-h-11"
        aria-label="Circuit of this space"
        value={room?.circuit_id ?? ""}
        onchange={(event) => choose(Number(event.currentTarget.value) || null)}
      >
        <option value="">not said</option>
        {#each circuits.present as each (each.id)}<option value={each.id}>{each.name}</option
          >{/each}
      </select>
    {/if}
    <span class="ml-auto flex gap-1">
      {#if row}<button
          class="btn btn-sm btn-ghost max-sm:min-h-11"
          onclick={() => (editing = editing === "this" ? "no" : "this")}>Change it</button
        >
        <button class="btn btn-sm btn-ghost max-sm:min-h-11" onclick={putAway}>Put it away</button
        >{/if}
      <button
        class="btn btn-sm max-sm:min-h-11"
        onclick={() => (editing = editing === "new" ? "no" : "new")}>Add a circuit</button
      >
    </span>
  </div>
  {#if editing !== "no"}
    {#key `${editing} ${row?.id}`}
      <CircuitForm
        circuit={editing === "this" ? row : null}
        done={async (made) => {
          editing = "no";
          if (room?.circuit_id === made.id) changed();
          else await choose(made.id);
        }}
      />
    {/key}
  {/if}
  {#if !circuit}
    <p>
      What the lamps hang on is not said: add the circuit, with its breaker, its timer and what else
      runs on it, and every limit is checked here.
    </p>
  {:else}
    {@const total = circuit.check.total}
    <p>
      <strong
        >{trim(total.volts, 0)} V · {trim(total.amps, 2)} A · {Math.round(total.watts)} W ·
        {Math.round(total.va)} VA · power factor {trim(total.power_factor, 2)}</strong
      >
      with everything on at full power{total.measured ? ", as measured" : ""}.
    </p>
    <div class="grid gap-x-6 gap-y-2 sm:grid-cols-2">
      <ul aria-label="Limits">
        {#each circuit.check.strains as each (each.part)}
          <li class={each.over ? "text-error font-semibold" : ""}>
            {PARTS[each.part]}: {trim(each.drawn_a, 1)} of {trim(each.limit_a, 1)} A {each.over
              ? "– over"
              : ""}
          </li>
        {/each}
        {#if circuit.check.drop_volts !== null}
          <li>The lead loses {trim(circuit.check.drop_volts, 1)} V</li>
        {/if}
      </ul>
      <ul aria-label="What is on it">
        {#each circuit.loads as each, i (i)}
          <li>
            {each.name}: {Math.round(each.watts)} W, {trim(each.amps, 2)} A{each.measured
              ? " measured"
              : ""}{each.timed ? ", on the timer" : ""}
          </li>
        {/each}
      </ul>
    </div>
    {#if circuit.check.starts.length > 1}
      <p>
        Start them apart: {circuit.check.starts.map((group) => group.join(" + ")).join(", then ")}.
      </p>
    {/if}
    <p class="quiet">
      {power.watts_lowest > 0
        ? "The dial does not switch the lamp off: its timer or its strip does. "
        : ""}Check your local code; a licensed electrician has the last word.
    </p>
  {/if}
  <PutAway noun="circuit" rows={circuits.away} bringBack={(id) => circuits.putAway(id, false)} />
</section>
