<script lang="ts">
  import type { FitFound, NextReading } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { hang, hours, length, percent } from "../../units/format";
  import {
    changeWords,
    CORRECTION_WORDS,
    parameterWords,
    rangeWords,
    SENSOR_WORDS,
    verdictWords,
  } from "../../words/fits";
  import { worded } from "../../words/said";
  import FitMap from "./FitMap.svelte";

  interface Props {
    found: FitFound;
    /** Adds a spot to the walk. */
    add?: ((next: NextReading) => void) | undefined;
    /** Whether a correction is made; none where the fit is kept and stays as it is. */
    correct?: ((name: FitFound["corrections"][number]["name"], used: boolean) => void) | undefined;
  }
  let { found, add, correct }: Props = $props();

  const unit = $derived(account.unit);
  const ROWS = [
    ["mean", "Mean"],
    ["brightest", "Brightest"],
    ["dimmest", "Dimmest"],
  ] as const;
  const walked = $derived(found.walked);
  const worst = $derived(found.residuals[found.worst]);
  const nexts = $derived([
    { what: "the mean, and so the DLI", next: found.next_mean },
    { what: "the brightest spot", next: found.next_brightest },
  ]);
  const where = (x: number, y: number): string =>
    `${length(x, unit)} from the left, ${length(y, unit)} from the front`;
</script>

