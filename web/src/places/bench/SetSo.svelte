<script lang="ts">
  import type { Bench } from "../../api/client";
  import { newKey } from "../../api/key";
  import { runs } from "../../api/runs.svelte";
  import { attempt, notice } from "../../parts/notice.svelte";
  import { clock, hours, trim } from "../../units/format";

  interface Props {
    runId: number;
    bench: Bench;
    /** What stands on the page is the answer for the stage that is chosen. */
    ready: boolean;
  }
  let { runId, bench, ready }: Props = $props();

  /** Keep in the run's history that height, dial and timer now stand so at the tent. */
  async function keep(): Promise<void> {
    const { height_cm, dial_pct, hours: lit } = bench.setting;
    const windows = [{ on_minute: bench.on_minute, hours: lit }];
    const body = { stage_id: bench.stage.id, kind: "set" as const, windows, height_cm, dial_pct };
    const key = newKey();
    if (await attempt(() => runs.log(runId, { ...body, level: 0, group: 0 }, key)))
      notice.say(
        `Kept in the run's history: dial ${trim(dial_pct, 1)}, ${hours(lit)} from ${clock(bench.on_minute)}.`,
      );
  }
</script>

<button class="btn btn-sm max-sm:min-h-11" disabled={!ready} onclick={keep}
  >Set so at the tent now</button
>
