<script lang="ts">
  import type { FitFound } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { length, percent } from "../../units/format";

  let { found }: { found: FitFound } = $props();

  /** What the cells show. */
  let shows = $state<"light" | "change" | "sure">("light");
  let spot = $state<{ i: number; j: number } | null>(null);

  const nx = $derived(found.x_cm.length);
  const ny = $derived(found.y_cm.length);
  const at = $derived(spot ?? { i: Math.floor(nx / 2), j: Math.floor(ny / 2) });
  const of = (rows: number[][], { i, j }: { i: number; j: number }): number => rows[j]?.[i] ?? 0;
  const most = $derived(Math.max(...found.ppfd.flat(), 1));

  function cell(i: number, j: number): { text: string; light: number } {
    const light = of(found.ppfd, { i, j });
    if (shows === "light") return { text: String(Math.round(light)), light: light / most };
    if (shows === "change") {
      const change = light / Math.max(of(found.planned, { i, j }), 1e-9) - 1;
      return {
        text: `${change < 0 ? "−" : "+"}${Math.round(Math.abs(change) * 100)}`,
        light: Math.min(Math.abs(change) / 0.3, 1),
      };
    }
    const wide = (of(found.high, { i, j }) - of(found.low, { i, j })) / 2 / Math.max(light, 1e-9);
    return { text: `±${Math.round(wide * 100)}`, light: Math.min(wide / 0.3, 1) };
  }
  const SHOWS = [
    ["light", "light"],
    ["change", "against the plan, %"],
    ["sure", "how sure, %"],
  ] as const;

  /** So many figures as can be read. */
  const step = $derived(Math.max(Math.ceil(Math.max(nx, ny) / 9), 1));
  const some = (count: number): number[] => {
    const middle = Math.floor(count / 2);
    return Array.from({ length: count }, (_, k) => k).filter((k) => (k - middle) % step === 0);
  };
</script>

<div class="grid gap-1">
  <div class="flex flex-wrap items-center justify-between gap-2">
    <h3 class="font-semibold">The floor, as the readings have it</h3>
    <div class="join" role="group" aria-label="Cells show">
      {#each SHOWS as [key, label] (key)}
        <button
          class="btn join-item btn-xs max-sm:min-h-11"
          class:btn-neutral={shows === key}
          aria-pressed={shows === key}
          onclick={() => (shows = key)}>{label}</button
        >
      {/each}
    </div>
  </div>
  <div class="overflow-x-auto">
    <table class="cells mx-auto" aria-label="The floor from above, back row first">
      <tbody>
        {#each some(ny).reverse() as j (j)}
          <tr>
            {#each some(nx) as i (i)}
              {@const found_ = cell(i, j)}
              <td class="shade{Math.round(found_.light * 8)}" class:at={at.i === i && at.j === j}>
                <button
                  class="w-full px-1.5 py-0.5 max-sm:min-h-9"
                  aria-label="{length(found.x_cm[i] ?? 0, account.unit)} from the left, {length(
                    found.y_cm[j] ?? 0,
                    account.unit,
                  )} from the front: {found_.text}"
                  onclick={() => (spot = { i, j })}>{found_.text}</button
                >
              </td>
            {/each}
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
  <p class="text-sm" aria-live="polite">
    {length(found.x_cm[at.i] ?? 0, account.unit)} from the left, {length(
      found.y_cm[at.j] ?? 0,
      account.unit,
    )} from the front:
    <strong>{Math.round(of(found.ppfd, at))} µmol</strong>, nine times in ten {Math.round(
      of(found.low, at),
    )}–{Math.round(of(found.high, at))}; planned {Math.round(of(found.planned, at))} ({percent(
      of(found.ppfd, at) / Math.max(of(found.planned, at), 1e-9),
    )} of it).
  </p>
</div>

<style>
  .cells {
    border-collapse: collapse;
    font-variant-numeric: tabular-nums;
  }
  td {
    border: 1px solid var(--quiet);
    text-align: center;
    min-width: 2.6rem;
    background: var(--color-base-100);
  }
  .at {
    outline: 3px solid var(--color-primary);
    outline-offset: -1px;
  }
  .shade1 {
    background: color-mix(in srgb, var(--color-base-100), var(--light) 8%);
  }
  .shade2 {
    background: color-mix(in srgb, var(--color-base-100), var(--light) 16%);
  }
  .shade3 {
    background: color-mix(in srgb, var(--color-base-100), var(--light) 24%);
  }
  .shade4 {
    background: color-mix(in srgb, var(--color-base-100), var(--light) 32%);
  }
  .shade5 {
    background: color-mix(in srgb, var(--color-base-100), var(--light) 40%);
  }
  .shade6 {
    background: color-mix(in srgb, var(--color-base-100), var(--light) 48%);
  }
  .shade7 {
    background: color-mix(in srgb, var(--color-base-100), var(--light) 56%);
  }
  .shade8 {
    background: color-mix(in srgb, var(--color-base-100), var(--light) 64%);
  }
</style>
