<script lang="ts">
  import { answer, client, type Bench } from "../../api/client";
  import { newKey } from "../../api/key";
  import Figure from "../../parts/form/Figure.svelte";
  import SelectField from "../../parts/form/SelectField.svelte";
  import { attempt } from "../../parts/notice.svelte";
  import { percent, trim } from "../../units/format";

  interface Props {
    runId: number;
    bench: Bench;
    /** What was set is kept: the bench is asked anew. */
    settled: () => void;
    close: () => void;
  }
  let { runId, bench, settled, close }: Props = $props();

  type Switch = Bench["switches"][number];
  type How = "with" | "own" | "off";
  const how = (one: Switch): How =>
    one.dial_pct === null ? "with" : one.dial_pct === 0 ? "off" : "own";
  const highest = $derived(bench.dial.marks.at(-1)?.position_pct ?? 100);

  async function put(one: Switch, dial_pct: number | null): Promise<void> {
    if (Number.isNaN(dial_pct)) return;
    const params = {
      path: { run_id: runId, stage_id: bench.stage.id, switch: one.number },
      header: { "Idempotency-Key": newKey() },
    };
    const path = "/api/runs/{run_id}/stages/{stage_id}/switches/{switch}" as const;
    const body = { from_day: bench.from_day, dial_pct };
    if (await attempt(() => answer(client.PUT(path, { params, body })))) settled();
  }
  const choose = (one: Switch, to: How): Promise<void> =>
    put(one, to === "off" ? 0 : to === "own" ? highest : null);
</script>

<section class="grid content-start gap-3 text-[0.9rem]" aria-labelledby="switches-title">
  <div class="flex items-center gap-2">
    <h2 id="switches-title" class="font-semibold">The lamp's switches at this stage</h2>
    <button class="btn btn-sm ml-auto max-sm:min-h-11" onclick={close}>Back to the floor</button>
  </div>
  <p>
    <strong>{Math.round(bench.outcome.watts)} W</strong> at the plug, {Math.round(
      bench.outcome.mean,
    )} µmol/m²/s on the tops.
    {#if bench.colour}
      {#if bench.colour.red_blue === null}No blue in it{:else}Red to blue
        <strong>{trim(bench.colour.red_blue, 1)} to 1</strong>{/if}, far red {percent(
        bench.colour.far_red_share,
      )}. A lux meter: divide by <strong>{bench.colour.lux_per_umol.toFixed(1)}</strong>.
    {/if}
    {#if bench.fan !== null}
      {bench.fan ? "Its fan runs." : "Its fan stands still."}
    {/if}
  </p>
  {#each bench.switches as one (one.number)}
    <fieldset class="grid gap-2">
      <legend class="font-semibold"
        >{one.name}: {percent(one.light_share)} of its light, {percent(one.watts_share)} of its watts{one.fan
          ? ", its fan with it"
          : ""}</legend
      >
      <div class="flex flex-wrap items-start gap-2">
        <SelectField
          small
          label="{one.name}, now"
          bind:value={() => how(one), (to) => void choose(one, to)}
          options={one.dimmed
            ? [
                { value: "with", label: "on, its dial as the plan's" },
                { value: "own", label: "on, its dial held" },
                { value: "off", label: "off" },
              ]
            : [
                { value: "with", label: "on" },
                { value: "off", label: "off" },
              ]}
        />
        {#if how(one) === "own" && one.dimmed}
          <Figure
            narrow
            label="Dial of {one.name}"
            unit="%"
            bind:value={() => one.dial_pct, (dial) => void put(one, dial || NaN)}
          />
        {/if}
      </div>
    </fieldset>
  {/each}
  <p class="quiet">
    The plan turns the dials that go with it, round what the others give. Where on the lamp the
    light comes from stays as it is: parts of all switches are taken to lie among one another.
  </p>
</section>
