<script lang="ts">
  import type { Review, SignReview } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { dayWords, length } from "../../units/format";
  import { entryWords, OUTCOME_WORDS } from "../../words/log";
  import { worded } from "../../words/said";

  // what plants showed and what helped, and what tent, lamp and plants taught
  let { review }: { review: Review } = $props();
  const unit = $derived(account.unit);
  const sign = ({ values }: SignReview): string =>
    entryWords({ kind: "symptom", values, text: "" }, {}, unit, account.temperature);
  const last = $derived(review.fits.at(-1));
  const grown = $derived(review.stages.filter((stage) => stage.done));
</script>

<section class="bg-base-200 rounded-box grid content-start gap-3 p-4" aria-label="What it taught">
  <div>
    <h2 class="font-semibold">What it taught</h2>
    <ul class="list-inside list-disc">
      {#each review.taught as line, i (i)}<li>{worded(line, unit)}</li>{/each}
      {#each grown as stage (stage.stage_id)}
        <li>
          {stage.name} lasted {stage.grown.days} days; {stage.planned_days} were planned.{stage
            .grown.plant_end_cm === null
            ? ""
            : ` Plants ended ${length(stage.grown.plant_end_cm, unit)} tall, ${length(stage.planned_end_cm, unit)} were planned.`}
        </li>
      {/each}
    </ul>
    {#if last}
      <p class="quiet text-sm">
        By {last.readings} readings of {dayWords(last.read_on)}{review.fits.length > 1
          ? `, the last of ${review.fits.length} fits it was planned by`
          : ""}. The next run in this space is planned by them by itself.
      </p>
    {/if}
  </div>
  <div>
    <h2 class="font-semibold">What plants showed, and what helped</h2>
    {#if review.signs.length}
      <ul class="grid gap-1">
        {#each review.signs as each, i (i)}
          <li>
            {dayWords(each.on)}: <strong>{sign(each)}</strong>{each.tried
              ? `. Tried${each.tried_on ? ` on ${dayWords(each.tried_on)}` : ""}: ${each.tried}`
              : ". Nothing was tried"}{each.outcome
              ? `; it was ${OUTCOME_WORDS[each.outcome] ?? each.outcome}${each.outcome_text ? `, ${each.outcome_text}` : ""}`
              : each.tried
                ? "; what came of it was not kept"
                : ""}.
          </li>
        {/each}
      </ul>
    {:else}
      <p class="quiet">Nothing was written down that plants showed.</p>
    {/if}
  </div>
</section>
