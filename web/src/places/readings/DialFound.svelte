<script lang="ts">
  import { asRefusal, type DialCurve } from "../../api/client";
  import { fixtures } from "../../api/fixtures.svelte";
  import { garden } from "../../api/garden.svelte";
  import { account } from "../../api/grower.svelte";
  import { fits } from "../../api/readings.svelte";
  import { attempt, notice } from "../../parts/notice.svelte";
  import { percent, trim } from "../../units/format";
  import { worded } from "../../words/said";
  import type { Walk } from "./walk.svelte";

  let { walk }: { walk: Walk } = $props();

  let curve = $state.raw<DialCurve | null>(null);
  let sentence = $state("");

  /** At each of the dial's steps the light at its spots, daylight off. */
  const rows = $derived.by(() => {
    const five = walk.spots.length / Math.max(walk.layout.dials.length, 1);
    return walk.layout.dials.flatMap((position_pct, step) => {
      const ppfd = Array.from({ length: five }, (_, i) => {
        const taken = walk.read[step * five + i];
        return taken ? Math.max(walk.net(taken), 0) : null;
      });
      return ppfd.some((value) => value !== null) ? [{ position_pct, watts: null, ppfd }] : [];
    });
  });
  $effect(() => {
    const asked = rows;
    if (asked.length < 2) {
      curve = null;
      return;
    }
    const wait = setTimeout(() => {
      fits
        .dial(asked)
        .then((told) => ([curve, sentence] = [told, ""]))
        .catch((error: unknown) => ([curve, sentence] = [null, asRefusal(error).message]));
    }, 300);
    return () => clearTimeout(wait);
  });

  const lamp = $derived(garden.fixture);
  async function keep(): Promise<void> {
    if (!curve || !lamp) return;
    const before = lamp;
    const dial_table = curve.points.map(({ row }) => ({
      position_pct: row.position_pct,
      watts_fraction: Number(row.watts_fraction.toFixed(4)),
      light_fraction: Number(row.light_fraction.toFixed(4)),
    }));
    const origins = { ...lamp.origins, dial_table: "measured" as const };
    await attempt(async () => {
      const kept = await fixtures.save(before.id, { ...before, dial_table, origins });
      notice.say(`${kept.name} dims as you measured it.`, () => fixtures.save(before.id, before));
    });
  }
</script>

{#if sentence}<p class="text-error" role="alert">{sentence}</p>{/if}
{#if curve}
  <section class="bg-base-200 rounded-box grid gap-2 p-4" aria-label="The dial as measured">
    <h2 class="font-semibold">The dial as measured</h2>
    <table class="w-full max-w-md tabular-nums">
      <thead>
        <tr>
          <th scope="col" class="text-left">Dial</th>
          <th scope="col" class="text-right">light, of full</th>
          <th scope="col" class="text-right">90 % inside</th>
        </tr>
      </thead>
      <tbody>
        {#each curve.points as point (point.row.position_pct)}
          <tr>
            <td>{trim(point.row.position_pct, 1)}</td>
            <td class="text-right">{percent(point.row.light_fraction)}</td>
            <td class="text-right">{percent(point.light_low)}–{percent(point.light_high)}</td>
          </tr>
        {/each}
      </tbody>
    </table>
    {#each curve.notes as note, i (i)}<p class="text-warning">
        {worded(note, account.unit)}
      </p>{/each}
    {#if lamp}
      <div>
        <button class="btn bg-base-100 max-sm:min-h-11" onclick={keep}
          >{lamp.name} dims like this</button
        >
      </div>
    {/if}
  </section>
{/if}
