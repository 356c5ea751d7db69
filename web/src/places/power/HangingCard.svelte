<script lang="ts">
  import type { Power } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { length, weight } from "../../units/format";

  let { power }: { power: Power } = $props();
  const hanging = $derived(power.hanging);
  const unit = $derived(account.unit);
  const apart = $derived(hanging.lamps.filter((lamp) => lamp.sold_apart));
</script>

<section
  class="bg-base-200 rounded-box grid content-start gap-1 p-4"
  aria-labelledby="hanging-title"
>
  <h2 id="hanging-title" class="text-lg font-semibold">Hanging</h2>
  <p>
    <strong>{weight(hanging.weight.total_kg, unit)}</strong> hang on the frame{hanging.weight
      .rating_kg === null
      ? "; what it bears is not said."
      : hanging.weight.over
        ? `, more than ${weight(hanging.weight.rating_kg, unit)} rated with a margin bear.`
        : `, rated for ${weight(hanging.weight.rating_kg, unit)}: with a margin ${weight(hanging.weight.spare_kg ?? 0, unit)} to spare.`}
    {hanging.fits_to_the_end
      ? "It still fits over the last stage."
      : "Not every stage leaves room for it: look at Season."}
  </p>
  <ul class="list-disc pl-5">
    {#each hanging.lamps as lamp, i (i)}
      <li>
        {lamp.name}: {lamp.hangers}
        {lamp.hangers === 1 ? "hanger" : "hangers"}, {weight(lamp.share_kg, unit)} each when level{lamp.worst_kg >
        lamp.share_kg
          ? `, up to ${weight(lamp.worst_kg, unit)} while it is raised`
          : ""}; {length(lamp.cord.needed_cm, unit)} of cord to the socket{lamp.cord.cord_cm ===
        null
          ? ", its own is not said"
          : lamp.cord.missing_cm > 0
            ? `, ${length(lamp.cord.missing_cm, unit)} more than it has`
            : `, it has ${length(lamp.cord.cord_cm, unit)}`}
      </li>
    {/each}
    <li>
      Ratchets: {length(hanging.ratchets.travel_cm, unit)} of travel over the season, {length(
        hanging.ratchets.rope_cm,
        unit,
      )} of rope out at the lowest{hanging.ratchets.short_cm > 0
        ? `, ${length(hanging.ratchets.short_cm, unit)} more than usual ratchets have`
        : ""}
    </li>
    {#each apart as lamp, i (i)}<li>Sold apart: {lamp.sold_apart}</li>{/each}
  </ul>
  <p class="quiet">
    Where each hanger goes, in which order, and what to check: <a class="link" href="/install"
      >Install</a
    >.
  </p>
</section>