<div class="grid gap-3">
  <p class="text-xl">
    <strong>{changeWords(found.mean)}</strong>: mean {rangeWords(found.mean.true)} µmol with the lamp
    at {hang(found.height_cm, unit)} and {percent(found.light_fraction)} of its light.
  </p>
  {#each found.findings as finding, i (i)}
    <p class="finding">
      {worded(finding.line, unit)}
      <span class="quiet">Belief {percent(finding.likelihood)}.</span>
    </p>
  {/each}
  {#if found.leans.length}
    <p class="finding">{found.leans.map((line) => worded(line, unit)).join(" ")}</p>
  {/if}
  {#each found.notes as line, i (i)}<p class="finding">{worded(line, unit)}</p>{/each}
  {#each found.cannot_be as line, i (i)}<p class="finding">{worded(line, unit)}</p>{/each}
  <table class="figures w-full">
    <thead>
      <tr>
        <th scope="col" class="text-left">µmol, 90 % inside</th>
        <th scope="col">planned</th>
        <th scope="col">true light</th>
        <th scope="col">your sensor shows</th>
      </tr>
    </thead>
    <tbody>
      {#each ROWS as [name, label] (name)}
        <tr>
          <th scope="row" class="text-left font-normal">{label}</th>
          <td>{Math.round(found[name].planned)}</td>
          <td><strong>{rangeWords(found[name].true)}</strong></td>
          <td>{rangeWords(found[name].read)}</td>
        </tr>
      {/each}
      <tr>
        <th scope="row" class="text-left font-normal">min / mean</th>
        <td>{found.evenness.planned.toFixed(2)}</td>
        <td
          ><strong
            >{found.evenness.true.middle.toFixed(2)} ({found.evenness.true.low.toFixed(
              2,
            )}–{found.evenness.true.high.toFixed(2)})</strong
          ></td
        >
        <td></td>
      </tr>
    </tbody>
  </table>
  <p>
    At this height and dial:
    {#each found.stages as stage, i (i)}
      {@const words = verdictWords(stage)}
      <span class:text-warning={stage.verdict !== "enough"}
        ><strong>{stage.name}</strong>: {words}{i < found.stages.length - 1 ? "; " : "."}</span
      >
    {/each}
  </p>
  <div>
    <h3 class="font-semibold">What would help most</h3>
    {#each nexts as { what, next } (what)}
      <p>
        {#if next.enough}
          For {what}: good enough, ± {percent(next.now)}; one reading more hardly narrows it.
        {:else}
          For {what}: read {where(next.x_cm, next.y_cm)}, lamp at {hang(next.height_cm, unit)}. That
          makes ± {percent(next.now)} about ± {percent(next.then)}.
          {#if add}<button class="link" onclick={() => add(next)}>Add this spot</button>{/if}
        {/if}
      </p>
    {/each}
    {#if found.next_mean.enough && found.sensor !== "quantum"}
      <p class="quiet">
        Most of what is left is the sensor's own calibration: comparing it with a trusted one would
        do more than any spot.
      </p>
    {/if}
  </div>
  <FitMap {found} />
  <details>
    <summary class="cursor-pointer font-semibold"
      >Each reading{worst && Math.abs(worst.off) > 0.03
        ? `: the worst is ${percent(Math.abs(worst.off))} off`
        : ": all within 3 % of the fit"}</summary
    >
    <table class="figures w-full">
      <thead>
        <tr>
          <th scope="col" class="text-left">Where</th>
          <th scope="col">lamp at</th>
          <th scope="col">noted</th>
          <th scope="col">put right</th>
          <th scope="col">expected</th>
          <th scope="col">off</th>
        </tr>
      </thead>
      <tbody>
        {#each found.residuals as row, i (i)}
          <tr class:font-semibold={i === found.worst}>
            <td class="text-left">{where(row.x_cm, row.y_cm)}</td>
            <td>{hang(row.height_cm, unit)}</td>
            <td>{Math.round(row.reading * 10) / 10}</td>
            <td>{Math.round(row.measured)}</td>
            <td>{Math.round(row.fitted)}</td>
            <td
              >{row.off >= 0 ? "+" : "−"}{percent(Math.abs(row.off))}{row.outlier
                ? ", hardly believed"
                : ""}</td
            >
          </tr>
        {/each}
      </tbody>
    </table>
  </details>
  <details>
    <summary class="cursor-pointer font-semibold"
      >The readings by themselves: mean {Math.round(walked.statistics.area_mean)} by area</summary
    >
    <dl class="learnt">
      <dt>Spots with the lamp at {hang(walked.height_cm, unit)}</dt>
      <dd>{walked.count}</dd>
      <dt>Mean, and by the area nearest to each</dt>
      <dd>
        {Math.round(walked.statistics.mean)}, {Math.round(walked.statistics.area_mean)} µmol
      </dd>
      <dt>Lowest, highest</dt>
      <dd>{Math.round(walked.statistics.minimum)}, {Math.round(walked.statistics.maximum)}</dd>
      <dt>min / max</dt>
      <dd>{walked.statistics.min_over_max?.toFixed(2) ?? "–"}</dd>
      <dt>min / mean</dt>
      <dd>{walked.statistics.min_over_mean?.toFixed(2) ?? "–"}</dd>
      <dt>lowest and highest, of the mean</dt>
      <dd>
        {walked.statistics.min_over_mean === null ? "–" : percent(walked.statistics.min_over_mean)} to
        {walked.statistics.max_over_mean === null ? "–" : percent(walked.statistics.max_over_mean)}
      </dd>
      <dt>coefficient of variation</dt>
      <dd>{walked.statistics.variation?.toFixed(2) ?? "–"}</dd>
      <dt>Light on the floor</dt>
      <dd>{Math.round(walked.canopy_umol_s)} µmol/s</dd>
      {#each found.stages as stage (stage.name)}
        {#if stage.inside !== null}
          <dt>In the band of {stage.name}, {hours(stage.hours)} on</dt>
          <dd>{percent(stage.inside)} of the floor</dd>
        {/if}
      {/each}
      {#if walked.efficacy !== null}
        <dt>of each joule at the plug</dt>
        <dd>{walked.efficacy.toFixed(2)} µmol/J</dd>
      {/if}
      {#if walked.captured !== null}
        <dt>of the lamp's own light</dt>
        <dd>{percent(walked.captured)}, at most {percent(walked.bound)} can be</dd>
      {/if}
    </dl>
    {#if walked.wrong}<p class="finding">{worded(walked.wrong, unit)}</p>{/if}
  </details>
  <details>
    <summary class="cursor-pointer font-semibold">What was learnt, and what was put right</summary>
    <dl class="learnt">
      {#each found.parameters as each (each.name)}
        {@const [name, value] = parameterWords(each, unit)}
        <dt>{name}</dt>
        <dd>{value}</dd>
      {/each}
    </dl>
    <p class="quiet">
      Readings of one height cannot tell lamp, lining and beam apart: those stay wide, their sum
      does not.
    </p>
    <p>
      {SENSOR_WORDS[found.sensor]}, its readings together ± {percent(found.sensor_sd * 1.645)}.
    </p>
    {#each found.corrections as each (each.name)}
      <label class="flex items-start gap-2 max-sm:min-h-11">
        <input
          type="checkbox"
          class="checkbox checkbox-sm mt-0.5"
          checked={each.used}
          disabled={!correct}
          onchange={(event) => correct?.(each.name, event.currentTarget.checked)}
        />
        <span
          ><span class="sr-only">{CORRECTION_WORDS[each.name]}: </span>{worded(each.why, unit)}
          <span class="quiet">± {percent(each.sd * 1.645)} of its own.</span></span
        >
      </label>
    {/each}
  </details>
</div>

<style>
  .finding {
    border-left: 4px solid var(--color-warning);
    padding-left: 0.75rem;
  }
  .figures th[scope="col"]:not(:first-child),
  .figures td:not(.text-left) {
    text-align: right;
  }
  .figures th,
  .figures td {
    padding: 0.15rem 0.4rem 0.15rem 0;
    font-variant-numeric: tabular-nums;
  }
  .learnt {
    display: grid;
    grid-template-columns: 1fr auto;
    column-gap: 1rem;
  }
  dd {
    text-align: right;
    font-variant-numeric: tabular-nums;
  }
</style>
