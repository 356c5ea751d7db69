<script lang="ts">
  let { co2, shortDay }: { co2: boolean; shortDay: boolean } = $props();
</script>

<details class="mt-1 text-sm">
  <summary class="quiet cursor-pointer">
    Before you switch on: hang from rated points · mains away from water · do not look into the lamp
    · keep the heat sink clear · grow only what is lawful where you live. <span class="underline"
      >More</span
    >
  </summary>
  <ul class="mt-1 grid list-disc gap-1 pl-5 lg:grid-cols-2 lg:gap-x-8">
    <li>
      <strong>Weight.</strong> Two hangers, each on a point rated for the lamp; check what the tent's
      frame may carry; hang it level.
    </li>
    <li>
      <strong>Mains and water.</strong> Plugs, strips and drivers outside the damp space and off the floor,
      drip loops in every cord, residual-current protection, no strip plugged into a strip. Keep lasting
      load to 80 % of the circuit at most. Unplug before you move anything. Local code and a licensed
      electrician have the last word.
    </li>
    <li><strong>Eyes.</strong> Protective glasses; never look into the diodes, and mind UV.</li>
    <li>
      <strong>Heat.</strong> All its watts end as heat in the room. Nothing on the heat sink, drivers
      uncovered, the lamp's clearance kept.
    </li>
    {#if co2}
      <li><strong>CO₂.</strong> A closed room, an alarm, and never where anyone sleeps.</li>
    {/if}
    {#if shortDay}
      <li>
        <strong>Dark nights.</strong> Short-day plants need them whole: no leaks, no night light.
      </li>
    {/if}
    <li><strong>Ladders.</strong> Stand on something made to be stood on.</li>
    <li><strong>Law.</strong> Grow only what is lawful where you live.</li>
  </ul>
</details>
