<script lang="ts">
  import { answer, client, type Feed } from "../../api/client";
  import { attempt } from "../../parts/notice.svelte";

  // an address that other calendars ask for what is due; whoever has it can read that
  let feed = $state.raw<Feed | null>(null);
  const address = $derived(feed?.address ? `${location.origin}${feed.address}` : null);
  let copied = $state(false);

  async function look(): Promise<void> {
    if (!feed) await attempt(async () => (feed = await answer(client.GET("/api/logbook/feed"))));
  }
  const header = (): { "If-Match": string } => ({ "If-Match": `"${feed?.version ?? 0}"` });
  async function make(): Promise<void> {
    copied = false;
    const params = { header: header() };
    await attempt(async () => (feed = await answer(client.PUT("/api/logbook/feed", { params }))));
  }
  async function revoke(): Promise<void> {
    const params = { header: header() };
    await attempt(
      async () => (feed = await answer(client.DELETE("/api/logbook/feed", { params }))),
    );
  }
  async function copy(): Promise<void> {
    if (address) await navigator.clipboard?.writeText(address).then(() => (copied = true));
  }
</script>

<details class="text-[0.95rem]" ontoggle={look}>
  <summary class="link min-h-11 cursor-pointer">What is due in your own calendar</summary>
  {#if feed}
    <div class="grid gap-2 py-2">
      {#if address}
        <p>
          Subscribe to this address in your calendar. It is told this once; whoever has it can read
          what is due.
        </p>
        <p class="bg-base-200 rounded-box p-2 break-all"><code>{address}</code></p>
        <div class="flex flex-wrap gap-2">
          <button class="btn btn-sm max-sm:min-h-11" onclick={copy}
            >{copied ? "Copied" : "Copy it"}</button
          >
          <button class="btn btn-sm btn-ghost max-sm:min-h-11" onclick={revoke}>Take it back</button
          >
        </div>
      {:else if feed.made_at}
        <p>
          A calendar can ask since {new Date(feed.made_at).toLocaleDateString()}. The address cannot
          be shown again; a new one takes its place.
        </p>
        <div class="flex flex-wrap gap-2">
          <button class="btn btn-sm max-sm:min-h-11" onclick={make}>Make a new address</button>
          <button class="btn btn-sm btn-ghost max-sm:min-h-11" onclick={revoke}
            >Take the address back</button
          >
        </div>
      {:else}
        <p>
          A secret address from which your calendar fetches what is due, of every run under way. The
          calendar has to reach this machine.
        </p>
        <div>
          <button class="btn btn-sm max-sm:min-h-11" onclick={make}>Make the address</button>
        </div>
      {/if}
    </div>
  {/if}
</details>
