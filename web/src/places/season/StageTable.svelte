<script lang="ts">
  import type { Run, Season } from "../../api/client";
  import { dayMonth } from "../../parts/season/picture";
  import { bindingWords, obstacleWords, relaxedWords } from "../../words/reasons";
  import { worded } from "../../words/said";
  import { clock, hours, length, type LengthUnit, percent, trim } from "../../units/format";

  interface Props {
    season: Season;
    unit: LengthUnit;
    aim: Run["aim"];
    lived: Run["lived"];
    open: (stageId: number) => void;
    free: (stageId: number) => void;
  }
  let { season, unit, aim, lived, open, free }: Props = $props();

  /** When a stage really began and ended. */
  function began(id: number): string {
    const real = lived.find((each) => each.stage_id === id);
    if (!real?.began_on) return "";
    const from = dayMonth(real.began_on, 0);
    return real.ended_on
      ? `really ${from} to ${dayMonth(real.ended_on, 0)}`
      : `really since ${from}`;
  }
</script>

<div class="overflow-x-auto">
  <table class="table-sm table">
    <thead>
      <tr>
        <th scope="col">Stage</th>
        <th scope="col">Hang, dial, light</th>
        <th scope="col" class="text-right">DLI</th>
        <th scope="col" class="text-right">Brightest</th>
        <th scope="col">Raise it, ease in</th>
        <th scope="col">Why, and how sure</th>
        <th scope="col"><span class="sr-only">Change</span></th>
      </tr>
    </thead>
    <tbody>
      {#each season.stages as stage (stage.stage_id)}
        {@const plan = stage.planned}
        <tr class="align-top">
          <th scope="row" class="text-left">
            {stage.name}
            <div class="quiet font-normal whitespace-nowrap">
              {dayMonth(season.first, stage.first_day)}, {stage.days} days
            </div>
            {#if began(stage.stage_id)}
              <div class="font-normal whitespace-nowrap">{began(stage.stage_id)}</div>
            {/if}
          </th>
          {#if plan}
            <td>
              <strong>{length(plan.setting.height_cm, unit)}</strong>, dial
              <strong>{trim(plan.setting.dial_pct, 1)}</strong>,
              <strong class="whitespace-nowrap">{hours(plan.setting.hours)}</strong>
              <div class="quiet">
                {clock(plan.on_minute)} to {clock(plan.off_minute)}{plan.kept
                  ? ", as you set it"
                  : ""}
              </div>
            </td>
            <td class="text-right whitespace-nowrap">
              <strong
                class:text-error={plan.outcome.dli < stage.dli_low ||
                  plan.outcome.dli > stage.dli_high}>{trim(plan.outcome.dli, 1)}</strong
              >
              <div class="quiet">{trim(stage.dli_low, 1)}–{trim(stage.dli_high, 1)}</div>
            </td>
            <td class="text-right whitespace-nowrap">
              <span class:text-error={plan.outcome.peak > stage.hot_spot_cap}
                >{Math.round(plan.outcome.peak)}</span
              >
              <div class="quiet">cap {Math.round(stage.hot_spot_cap)}</div>
            </td>
            <td>
              {#if plan.rehangs.length}
                {plan.rehangs
                  .map(
                    (r) =>
                      `${dayMonth(season.first, stage.first_day + r.day)} by ${length(r.by_cm, unit)}`,
                  )
                  .join(", ")}
              {:else}<span class="quiet">stays where it hangs</span>{/if}
              {#if plan.easing.length}
                <div>
                  {plan.easing.length}
                  {plan.easing.length === 1 ? "day" : "days"} of easing: dial {plan.easing
                    .map((step) => trim(step.dial_pct, 1))
                    .join(", ")}, then {trim(plan.setting.dial_pct, 1)}{plan.abrupt
                    ? "; the lamp cannot go low enough for the first"
                    : ""}
                </div>
              {/if}
            </td>
            <td class="min-w-64">
              {#if plan.night_conflict}
                <p class="text-error">{worded(plan.night_conflict, unit)}</p>
              {/if}
              {#if plan.relaxed.length}
                <p class="text-warning">
                  Gives up {relaxedWords(plan.relaxed)}.
                  {plan.obstacles.map(obstacleWords).join(" ")}
                </p>
              {:else if !plan.kept}
                <p class="quiet">{bindingWords(plan.binding, aim)}</p>
              {/if}
              <p class="quiet">
                Mean ± {percent(plan.certainty.mean_tolerance)}: DLI {trim(
                  plan.certainty.dli_low,
                  1,
                )}–{trim(plan.certainty.dli_high, 1)}{stage.daylight_dli > 0
                  ? `, ${trim(stage.daylight_dli, 1)} of it daylight`
                  : ""}{stage.lost_h > 0
                  ? `; ${hours(stage.lost_h)} of light lost to ramps and heat`
                  : ""}.
              </p>
            </td>
          {:else}
            <td colspan="5" class="text-error">{stage.refused}</td>
          {/if}
          <td class="whitespace-nowrap">
            <button
              class="btn btn-xs max-sm:min-h-11"
              aria-label="Open {stage.name} on the bench"
              onclick={() => open(stage.stage_id)}>Bench</button
            >
            {#if plan?.kept}
              <button
                class="btn btn-xs max-sm:min-h-11"
                aria-label="Let the plan choose for {stage.name}"
                onclick={() => free(stage.stage_id)}>Let the plan choose</button
              >
            {/if}
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
</div>
