<script lang="ts">
  import { takeOut } from "../../api/archive";
  import { attempt } from "../../parts/notice.svelte";

  let busy = $state(false);
  async function take(): Promise<void> {
    busy = true;
    await attempt(takeOut);
    busy = false;
  }
</script>

<section class="bg-base-200 rounded-box grid gap-2 p-4" aria-label="Take it out">
  <h2 class="font-semibold">Take it out</h2>
  <p>
    A <code>.canopy.zip</code>: JSON with schemas, tables for a spreadsheet beside them, and the
    photos. There is no password, token or address of a device in it; what devices reported is in it
    for the last 30 days as it came, before that as sums.
  </p>
  <p>
    <button class="btn btn-primary max-sm:min-h-12" disabled={busy} onclick={take}
      >{busy ? "Putting it together…" : "Take everything out"}</button
    >
  </p>
</section>
