<script lang="ts">
  import type { Review } from "../../api/client";
  import {
    costRows,
    given,
    inside,
    paid,
    plannedDli,
    plannedKwh,
    plannedMoney,
    type Sums,
    usedKwh,
  } from "./sums";

  // planned beside given, stage by stage, and what it cost
  let { review }: { review: Review } = $props();
  const rows = $derived(costRows(review));
  const whole = $derived(review.whole);
</script>

{#snippet cells(sums: Sums, planned: string)}
  <td data-label="Days lived">{sums.days}{planned}</td>
  <td data-label="Mol a day planned">{plannedDli(sums)}</td>
  <td data-label="given">{given(sums)}</td>
  <td data-label="Days inside the band">{inside(sums)}</td>
  <td data-label="Energy planned">{plannedKwh(sums)}</td>
  <td data-label="used">{usedKwh(sums)}</td>
  <td data-label="Money planned">{plannedMoney(sums, review.currency)}</td>
  <td data-label="paid">{paid(sums, review.currency)}</td>
  <td data-label="Hands on the lamp, planned and real">{sums.planned_trips} / {sums.moves}</td>
{/snippet}

<section class="bg-base-200 rounded-box overflow-x-auto p-4" aria-label="Stage by stage">
  <h2 class="font-semibold">Stage by stage</h2>
  <table class="table-sm stacked table">
    <thead>
      <tr>
        <th scope="col">Stage</th>
        <th scope="col">Days</th>
        <th scope="col">Mol a day, planned</th>
        <th scope="col">given (90 %)</th>
        <th scope="col">Days inside</th>
        <th scope="col">Energy, planned</th>
        <th scope="col">used</th>
        <th scope="col">Money, planned</th>
        <th scope="col">paid</th>
        <th scope="col">Hands on the lamp, planned / real</th>
      </tr>
    </thead>
    <tbody>
      {#each review.stages as stage (stage.stage_id)}
        <tr>
          <th scope="row">{stage.name}{stage.done ? "" : review.over ? "" : ", so far"}</th>
          {@render cells(stage.sums, ` of ${stage.planned_days}`)}
        </tr>
      {/each}
      {#if review.stages.length > 1}
        <tr class="font-semibold">
          <th scope="row">In all</th>
          {@render cells(whole, "")}
        </tr>
      {/if}
    </tbody>
  </table>
  {#if rows.length}
    <dl class="mt-3 flex flex-wrap gap-x-8 gap-y-1">
      {#each rows as row (row.label)}
        <div>
          <dt class="quiet inline text-sm">{row.label}:</dt>
          <dd class="inline font-semibold">{row.value}</dd>
        </div>
      {/each}
    </dl>
  {/if}
  <p class="quiet mt-2 text-sm">
    {#if whole.metered_days}
      Energy of {whole.metered_days} of {whole.days} days by the meter at the lamp, of the others by how
      it stood.
    {:else}
      Energy by how the lamp stood; a meter that reports would tell it.
    {/if}
    {#if review.plants === null}
      Say on <a class="link" href="/power">Power</a> how many plants share it, and a plant's share stands
      here.
    {/if}
  </p>
</section>
