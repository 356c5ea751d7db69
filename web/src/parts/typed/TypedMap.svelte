<script lang="ts">
  import { tick } from "svelte";

  import { account } from "../../api/grower.svelte";
  import { length, percent, trim } from "../../units/format";
  import { worded } from "../../words/said";
  import Figure from "../form/Figure.svelte";
  import SelectField from "../form/SelectField.svelte";
  import { type Area, figure, Typed } from "./typed.svelte";

  interface Props {
    typed: Typed;
    /** Where the readings stand and what is asked of them; places and insets are chosen here. */
    area: Area;
  }
  let { typed, area = $bindable() }: Props = $props();

  let table = $state<HTMLTableElement | null>(null);
  const read = $derived(typed.read);
  const most = $derived(read?.statistics.maximum ?? 0);

  // what is typed is asked for as it stands, once the typing rests
  $effect(() => {
    const { cells } = typed;
    void cells.map((row) => row.join());
    typed.ask({ ...area });
  });

  async function go(j: number, i: number): Promise<void> {
    await tick();
    const input = table?.querySelector<HTMLInputElement>(`[data-cell="${j} ${i}"]`);
    input?.focus();
    input?.select();
  }

  function keys(event: KeyboardEvent & { currentTarget: HTMLInputElement }, j: number, i: number) {
    const { selectionStart, selectionEnd, value } = event.currentTarget;
    const all = selectionStart === 0 && selectionEnd === value.length;
    const steps: Record<string, [number, number] | false> = {
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
      Enter: [1, 0],
      ArrowLeft: (all || selectionEnd === 0) && [0, -1],
      ArrowRight: (all || selectionStart === value.length) && [0, 1],
    };
    const step = steps[event.key];
    if (!step) return;
    event.preventDefault();
    let [row, column] = [j + step[0], i + step[1]];
    // Enter at the foot of a column goes on at the head of the next
    if (event.key === "Enter" && row >= typed.rows) [row, column] = [0, i + 1];
    if (row >= 0 && row < typed.rows && column >= 0 && column < typed.columns) void go(row, column);
  }

  function paste(event: ClipboardEvent, j: number, i: number): void {
    const text = event.clipboardData?.getData("text/plain") ?? "";
    // one figure is the field's own matter
    if (figure(text) !== null && !Number.isNaN(figure(text))) return;
    if (!text.trim()) return;
    event.preventDefault();
    void typed.paste(j, i, text, { ...area });
  }

  /** How light a cell is, beside its figure, in eighths of the brightest. */
  function shade(text: string): number {
    const value = figure(text);
    return value && most > 0 ? Math.round(Math.min(value / most, 1) * 8) : 0;
  }
  const ratio = (value: number | null | undefined): string => value?.toFixed(2) ?? "–";
</script>

