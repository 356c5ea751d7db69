<script lang="ts">
  import type { Snippet } from "svelte";

  import { type TermName, TERMS } from "../words/terms";

  interface Props {
    of: TermName;
    /** The word as it stands here. */
    children: Snippet;
  }
  let { of, children }: Props = $props();
  const id = $props.id();
  const term = $derived(TERMS[of]);
  // said only while it is looked at: else it would stand in the middle of every sentence
  let open = $state(false);
</script>

<!-- one tap on a word of the trade says what it means -->
<button type="button" class="term" popovertarget={id}>{@render children()}</button><span
  {id}
  popover
  class="note"
  role="note"
  onbeforetoggle={(event) => (open = event.newState === "open")}
  >{#if open}<strong>{term.name}.</strong> {term.text}{/if}</span
>

<style>
  .term {
    display: inline;
    font: inherit;
    color: inherit;
    cursor: help;
    text-decoration: underline dotted;
    text-underline-offset: 0.2em;
  }
  .note {
    inset: auto 1rem 1rem auto;
    max-width: min(26rem, calc(100vw - 2rem));
    margin: 0;
    padding: 0.75rem 1rem;
    border: 1px solid var(--quiet);
    border-radius: 0.5rem;
    background: var(--color-base-100);
    color: var(--color-base-content);
    font-size: 1rem;
    font-weight: 400;
    line-height: 1.4;
    text-align: left;
    white-space: normal;
  }
</style>
