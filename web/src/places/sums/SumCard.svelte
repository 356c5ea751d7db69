<script lang="ts">
  import type { Snippet } from "svelte";

  import type { SumIn, Worked } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { worded } from "../../words/said";
  import { Sum } from "./sum.svelte";

  interface Props {
    title: string;
    asked: SumIn;
    /** The answer, before its formula. */
    says: (figures: Worked["figures"]) => string;
    children: Snippet;
    /** What can be done with the answer in the open plan. */
    use?: { label: string; run: (figures: Worked["figures"]) => unknown } | undefined;
  }
  let { title, asked, says, children, use }: Props = $props();
  const sum = new Sum();
  const id = $props.id();
  $effect(() => sum.ask(asked));
</script>

<section class="bg-base-200 rounded-box grid content-start gap-2 p-4" aria-labelledby={id}>
  <h2 {id} class="text-lg font-semibold">{title}</h2>
  <div class="flex flex-wrap items-start gap-2">{@render children()}</div>
  <div aria-live="polite">
    {#if sum.sentence}
      <p class="text-error">{sum.sentence}</p>
    {:else if sum.worked}
      <p class="text-xl"><strong>{says(sum.worked.figures)}</strong></p>
      {#each sum.worked.formula as line, i (i)}
        <p class="quiet tabular-nums">{worded(line, account.unit)}</p>
      {/each}
    {:else}
      <p class="quiet">Fill in the figures.</p>
    {/if}
  </div>
  {#if use && sum.worked}
    {@const { figures } = sum.worked}
    <div>
      <button class="btn btn-sm max-sm:min-h-11" onclick={() => use.run(figures)}
        >{use.label}</button
      >
    </div>
  {/if}
</section>
