<script lang="ts">
  import type { SpacePower } from "../../api/client";
  import Figure from "../../parts/form/Figure.svelte";
  import { newForm } from "../../parts/form/form.svelte";
  import SaveRow from "../../parts/form/SaveRow.svelte";
  import SelectField from "../../parts/form/SelectField.svelte";
  import { keepRoom } from "./power.svelte";

  interface Props {
    room: SpacePower;
    kept: (room: SpacePower) => void;
  }
  let { room, kept }: Props = $props();
  const form = newForm();
  // svelte-ignore state_referenced_locally
  let mount = $state({ ...room.mount });
  // svelte-ignore state_referenced_locally
  let air = $state({ ...room.air });

  const CORNERS = [
    { value: "front-left", label: "front left" },
    { value: "front-right", label: "front right" },
    { value: "back-left", label: "back left" },
    { value: "back-right", label: "back right" },
  ] as const;
  const HANGERS = [
    { value: 0, label: "by the lamp's size" },
    { value: 1, label: "1" },
    { value: 2, label: "2" },
    { value: 4, label: "4" },
  ] as const;
  const DRIVERS = [
    { value: "", label: "as the lamp's record says" },
    { value: "yes", label: "outside the space" },
    { value: "no", label: "in the space" },
  ] as const;

  async function send(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    await form.send(async () => {
      const body = {
        circuit_id: room.circuit_id,
        mount: $state.snapshot(mount),
        air: $state.snapshot(air),
      };
      kept(await keepRoom(room.space_id, room.version, body));
    });
  }
</script>

<section class="bg-base-200 rounded-box p-4" aria-labelledby="room-title">
  <h2 id="room-title" class="text-lg font-semibold">What carries and cools the lamps</h2>
  <form class="grid gap-2" onsubmit={send} novalidate>
    <div class="flex flex-wrap gap-2">
      <Figure
        narrow
        kind="weight"
        label="The frame is rated for"
        bind:value={mount.rating_kg}
        name="mount.rating_kg"
      />
      <Figure
        narrow
        kind="weight"
        label="Hangs there besides"
        bind:value={mount.besides_kg}
        name="mount.besides_kg"
      />
      <SelectField
        small
        label="Hangers each"
        bind:value={
          () => mount.hangers ?? 0, (v) => (mount.hangers = v === 0 ? null : (v as 1 | 2 | 4))
        }
        options={[...HANGERS]}
      />
      <SelectField
        small
        label="Drivers"
        bind:value={
          () => (mount.drivers_outside == null ? "" : mount.drivers_outside ? "yes" : "no"),
          (v) => (mount.drivers_outside = v === "" ? null : v === "yes")
        }
        options={[...DRIVERS]}
      />
    </div>
    <div class="flex flex-wrap gap-2">
      <SelectField
        small
        label="Cords leave by the pole"
        bind:value={() => mount.corner ?? "back-left", (v) => (mount.corner = v)}
        options={[...CORNERS]}
      />
      <Figure
        narrow
        kind="length"
        label="Socket above the floor"
        bind:value={mount.socket_cm}
        name="mount.socket_cm"
      />
      <Figure
        narrow
        kind="length"
        label="and from that pole"
        bind:value={mount.away_cm}
        name="mount.away_cm"
      />
      <Figure
        narrow
        label="A reflective sheet costs"
        bind:value={mount.sheet_price}
        name="mount.sheet_price"
      />
    </div>
    <div class="flex flex-wrap gap-2">
      <Figure
        narrow
        label="Fan moves (m³/h)"
        bind:value={air.fan_m3_h}
        name="air.fan_m3_h"
        hint="1 CFM is 1.7 m³/h"
      />
      <Figure
        narrow
        label="Room's own air (m³/h)"
        bind:value={air.room_m3_h}
        name="air.room_m3_h"
      />
      <Figure
        narrow
        kind="warmer"
        label="Tent may be warmer by"
        bind:value={air.wanted_rise_k}
        name="air.wanted_rise_k"
      />
      <Figure
        narrow
        label="Other heat in the tent"
        unit="W"
        bind:value={air.other_watts}
        name="air.other_watts"
      />
      <Figure
        narrow
        kind="share"
        label="Lit hours with heating on"
        bind:value={air.heated_share}
        name="air.heated_share"
      />
      <Figure
        narrow
        label="A kWh of heat costs"
        bind:value={air.heat_per_kwh}
        name="air.heat_per_kwh"
      />
    </div>
    <SaveRow {form} />
  </form>
</section>
