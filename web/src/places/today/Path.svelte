<script lang="ts">
  import { crops } from "../../api/crops.svelte";
  import { garden } from "../../api/garden.svelte";
  import { spaces } from "../../api/spaces.svelte";

  /** What comes before a run, what of it is done, and what is next. */
  const steps = $derived([
    {
      path: "/space",
      label: "A space and a crop",
      done: spaces.present.length > 0 && crops.present.length > 0,
    },
    { path: "/fixtures", label: "A lamp for it", done: Boolean(garden.run) },
    { path: "/bench", label: "Height, dial and hours on the bench", done: Boolean(garden.run) },
    { path: "/install", label: "Hang it, step by step", done: false },
    { path: "/today", label: "Let the run begin when plants are in", done: false },
  ]);
  const next = $derived(steps.findIndex((step) => !step.done));
</script>

<ol class="grid gap-1">
  {#each steps as step, i (step.path)}
    <li class="flex items-baseline gap-2">
      <span class="quiet w-6" aria-hidden="true">{step.done ? "✓" : i + 1}</span>
      <a class="link" href={step.path}>{step.label}</a>
      <span class="quiet text-sm">{step.done ? "done" : i === next ? "next" : ""}</span>
    </li>
  {/each}
</ol>
