<script lang="ts">
  import type { Run, Season } from "../../api/client";
  import { dayMonth } from "../../parts/season/picture";
  import { bindingWords, chanceWords, obstacleWords, relaxedWords } from "../../words/reasons";
  import Term from "../../parts/Term.svelte";
  import { groupsWords } from "../../words/groups";
  import { switchesWords } from "../../words/switches";
  import { worded } from "../../words/said";
  import { windowsWords, hang, hours, type LengthUnit, percent, trim } from "../../units/format";

  interface Props {
    season: Season;
    unit: LengthUnit;
    run: Run;
    open: (stageId: number, fromDay: number) => void;
    free: (stageId: number, fromDay: number) => void;
  }
  let { season, unit, run, open, free }: Props = $props();

  const partName = (stage: Season["stages"][number]): string =>
    stage.from_day ? `${stage.name} from ${dayMonth(season.first, stage.first_day)}` : stage.name;

  /** When a stage really began and ended. */
  function began(id: number): string {
    const real = run.lived.find((each) => each.stage_id === id);
    if (!real?.began_on) return "";
    const from = dayMonth(real.began_on, 0);
    return real.ended_on
      ? `really ${from} to ${dayMonth(real.ended_on, 0)}`
      : `really since ${from}`;
  }
</script>

<div class="overflow-x-auto">
  <table class="table-sm stacked table">
    <thead>
      <tr>
        <th scope="col">Stage</th>
        <th scope="col">Hang, dial, light</th>
        <th scope="col" class="text-right"><Term of="dli">DLI</Term></th>
        <th scope="col" class="text-right"><Term of="cap">Brightest</Term></th>
        <th scope="col"><Term of="trip">Trips to the tent</Term></th>
        <th scope="col">Why, and how sure</th>
        <th scope="col"><span class="sr-only">Change</span></th>
      </tr>
    </thead>
    <tbody>
      {#each season.stages as stage (stage.first_day)}
        {@const plan = stage.planned}
        <tr class="align-top">
          <th scope="row" class="text-left">
            {stage.name}{stage.from_day ? ", changed" : ""}
            <div class="quiet font-normal whitespace-nowrap">
              {dayMonth(season.first, stage.first_day)}, {stage.days} days
            </div>
            {#if !stage.from_day && began(stage.stage_id)}
              <div class="font-normal whitespace-nowrap">{began(stage.stage_id)}</div>
            {/if}
          </th>
          {#if plan}
            <td>
              <strong>{hang(plan.setting.height_cm, unit)}</strong>,
              {#if plan.dial_kind === "unmarked"}
                <strong>{Math.round(plan.outcome.watts)} W</strong> by the meter,
              {:else if plan.dial_kind !== "none"}
                dial <strong>{trim(plan.setting.dial_pct, 1)}</strong>
                ({Math.round(plan.outcome.watts)} W),
              {/if}
              <strong class="whitespace-nowrap">{hours(plan.setting.hours)}</strong>
              <div class="quiet">
                {windowsWords(plan.windows)}{plan.kept ? ", as you set it" : ""}
              </div>
              {#if switchesWords(plan.switches)}<div>{switchesWords(plan.switches)}</div>{/if}
              {#if groupsWords(plan.groups)}<div>{groupsWords(plan.groups)}</div>{/if}
            </td>
            <td class="text-right whitespace-nowrap" data-label="DLI">
              <strong
                class:text-error={plan.outcome.dli < stage.dli_low ||
                  plan.outcome.dli > stage.dli_high}>{trim(plan.outcome.dli, 1)}</strong
              >
              <div class="quiet">{trim(stage.dli_low, 1)}–{trim(stage.dli_high, 1)}</div>
            </td>
            <td class="text-right whitespace-nowrap" data-label="Brightest">
              <span class:text-error={plan.outcome.peak > stage.hot_spot_cap}
                >{Math.round(plan.outcome.peak)}</span
              >
              <div class="quiet">cap {Math.round(stage.hot_spot_cap)}</div>
            </td>
            <td>
              <ul>
                {#each plan.hangings as each (each.day)}
                  <li>
                    {dayMonth(season.first, stage.first_day + each.day)}:
                    <strong>{hang(each.above_floor_cm, unit)}</strong> above the floor{each.dial_pct ===
                    plan.setting.dial_pct
                      ? ""
                      : `, dial ${trim(each.dial_pct, 1)}`}<span class="quiet"
                      >; {hang(each.above_tops_cm, unit)} above the tops{each.left_cm ===
                      each.above_tops_cm
                        ? ""
                        : `, ${hang(each.left_cm, unit)} in the end`}</span
                    >
                  </li>
                {/each}
              </ul>
              {#if plan.hurried}
                <p class="text-warning">
                  Trips come closer than {hang(run.lift_cm, unit)} and {run.gap_days} days: nothing else
                  keeps every target.
                </p>
              {/if}
              {#if plan.outside_maker}
                <p class="text-warning">Outside the maker's heights.</p>
              {/if}
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
                <p>{chanceWords(plan.chance, plan.chance_read)}</p>
                <p class="quiet">{bindingWords(plan.binding, run.aim)}</p>
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
              aria-label="Open {partName(stage)} on the bench"
              onclick={() => open(stage.stage_id, stage.from_day)}>Bench</button
            >
            {#if plan?.kept}
              <button
                class="btn btn-xs max-sm:min-h-11"
                aria-label={stage.from_day
                  ? `Take it out: the change of ${partName(stage)}`
                  : `Let the plan choose for ${stage.name}`}
                onclick={() => free(stage.stage_id, stage.from_day)}
                >{stage.from_day ? "Take it out" : "Let the plan choose"}</button
              >
            {/if}
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
</div>
