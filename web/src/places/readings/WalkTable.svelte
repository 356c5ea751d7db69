<script lang="ts">
  import { asRefusal, type WalkTable } from "../../api/client";
  import { walks } from "../../api/readings.svelte";
  import { toBase64 } from "../../parts/download";
  import FileField from "../../parts/form/FileField.svelte";

  interface Props {
    runId: number;
    /** Where the table has no height. */
    height_cm: number;
    take: (readings: WalkTable["readings"]) => void;
  }
  let { runId, height_cm, take }: Props = $props();

  let text = $state("");
  let content = $state("");
  let mended = $state<{ line: number; place: number; text: string }[]>([]);
  let read = $state.raw<WalkTable | null>(null);
  let refused = $state("");

  async function look(): Promise<void> {
    try {
      const body = { text: content ? "" : text, content, height_cm, mended };
      [read, refused] = [await walks.table(runId, body), ""];
    } catch (error) {
      [read, refused] = [null, asRefusal(error).message];
    }
  }
  async function chosen(_name: string, _text: string, file: File): Promise<void> {
    [content, text, mended] = [await toBase64(file), "", []];
    await look();
  }
  function pasted(): void {
    [content, mended, read] = ["", [], null];
  }
  async function mend(line: number, place: number, now: string): Promise<void> {
    const others = mended.filter((each) => each.line !== line || each.place !== place);
    mended = [...others, { line, place, text: now }];
    await look();
  }
  function use(): void {
    if (!read) return;
    take(read.readings);
    [text, content, read, mended] = ["", "", null, []];
  }
</script>

<details class="bg-base-200 rounded-box p-4">
  <summary class="cursor-pointer font-semibold">Readings from a table or a file</summary>
  <div class="mt-2 grid gap-3">
    <FileField
      label="A file, CSV or XLSX"
      accept=".csv,.tsv,.txt,.xlsx"
      read={(name, of, file) => void chosen(name, of, file)}
      hint="x_cm, y_cm, height_cm, ppfd a line; or a matrix. Inches and decimal commas are read too."
    />
    <label class="grid gap-0.5">
      <span class="quiet text-sm"
        >or pasted from a spreadsheet, with its heading or figures alone</span
      >
      <textarea class="textarea w-full" rows="4" bind:value={text} oninput={pasted}></textarea>
    </label>
    <div>
      <button class="btn btn-sm bg-base-100 max-sm:min-h-11" disabled={!text.trim()} onclick={look}
        >Read it</button
      >
    </div>
    {#if refused}<p class="text-error" role="alert">{refused}</p>{/if}
    {#if read}
      {#each read.notes as note, i (i)}<p class="quiet text-sm">{note}</p>{/each}
      {#each read.bad as cell (`${cell.line} ${cell.place}`)}
        <label class="grid gap-0.5">
          <span class="text-warning text-sm">{cell.why}</span>
          <input
            class="input w-40 max-sm:min-h-11"
            value={cell.text}
            aria-label="Line {cell.line}, {cell.column}"
            onchange={(event) => mend(cell.line, cell.place, event.currentTarget.value)}
          />
        </label>
      {/each}
      <p role="status">
        {read.readings.length} reading{read.readings.length === 1 ? "" : "s"} can be used{read.bad
          .length
          ? `, ${read.bad.length} cell${read.bad.length === 1 ? "" : "s"} to mend`
          : ""}.
      </p>
      <div>
        <button
          class="btn btn-primary max-sm:min-h-11"
          disabled={!read.readings.length}
          onclick={use}>Take {read.bad.length ? "those that can be used" : "them"} as a walk</button
        >
      </div>
    {/if}
  </div>
</details>
