<script lang="ts">
  import { asRefusal, type LinePiece, unanswered } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { log } from "../../api/logbook.svelte";
  import { entryWords, KIND_WORDS } from "../../words/log";
  import { worded } from "../../words/said";

  let { runId }: { runId: number } = $props();

  const SETTLED_MS = 200;
  const FIGURES = ["tops", "setting", "watts", "temperature", "outage", "dead"];
  let line = $state("");
  /** What would be kept of the line that was read. */
  let pieces = $state.raw<LinePiece[]>([]);
  let read = $state("");
  let refused = $state("");
  let away = $state(false);
  let field = $state<HTMLInputElement | null>(null);

  $effect(() => {
    const typed = line.trim();
    if (!typed) {
      [pieces, read, refused, away] = [[], "", "", false];
      return;
    }
    const wait = setTimeout(() => {
      log
        .read(typed)
        .then((told) => ([pieces, read, refused, away] = [told, typed, "", false]))
        .catch((error: unknown) => {
          [pieces, read] = [[], ""];
          away = unanswered(error);
          refused = away ? "" : asRefusal(error).message;
        });
    }, SETTLED_MS);
    return () => clearTimeout(wait);
  });

  const ready = $derived(
    pieces.length > 0 && read === line.trim() && pieces.every((piece) => piece.kind),
  );

  function keep(event: SubmitEvent): void {
    event.preventDefault();
    if (away && line.trim()) log.enter(runId, { kind: "note", text: line.trim().slice(0, 500) });
    else if (ready)
      // exactly what was shown, and nothing else
      for (const piece of pieces)
        if (piece.kind)
          log.enter(runId, {
            kind: piece.kind,
            // figures say all there is; words are kept as they were typed
            text: FIGURES.includes(piece.kind) ? "" : piece.text,
            values: piece.values,
          });
        else return;
    else return;
    line = "";
    field?.focus();
  }
</script>

<form class="grid gap-2" onsubmit={keep}>
  <label class="grid gap-0.5">
    <span class="font-semibold">In one line</span>
    <input
      bind:this={field}
      class="input input-lg w-full"
      type="text"
      autocomplete="off"
      maxlength="500"
      placeholder="h 45; dial 60; tips bleached back left"
      bind:value={line}
    />
  </label>
  {#if pieces.length}
    <ul class="grid gap-1" aria-live="polite" aria-label="What will be kept">
      {#each pieces as piece, i (i)}
        <li class="piece" class:unread={!piece.kind}>
          {#if piece.kind}
            <strong>{KIND_WORDS[piece.kind]}</strong>
            {entryWords({ ...piece, kind: piece.kind }, {}, account.unit, account.temperature)}
          {:else if piece.why}
            {worded(piece.why, account.unit)}
          {/if}
        </li>
      {/each}
    </ul>
  {/if}
  {#if away}
    <p class="quiet" role="status">
      No signal to read it: it is kept as a note, word for word. Tap a kind below for one that
      counts.
    </p>
  {/if}
  {#if refused}<p class="text-error" role="alert">{refused}</p>{/if}
  <button class="btn btn-primary max-sm:min-h-12" disabled={!ready && !(away && line.trim())}
    >{away ? "Keep it as a note" : "Keep it"}</button
  >
</form>

<style>
  .piece {
    border-left: 4px solid var(--color-primary);
    padding-left: 0.6rem;
  }
  .unread {
    border-left-color: var(--color-warning);
    border-left-style: dashed;
  }
</style>
