<script lang="ts">
  import { answer, client, type Bench } from "../../api/client";
  import { newKey } from "../../api/key";
  import { dateOf } from "../../parts/season/picture";
  import { attempt } from "../../parts/notice.svelte";

  type Part = Bench["made_of"]["stages"][number];
  interface Props {
    runId: number;
    /** The run's first day. */
    first: string;
    part: Part;
    /** What is looked at next: the stage, and from which of its days on. */
    look: (stageId: number, fromDay: number) => void;
  }
  let { runId, first, part, look }: Props = $props();
  const id = $props.id();

  const iso = (day: number): string => dateOf(first, day).toISOString().slice(0, 10);
  const least = $derived(iso(part.first_day + 1));
  const last = $derived(iso(part.first_day + part.days - 1));
  let day = $state("");
  const from = $derived(
    Math.round((Date.parse(day) - Date.parse(iso(part.first_day))) / 86_400_000) + part.from_day,
  );
  let open = $state(false);

  async function begin(): Promise<void> {
    const path = "/api/runs/{run_id}/stages/{stage_id}/changes/{from_day}" as const;
    const at = { run_id: runId, stage_id: part.id, from_day: from };
    const params = { path: at, header: { "Idempotency-Key": newKey() } };
    if (await attempt(() => answer(client.PUT(path, { params })))) {
      open = false;
      look(part.id, from);
    }
  }

  async function takeOut(): Promise<void> {
    const path = "/api/runs/{run_id}/stages/{stage_id}/setting" as const;
    const params = {
      path: { run_id: runId, stage_id: part.id },
      query: { from_day: part.from_day },
      header: { "Idempotency-Key": newKey() },
    };
    if (await attempt(() => answer(client.DELETE(path, { params })))) look(part.id, 0);
  }
</script>

{#if open}
  <form
    class="flex flex-wrap items-center gap-1"
    onsubmit={(event) => {
      event.preventDefault();
      void begin();
    }}
  >
    <label class="text-sm" for={id}>Set otherwise from</label>
    <input
      {id}
      type="date"
      class="input input-sm w-40 max-sm:min-h-11"
      required
      min={least}
      max={last}
      bind:value={day}
    />
    <button class="btn btn-sm btn-primary max-sm:min-h-11">Begin there</button>
    <button
      type="button"
      class="btn btn-sm btn-ghost max-sm:min-h-11"
      onclick={() => (open = false)}>Leave it</button
    >
  </form>
{:else if part.days > 1}
  <button
    class="btn btn-sm btn-ghost max-sm:min-h-11"
    onclick={() => {
      day = iso(part.first_day + Math.floor(part.days / 2));
      open = true;
    }}>Change from…</button
  >
{/if}
{#if part.from_day && !open}
  <button class="btn btn-sm btn-ghost max-sm:min-h-11" onclick={takeOut}
    >Take this change out</button
  >
{/if}
