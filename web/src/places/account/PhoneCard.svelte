<script lang="ts">
  import { account } from "../../api/grower.svelte";

  const found = account.doors().catch(() => []);
  const plain = location.protocol === "http:";
</script>

<section class="bg-base-200 rounded-box grid gap-2 p-4" aria-labelledby="phone-title">
  <h2 id="phone-title" class="font-semibold">Open on your phone</h2>
  {#await found}
    <p class="quiet" role="status">Looking for this machine's address…</p>
  {:then doors}
    {#each doors as door (door.url)}
      <div class="flex flex-wrap items-center gap-4">
        <img
          src={door.qr}
          alt="{door.url} as a code for your phone's camera"
          width="148"
          height="148"
          class="rounded bg-white"
        />
        <a class="link text-lg break-all" href={door.url}>{door.url}</a>
      </div>
    {:else}
      <p>
        It is served to this machine only. Start it with <code>make serve HOST=0.0.0.0</code> and phones
        on the home network can open it; the address then stands here.
      </p>
    {/each}
    {#if doors.length && plain}
      <p class="text-warning">
        Over plain http anyone on this network could read passwords. At home that may do; the
        manual's chapter on running it has the way to put TLS before it. Over https it can be
        installed on the phone; till then keep a bookmark.
      </p>
    {:else if doors.length}
      <p class="quiet">
        On the phone, choose “Add to home screen” in the browser's menu to have it like an app.
      </p>
    {/if}
  {/await}
</section>