<div class="grid gap-2">
  <div class="flex flex-wrap items-start gap-2">
    <Figure
      narrow
      label="Rows"
      bind:value={() => typed.rows, (n) => typed.resize(n ?? NaN, typed.columns)}
    />
    <Figure
      narrow
      label="In each"
      bind:value={() => typed.columns, (n) => typed.resize(typed.rows, n ?? NaN)}
    />
    <SelectField
      small
      label="They stand"
      bind:value={() => area.places ?? "cells", (places) => (area = { ...area, places })}
      options={[
        { value: "cells", label: "in the middles of equal cells" },
        { value: "edges", label: "from edge to edge" },
        { value: "inset", label: "evenly, so far in from the edges" },
      ]}
    />
    {#if area.places === "inset"}
      <Figure
        narrow
        label="In from the sides"
        kind="length"
        bind:value={() => area.inset_x_cm ?? 0, (cm) => (area = { ...area, inset_x_cm: cm ?? 0 })}
        name="inset_x_cm"
      />
      <Figure
        narrow
        label="from front, back"
        kind="length"
        bind:value={() => area.inset_y_cm ?? 0, (cm) => (area = { ...area, inset_y_cm: cm ?? 0 })}
        name="inset_y_cm"
      />
    {/if}
  </div>
  <div class="max-w-full overflow-auto">
    <p class="quiet text-center text-xs">back</p>
    <table bind:this={table} class="cells" aria-label="Readings in µmol, seen from above">
      <tbody>
        {#each typed.cells as row, j (j)}
          <tr>
            {#each row as text, i (i)}
              <td class="light{shade(text)}">
                <input
                  type="text"
                  inputmode="decimal"
                  autocomplete="off"
                  data-cell="{j} {i}"
                  aria-label="Row {j + 1} from the back, {i + 1} from the left"
                  aria-invalid={Number.isNaN(figure(text))}
                  value={text}
                  oninput={(event) => typed.set(j, i, event.currentTarget.value)}
                  onkeydown={(event) => keys(event, j, i)}
                  onpaste={(event) => paste(event, j, i)}
                />
              </td>
            {/each}
          </tr>
        {/each}
      </tbody>
    </table>
    <p class="quiet text-center text-xs">front</p>
  </div>
  <p class="quiet text-sm">
    Arrow keys and Enter move about. A block copied from a spreadsheet, or a list, can be pasted
    into any cell; decimal commas and thousands are read as they are meant.
  </p>
  <div aria-live="polite">
    {#if typed.sentence}
      <p class="text-error" role="alert">{typed.sentence}</p>
    {:else if typed.wrong}
      <p class="text-error">The marked cells hold no figure; correct or empty them.</p>
    {:else if read}
      <p class="text-lg">
        {#each read.formula as sentence, i (i)}<strong>{worded(sentence, account.unit)}</strong>
        {/each}
      </p>
      <p>
        By area {Math.round(read.statistics.area_mean)}; lowest {trim(read.statistics.minimum, 1)},
        highest {trim(read.statistics.maximum, 1)}; min/max {ratio(read.statistics.min_over_max)},
        min/mean {ratio(read.statistics.min_over_mean)}, lowest and highest {read.statistics
          .min_over_mean === null
          ? "–"
          : percent(read.statistics.min_over_mean)} and {read.statistics.max_over_mean === null
          ? "–"
          : percent(read.statistics.max_over_mean)} of the mean.
      </p>
      {#each typed.notes as note, i (i)}<p class="quiet">{worded(note, account.unit)}</p>{/each}
      {#if read.x_cm.length > 1}
        <p class="quiet text-sm">
          From the left at {read.x_cm.map((cm) => length(cm, account.unit)).join(", ")}; from the
          front at {[...read.y_cm]
            .reverse()
            .map((cm) => length(cm, account.unit))
            .join(", ")}.
        </p>
      {/if}
    {:else}
      <p class="quiet">Type the first reading: the sum stands here at once.</p>
    {/if}
  </div>
</div>

<style>
  .cells {
    border-collapse: collapse;
    margin: 0 auto;
  }
  td {
    position: relative;
    padding: 0;
    border: 1px solid var(--quiet);
    background: var(--color-base-100);
  }
  .light1 {
    background: color-mix(in srgb, var(--color-base-100), var(--light) 9%);
  }
  .light2 {
    background: color-mix(in srgb, var(--color-base-100), var(--light) 18%);
  }
  .light3 {
    background: color-mix(in srgb, var(--color-base-100), var(--light) 27%);
  }
  .light4 {
    background: color-mix(in srgb, var(--color-base-100), var(--light) 36%);
  }
  .light5 {
    background: color-mix(in srgb, var(--color-base-100), var(--light) 45%);
  }
  .light6 {
    background: color-mix(in srgb, var(--color-base-100), var(--light) 54%);
  }
  .light7 {
    background: color-mix(in srgb, var(--color-base-100), var(--light) 63%);
  }
  .light8 {
    background: color-mix(in srgb, var(--color-base-100), var(--light) 72%);
  }

  input {
    width: 4.2rem;
    min-height: 2.25rem;
    background: transparent;
    text-align: center;
    font-variant-numeric: tabular-nums;
    color: var(--color-base-content);
  }
  td:has(input:focus-visible) {
    outline: 3px solid var(--color-primary);
    outline-offset: -1px;
  }
  input:focus-visible {
    outline: none;
  }
  input[aria-invalid="true"] {
    text-decoration: underline wavy var(--color-error);
  }
  @media (max-width: 640px) {
    input {
      min-height: 2.75rem;
    }
  }
</style>
