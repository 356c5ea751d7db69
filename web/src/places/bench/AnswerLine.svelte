<script lang="ts">
  import type { Bench } from "../../api/client";
  import { clock, hours, length, type LengthUnit, trim } from "../../units/format";
  import { relaxedWords, bindingWords, obstacleWords } from "../../parts/words";

  interface Props {
    bench: Bench;
    unit: LengthUnit;
    atPlan: boolean;
    overCap: boolean;
    giveUpCap: (give: boolean) => unknown;
  }
  let { bench, unit, atPlan, overCap, giveUpCap }: Props = $props();

  const o = $derived(bench.outcome);
  const s = $derived(bench.stage);
  const dial = $derived(
    bench.dial.kind === "none" ? "full light" : `dial ${bench.setting.dial_pct}`,
  );
  const side = $derived(o.dli < s.dli_low ? "short of" : o.dli > s.dli_high ? "above" : "inside");
  const over = $derived(o.peak > bench.hot_spot_cap);
  const capInTheWay = $derived(
    bench.solution.obstacles.some((o) => o.change === "higher_cap" || o.change === "more_hours"),
  );
  const failed = $derived(bench.limits.filter((limit) => !limit.holds));
</script>

<div class="pt-1 pb-1.5">
  <h1 class="text-2xl leading-tight">
    {!atPlan ? "You have it at" : bench.solution.fits ? "Hang it at" : "The nearest you can get:"}
    <strong>{length(bench.setting.height_cm, unit)}</strong> above the tops,
    <strong>{dial}</strong>, <strong>{hours(bench.setting.hours)}</strong>
    <span class="quiet text-lg">({clock(bench.on_minute)} to {clock(bench.off_minute)})</span>
  </h1>
  <p class="text-lg" aria-live="polite">
    Mean {Math.round(o.mean)} µmol, DLI <strong>{o.dli.toFixed(1)}</strong>,
    <strong class:text-error={side !== "inside"}
      >{side} {trim(s.dli_low, 1)}–{trim(s.dli_high, 1)}</strong
    >. Brightest spot {Math.round(o.peak)},
    <span class:text-error={over}
      >{over ? "over" : "under"} the cap of {Math.round(bench.hot_spot_cap)}</span
    >.
    {#if failed.length && failed.some((f) => f.name === "evenness")}
      <span class="text-error"
        >Dimmest spot {o.evenness.toFixed(2)} of the mean, wanted {s.evenness_goal}.</span
      >
    {/if}
  </p>
  <div>
    {#if bench.daylight_dli > 0}
      <p class="quiet">
        Daylight brings {trim(bench.daylight_dli, 1)} of it; the lamp supplies the rest.
      </p>
    {/if}
    {#if bench.night_conflict}
      <p class="text-error" role="alert">{bench.night_conflict}</p>
    {/if}
    {#if bench.solution.fits}
      <p class="quiet">{bindingWords(bench.solution.binding)}</p>
    {:else}
      <p class="text-warning">
        Nothing meets every target here, so the plan gives up {relaxedWords(
          bench.solution.relaxed,
        )}.
        {#each bench.solution.obstacles as obstacle (obstacle.name)}
          {obstacleWords(obstacle)}
        {/each}
      </p>
    {/if}
    {#if overCap}
      <p class="text-warning">
        The hot-spot cap is given up, as you asked: watch the tops for bleaching.
        <button class="link" onclick={() => giveUpCap(false)}>Hold the cap again</button>
      </p>
    {:else if capInTheWay}
      <button class="link" onclick={() => giveUpCap(true)}>Plan without the hot-spot cap</button>
    {/if}
  </div>
</div>
