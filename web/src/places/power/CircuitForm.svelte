<script lang="ts">
  import { circuits } from "../../api/circuits.svelte";
  import type { Circuit, CircuitIn, CircuitPreset, Load } from "../../api/client";
  import { answer, client } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import Field from "../../parts/form/Field.svelte";
  import Figure from "../../parts/form/Figure.svelte";
  import { newForm } from "../../parts/form/form.svelte";
  import SaveRow from "../../parts/form/SaveRow.svelte";
  import { attempt } from "../../parts/notice.svelte";

  interface Props {
    circuit: Circuit | null;
    done: (made: Circuit) => void;
  }
  let { circuit, done }: Props = $props();
  const form = newForm();

  const EMPTY: CircuitIn = {
    name: "",
    volts: 230,
    breaker_a: 16,
    continuous_share: 0.8,
    chained: false,
    loads: [],
    origins: {},
  };
  function given(): CircuitIn {
    if (!circuit) return EMPTY;
    const { id: _i, version: _v, removed: _r, ...body } = circuit;
    return body;
  }
  let body = $state<CircuitIn>(given());
  let presets = $state<CircuitPreset[]>([]);
  $effect(() => {
    void attempt(async () => {
      presets = await answer(client.GET("/api/spaces/circuits/presets"));
    });
  });
  const LIMITS = [
    { name: "breaker_a", label: "Breaker" },
    { name: "plug_a", label: "Plug" },
    { name: "strip_a", label: "Strip" },
    { name: "timer_a", label: "Timer" },
    { name: "cord_a", label: "Lamp's cord" },
  ] as const;
  const ORIGINS = [
    { value: "", label: "nobody said" },
    { value: "usual", label: "usual" },
    { value: "label", label: "read on it" },
    { value: "code", label: "local code" },
    { value: "assumed", label: "a guess" },
  ] as const;
  type Limit = (typeof LIMITS)[number]["name"];
  type Origin = NonNullable<NonNullable<CircuitIn["origins"]>[Limit]>;
  function take(preset: CircuitPreset): void {
    const origins = Object.fromEntries(LIMITS.map(({ name }) => [name, "usual" as const]));
    body = { ...body, ...preset, origins: { ...origins, continuous_share: "usual" } };
  }
  function setLimit(name: Limit, value: number | null): void {
    // another figure is no longer the usual one
    const origins = { ...body.origins };
    if (origins[name] === "usual") origins[name] = "label";
    body = { ...body, [name]: value, origins };
  }
  function setOrigin(name: Limit, value: string): void {
    const others = Object.entries(body.origins ?? {}).filter(([known]) => known !== name);
    const own = value ? [[name, value as Origin]] : [];
    body = { ...body, origins: Object.fromEntries([...others, ...own]) };
  }
  const load = (i: number, part: Partial<Load>): void => {
    body.loads = (body.loads ?? []).map((each, k) => (k === i ? { ...each, ...part } : each));
  };
  function addLoad(): void {
    const fresh = { name: "Fan", watts: 30, power_factor: 0.9, count: 1, duty: 1, hours: 24 };
    body.loads = [...(body.loads ?? []), { ...fresh, timed: false }];
  }
  async function send(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    let made: Circuit | null = null;
    const kept = await form.send(async () => {
      made = await circuits.save(circuit?.id ?? null, $state.snapshot(body));
    });
    if (kept && made) done(made);
  }
  /** What is typed is what counts; the copper is reckoned from it when it is kept. */
  function gauge(value: number | null | undefined): void {
    body = { ...body, lead_gauge: value ?? null, lead_mm2: null };
  }
  const feet = $derived(account.unit === "in");
</script>

