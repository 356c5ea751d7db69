<script lang="ts">
  import type { Bench } from "../../api/client";
  import { dayMonth } from "../../parts/season/picture";

  type Part = Bench["made_of"]["stages"][number];
  interface Props {
    parts: Part[];
    /** The run's first day. */
    first: string;
    current: Part | null;
    pick: (part: Part) => void;
  }
  let { parts, first, current, pick }: Props = $props();
</script>

<div class="flex flex-wrap gap-1" role="group" aria-label="Stage">
  {#each parts as part (`${part.id} ${part.from_day}`)}
    {@const shown = part.id === current?.id && part.from_day === current.from_day}
    <button
      class="btn btn-sm max-sm:min-h-11"
      class:btn-primary={shown}
      class:btn-ghost={!shown}
      aria-pressed={shown}
      aria-label={part.from_day
        ? `${part.name} from ${dayMonth(first, part.first_day)}`
        : undefined}
      onclick={() => pick(part)}
    >
      {part.from_day ? `from ${dayMonth(first, part.first_day)}` : part.name}
      <span class="font-normal">{part.days} d</span>
    </button>
  {/each}
</div>
