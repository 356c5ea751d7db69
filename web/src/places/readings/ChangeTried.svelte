<script lang="ts">
  import { asRefusal, type ChangeSeen } from "../../api/client";
  import { fits } from "../../api/readings.svelte";
  import { percent } from "../../units/format";

  /** Figures of a line: spots in their order. */
  const figuresOf = (text: string): number[] =>
    text
      .split(/[;\s]+/)
      .filter(Boolean)
      .map((each) => Number(each.replace(",", ".")));

  let before = $state("");
  let after = $state("");
  let again = $state("");
  let seen = $state.raw<ChangeSeen | null>(null);
  let sentence = $state("");
  const LINES = [
    ["before", "Before"],
    ["after", "With the change"],
    ["again", "Without it again"],
  ] as const;
  const text = $derived({ before, after, again });
  function set(name: (typeof LINES)[number][0], value: string): void {
    if (name === "before") before = value;
    else if (name === "after") after = value;
    else again = value;
  }

  async function look(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    sentence = "";
    const rows = [before, after, again].map(figuresOf);
    if (rows.some((row) => row.some((value) => !(value > 0)))) {
      sentence = "Give figures above 0, with blanks between them.";
      return;
    }
    const [first = [], then = [], back = []] = rows;
    try {
      seen = await fits.change({ before: first, after: then, again: back.length ? back : null });
    } catch (error) {
      seen = null;
      sentence = asRefusal(error).message;
    }
  }
  const gain = (share: number): string => `${share < 0 ? "−" : "+"}${percent(Math.abs(share))}`;
</script>

<details class="bg-base-200 rounded-box p-4">
  <summary class="cursor-pointer font-semibold"
    >Did a change help? Before, with it, before again</summary
  >
  <form class="mt-2 grid gap-2" onsubmit={look}>
    <p class="quiet">
      Put a board up, take it away, put it up again: reading the first state twice tells the gain
      from the lamp's own moods. The same spots in the same order, blanks between them.
    </p>
    {#each LINES as [name, label] (name)}
      <label class="grid gap-0.5">
        <span class="quiet text-sm">{label}{name === "again" ? " (may be left out)" : ""}</span>
        <input
          class="input w-full max-sm:min-h-11"
          type="text"
          inputmode="decimal"
          autocomplete="off"
          value={text[name]}
          oninput={(event) => set(name, event.currentTarget.value)}
          placeholder="307 167 180"
        />
      </label>
    {/each}
    {#if sentence}<p class="text-error" role="alert">{sentence}</p>{/if}
    <div><button class="btn max-sm:min-h-11">What did it do?</button></div>
  </form>
  <div aria-live="polite">
    {#if seen}
      <p class="mt-2 text-lg">
        <strong
          >{seen.mean.real
            ? `${gain(seen.mean.share)} light on the whole`
            : "No more than the noise"}</strong
        >, nine times in ten {gain(seen.mean.low)} to {gain(seen.mean.high)}.
      </p>
      <ol class="grid gap-0.5">
        {#each seen.spots as spot, i (i)}
          <li>
            Spot {i + 1}: <strong>{gain(spot.share)}</strong> ({gain(spot.low)} to {gain(
              spot.high,
            )}){spot.real ? "" : ", within the noise"}
          </li>
        {/each}
      </ol>
      {#if again && Math.abs(seen.drift) > 0.005}
        <p class="quiet">The lamp itself changed by {gain(seen.drift)} between the two.</p>
      {/if}
    {/if}
  </div>
</details>
