<script lang="ts">
  import type { Bench, LimitName, Run } from "../../api/client";
  import { windowsWords, hang, hours, type LengthUnit, trim } from "../../units/format";
  import {
    apart,
    bandWords,
    bindingWords,
    chanceWords,
    obstacleWords,
    relaxedWords,
  } from "../../words/reasons";
  import Term from "../../parts/Term.svelte";
  import { groupsWords } from "../../words/groups";
  import { switchesWords } from "../../words/switches";
  import { worded } from "../../words/said";

  interface Props {
    bench: Bench;
    unit: LengthUnit;
    atPlan: boolean;
    aim: Run["aim"];
    overCap: boolean;
    giveUpCap: (give: boolean) => unknown;
  }
  let { bench, unit, atPlan, aim, overCap, giveUpCap }: Props = $props();

  const o = $derived(bench.outcome);
  const s = $derived(bench.stage);
  const watts = $derived(`${Math.round(o.watts)} W`);
  const dial = $derived(
    { none: "full light", unmarked: `${watts} by the meter` }[bench.dial.kind as string] ??
      `dial ${bench.setting.dial_pct}`,
  );
  const missed = (name: LimitName): boolean =>
    bench.limits.some((limit) => limit.name === name && !limit.holds);
  const side = $derived(missed("dli_low") ? "short of" : missed("dli_high") ? "above" : "inside");
  const dli = $derived(
    side === "inside"
      ? o.dli.toFixed(1)
      : apart(o.dli, side === "above" ? s.dli_high : s.dli_low, 1)[0],
  );
  const over = $derived(missed("hot_spot_cap"));
  const peak = $derived(apart(o.peak, bench.hot_spot_cap, 0));
  const even = $derived(apart(o.evenness, s.evenness_goal ?? 0, 2));
  const plan = $derived(bench.solution);
  const daylight = $derived(bench.daylight_dli - bench.above_dli);
</script>

<div class="pt-1 pb-1.5">
  <h1 class="text-2xl leading-tight">
    {!atPlan ? "You have it at" : bench.solution.fits ? "Hang it at" : "The nearest you can get:"}
    <strong>{hang(bench.setting.height_cm, unit)}</strong> above the tops
    <span class="quiet text-lg">({hang(bench.rehang.above_floor_cm, unit)} above the floor)</span>,
    <strong>{dial}</strong>{#if bench.dial.kind !== "unmarked"}<span class="quiet ml-1.5 text-lg">
        ({watts})</span
      >{/if}, <strong>{hours(bench.setting.hours)}</strong>
    <span class="quiet text-lg">({windowsWords(bench.windows)})</span>
  </h1>
  <p class="text-lg" aria-live="polite">
    <Term of="mean">Mean</Term>
    {Math.round(o.mean)}
    <Term of="ppfd">µmol/m²/s</Term>, <Term of="dli">DLI</Term>
    <strong>{dli}</strong> mol/m²,
    <strong class:text-error={side !== "inside"}
      >{side} {bandWords(s.dli_low, s.dli_high, 1)}</strong
    >. Brightest spot {peak[0]},
    <span class:text-error={over}
      >{over ? "over" : peak[0] === peak[1] ? "at" : "under"} the <Term of="cap">cap</Term> of {peak[1]}</span
    >.
    {#if missed("ppfd_low") || missed("ppfd_high")}
      <span class="text-error"
        >The mean is {missed("ppfd_low") ? "short of" : "above"}
        {bandWords(s.ppfd_low ?? 0, s.ppfd_high ?? 0, 0)}.</span
      >
    {/if}
    {#if missed("evenness")}
      <span class="text-error">Dimmest spot {even[0]} of the mean, wanted {even[1]}.</span>
    {/if}
  </p>
  <div>
    {#if daylight > 0.005}
      <p class="quiet">Daylight brings {trim(daylight, 1)} of it; the lamp supplies the rest.</p>
    {/if}
    {#if bench.above_dli > 0}
      <p class="quiet">
        {trim(bench.above_dli, bench.above_dli < 0.1 ? 2 : 1)} of it falls through from the level above.
      </p>
    {/if}
    {#if switchesWords(bench.switches)}
      <p class="quiet">
        With {switchesWords(bench.switches)}{bench.colour?.red_blue
          ? `: red to blue ${trim(bench.colour.red_blue, 1)} to 1`
          : ""}.
      </p>
    {/if}
    {#if bench.groups.some((group) => group.own)}
      <p class="quiet">
        Beside it {groupsWords(bench.groups)}{bench.group_dli > 0
          ? `: ${trim(bench.group_dli, 1)} mol of the day's light, counted above`
          : ""}.
      </p>
    {/if}
    {#if bench.night_conflict}
      <p class="text-error" role="alert">{worded(bench.night_conflict, unit)}</p>
    {/if}
    {#if plan.fits}
      <p class="quiet">
        {atPlan
          ? chanceWords(bench.chance, bench.chance_read)
          : "The plan's choice meets every target."}
        {bindingWords(plan.binding, aim)}
      </p>
    {:else if plan.obstacles.length}
      <p class="text-warning">
        Nothing keeps every target on every day here, so the plan gives up {relaxedWords(
          plan.relaxed,
        )}. {plan.obstacles.map(obstacleWords).join(" ")}
      </p>
    {/if}
    {#if atPlan && bench.hurried}
      <p class="text-warning">
        Trips come closer than you asked: nothing else keeps every target. See the season.
      </p>
    {/if}
    {#if bench.outside_maker}
      <p class="text-warning">
        Outside the heights its maker names, {hang(bench.geometry.maker_low_cm ?? 0, unit)} to {hang(
          bench.geometry.maker_high_cm ?? 0,
          unit,
        )}.
      </p>
    {/if}
    {#if overCap}
      <p class="text-warning">
        The hot-spot cap is given up, as you asked: watch the tops for bleaching.
        <button class="link" onclick={() => giveUpCap(false)}>Hold the cap again</button>
      </p>
    {:else if plan.cap_in_the_way}
      <button class="link" onclick={() => giveUpCap(true)}>Plan without the hot-spot cap</button>
    {/if}
  </div>
</div>