<form class="border-base-300 grid gap-2 rounded-md border p-3" onsubmit={send} novalidate>
  <div class="flex flex-wrap items-end gap-2">
    <div class="w-48"><Field small label="Its name" bind:value={body.name} name="name" /></div>
    {#each presets as preset (preset.volts)}
      <button type="button" class="btn btn-sm mb-1 max-sm:min-h-11" onclick={() => take(preset)}
        >Usual {preset.volts} V circuit</button
      >
    {/each}
  </div>
  <div class="flex flex-wrap gap-2">
    <Figure narrow label="Volts" unit="V" bind:value={body.volts} name="volts" />
    {#each LIMITS as { name, label } (name)}
      <div class="grid content-start">
        <Figure
          narrow
          {label}
          unit="A"
          bind:value={() => body[name], (v) => setLimit(name, v ?? null)}
          {name}
        />
        <select
          class="select select-xs max-sm:min-h-11"
          aria-label="Where {label} is from"
          value={body.origins?.[name] ?? ""}
          onchange={(event) => setOrigin(name, event.currentTarget.value)}
        >
          {#each ORIGINS as origin (origin.value)}<option value={origin.value}
              >{origin.label}</option
            >{/each}
        </select>
      </div>
    {/each}
    <Figure
      narrow
      kind="share"
      label="Of the breaker, for hours"
      bind:value={body.continuous_share}
      name="continuous_share"
    />
    <Figure
      narrow
      label={feet ? "Lead (feet)" : "Lead (m)"}
      bind:value={
        () => (body.lead_m == null ? null : feet ? body.lead_m / 0.3048 : body.lead_m),
        (v) => (body.lead_m = v == null ? null : feet ? v * 0.3048 : v)
      }
      name="lead_m"
    />
    {#if feet}
      <Figure
        narrow
        label="Its wire gauge"
        bind:value={() => body.lead_gauge, gauge}
        name={["lead_gauge", "lead_mm2"]}
      />
    {:else}
      <Figure narrow label="Its copper (mm²)" bind:value={body.lead_mm2} name="lead_mm2" />
    {/if}
  </div>
  <label class="flex items-center gap-2">
    <input type="checkbox" class="checkbox" bind:checked={body.chained} /> Lamps hang one on another's
    cord
  </label>
  <fieldset class="grid gap-1">
    <legend class="font-medium">What else runs on it</legend>
    {#each body.loads ?? [] as each, i (i)}
      <div class="flex flex-wrap items-end gap-2" role="group" aria-label="Load {i + 1}">
        <div class="w-36">
          <Field
            small
            label="What"
            bind:value={() => each.name, (v) => load(i, { name: v })}
            name="loads.{i}.name"
          />
        </div>
        <Figure
          narrow
          label="Watts"
          unit="W"
          bind:value={() => each.watts, (v) => load(i, { watts: v ?? NaN })}
          name="loads.{i}.watts"
        />
        <Figure
          narrow
          label="Amps, if read"
          unit="A"
          bind:value={() => each.amps, (v) => load(i, { amps: v ?? null })}
          name="loads.{i}.amps"
        />
        <Figure
          narrow
          label="Power factor"
          bind:value={() => each.power_factor, (v) => load(i, { power_factor: v ?? NaN })}
          name="loads.{i}.power_factor"
        />
        <Figure
          narrow
          kind="share"
          label="Of the time"
          bind:value={() => each.duty, (v) => load(i, { duty: v ?? NaN })}
          name="loads.{i}.duty"
        />
        <label class="flex items-center gap-2 pb-2"
          ><input
            type="checkbox"
            class="checkbox checkbox-sm"
            checked={each.timed}
            onchange={(event) => load(i, { timed: event.currentTarget.checked })}
          /> on the timer</label
        >
        <button
          type="button"
          class="btn btn-sm btn-ghost mb-1 max-sm:min-h-11"
          aria-label="Take out load {i + 1}"
          onclick={() => (body.loads = (body.loads ?? []).filter((_, k) => k !== i))}
          >Take out</button
        >
      </div>
    {/each}
    <div>
      <button type="button" class="btn btn-sm max-sm:min-h-11" onclick={addLoad}
        >Add fan, heater, pump…</button
      >
    </div>
  </fieldset>
  <p class="quiet">
    The usual figures are a beginning: what stands on the parts counts, and your local code.
  </p>
  <SaveRow {form} />
</form>
