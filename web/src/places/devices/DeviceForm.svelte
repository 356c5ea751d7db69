<script lang="ts">
  import { circuits } from "../../api/circuits.svelte";
  import type { Device, DeviceIn, DeviceMade } from "../../api/client";
  import { devices } from "../../api/devices.svelte";
  import { fixtures } from "../../api/fixtures.svelte";
  import { garden } from "../../api/garden.svelte";
  import { spaces } from "../../api/spaces.svelte";
  import Field from "../../parts/form/Field.svelte";
  import Figure from "../../parts/form/Figure.svelte";
  import { newForm } from "../../parts/form/form.svelte";
  import SaveRow from "../../parts/form/SaveRow.svelte";
  import SelectField from "../../parts/form/SelectField.svelte";
  import { KIND } from "../../words/devices";

  interface Props {
    device: Device | null;
    made?: (made: DeviceMade) => void;
    done: () => void;
  }
  let { device, made, done }: Props = $props();
  const form = newForm();

  // svelte-ignore state_referenced_locally
  let name = $state(device?.name ?? "");
  // svelte-ignore state_referenced_locally
  let kind = $state<Device["kind"]>(device?.kind ?? "meter");
  // svelte-ignore state_referenced_locally
  let off_above_c = $state<number | null>(device?.off_above_c ?? null);

  /** Where it belongs, as one word: what kind of thing, and which. */
  function placeOf(row: Device | null): string {
    if (row?.piece_id != null) return `piece-${row.fixture_id}-${row.piece_id}`;
    if (row?.fixture_id != null) return `fixture-${row.fixture_id}`;
    if (row?.circuit_id != null) return `circuit-${row.circuit_id}`;
    return `space-${row?.space_id ?? garden.choice.space_id ?? spaces.present[0]?.id ?? 0}`;
  }
  // svelte-ignore state_referenced_locally
  let place = $state(placeOf(device));

  const places = $derived([
    ...spaces.present.map((row) => ({ value: `space-${row.id}`, label: `Space: ${row.name}` })),
    ...fixtures.present.flatMap((row) => [
      { value: `fixture-${row.id}`, label: `Lamp: ${row.name}` },
      ...row.pieces.map((piece) => ({
        value: `piece-${row.id}-${piece.id}`,
        label: `Lamp: ${row.name}, ${piece.name}`,
      })),
    ]),
    ...circuits.present.map((row) => ({
      value: `circuit-${row.id}`,
      label: `Circuit: ${row.name}`,
    })),
  ]);
  function body(): DeviceIn {
    const [what, first, second] = place.split("-");
    const at = { space: "space_id", fixture: "fixture_id", circuit: "circuit_id" } as const;
    const given: DeviceIn = { name, kind, off_above_c: kind === "controller" ? off_above_c : null };
    if (what === "piece") return { ...given, fixture_id: Number(first), piece_id: Number(second) };
    return { ...given, [at[what as keyof typeof at]]: Number(first) };
  }
  async function send(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    const kept = await form.send(async () => {
      if (device) await devices.change(device.id, body());
      else made?.(await devices.add(body()));
    });
    if (kept) done();
  }
  const kinds = Object.entries(KIND).map(([value, label]) => ({
    value: value as Device["kind"],
    label,
  }));
</script>

<form class="grid gap-2" onsubmit={send} novalidate>
  <div class="flex flex-wrap items-start gap-3">
    <div class="w-48 max-sm:w-full"><Field label="Its name" bind:value={name} name="name" /></div>
    <div class="w-48 max-sm:w-full">
      <SelectField label="What it is" bind:value={kind} options={kinds} name="kind" />
    </div>
    <div class="w-72 max-sm:w-full">
      <SelectField
        label="Where it belongs"
        bind:value={place}
        options={places}
        name="space_id"
        hint={kind === "meter"
          ? "A space's or a lamp's meter shows the lamps alone; a circuit's all that runs on it."
          : undefined}
      />
    </div>
    {#if kind === "controller"}
      <Figure
        label="Switches off above, if it does"
        kind="temperature"
        bind:value={off_above_c}
        name="off_above_c"
      />
    {/if}
  </div>
  <SaveRow {form} label={device ? "Keep" : "Add it"} />
</form>
