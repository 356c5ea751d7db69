<script lang="ts">
  import type { Season } from "../../api/client";
  import { dayMonth } from "../../parts/season/picture";
  import { hang, windowsWords, type LengthUnit, trim } from "../../units/format";
  import { groupsWords } from "../../words/groups";
  import { switchesWords } from "../../words/switches";
  import { worded } from "../../words/said";

  interface Props {
    season: Season;
    title: string;
    unit: LengthUnit;
  }
  let { season, title, unit }: Props = $props();

  const tasks = $derived(
    season.rows.flatMap((row) => row.tasks.map((task) => ({ day: row.day, task }))),
  );
</script>

<article class="card-page">
  <h1>{title}</h1>
  <table>
    <thead>
      <tr>
        <th scope="col">From</th>
        <th scope="col">Stage</th>
        <th scope="col">Lamp above the floor</th>
        <th scope="col">Above the tops</th>
        <th scope="col">Dial, watts at the plug</th>
        <th scope="col">On</th>
        <th scope="col">DLI</th>
      </tr>
    </thead>
    <tbody>
      {#each season.stages as stage (stage.first_day)}
        <tr>
          <td>{dayMonth(season.first, stage.first_day)}</td>
          <th scope="row">{stage.name}{stage.from_day ? ", changed" : ""}</th>
          {#if stage.planned}
            <td>{hang(stage.planned.hangings[0]?.above_floor_cm ?? 0, unit)}</td>
            <td>{hang(stage.planned.setting.height_cm, unit)}</td>
            <td
              >{stage.planned.dial_kind === "unmarked" || stage.planned.dial_kind === "none"
                ? ""
                : `${trim(stage.planned.setting.dial_pct, 1)}, `}{Math.round(
                stage.planned.outcome.watts,
              )} W</td
            >
            <td
              >{[
                windowsWords(stage.planned.windows),
                switchesWords(stage.planned.switches),
                groupsWords(stage.planned.groups),
              ]
                .filter(Boolean)
                .join("; ")}</td
            >
            <td>{trim(stage.planned.outcome.dli, 1)}</td>
          {:else}
            <td colspan="5">{stage.refused}</td>
          {/if}
        </tr>
      {/each}
    </tbody>
  </table>
  <h2>To do</h2>
  <ul>
    {#each tasks as { day, task }, i (i)}
      <li>☐ {dayMonth(season.first, day)}: {worded(task, unit)}</li>
    {/each}
  </ul>
  <p>
    Unplug before you move the lamp; hang it from two points; plugs and drivers outside the damp and
    off the floor; never look into the lit lamp. Local code and a licensed electrician have the last
    word. Grow only what is lawful where you live.
  </p>
</article>

<style>
  .card-page {
    max-width: 19cm;
    margin: 0 auto;
    padding: 1rem;
    border: 1px solid var(--quiet);
    border-radius: 0.5rem;
    background: white;
    color: black;
  }
  h1 {
    font-size: 1.5rem;
    font-weight: 600;
  }
  h2 {
    margin-top: 0.75rem;
    font-weight: 600;
  }
  table {
    width: 100%;
    margin-top: 0.5rem;
    border-collapse: collapse;
    font-size: 1.1rem;
  }
  th,
  td {
    padding: 0.25rem 0.4rem;
    border-bottom: 1px solid #777;
    text-align: left;
  }
  ul {
    columns: 2;
  }
  p {
    margin-top: 0.75rem;
    font-size: 0.85rem;
  }
  @media print {
    .card-page {
      border: none;
      padding: 0;
    }
  }
</style>
