<script lang="ts">
  import { untrack } from "svelte";
  import { Router } from "sv-router";

  import { asRefusal } from "../api/client";
  import { garden } from "../api/garden.svelte";
  import { account } from "../api/grower.svelte";
  import { runs } from "../api/runs.svelte";
  // whatever place is open, what waits is sent: these say how
  import "../api/logbook.svelte";
  import "../api/readings.svelte";
  import { outbox } from "../api/outbox.svelte";
  import { setGo } from "../parts/go";
  import { navigate } from "./routes";
  import Shell from "./Shell.svelte";
  import Sign from "./Sign.svelte";

  let phase = $state<"loading" | "ready" | "failed">("loading");
  let sentence = $state("");

  setGo((path) => navigate(path));

  async function begin(): Promise<void> {
    phase = "loading";
    try {
      await garden.begin();
      // whoever has something growing comes for what is to be done
      if (location.pathname === "/" && runs.underWay) await navigate("/today", { replace: true });
      phase = "ready";
    } catch (error) {
      sentence = asRefusal(error).message;
      phase = "failed";
    }
  }
  void begin();

  // what waits on this device is sent by whoever entered it, and by nobody else
  const grower = $derived(account.grower?.name);
  $effect(() => {
    const name = grower;
    untrack(() => {
      if (name) outbox.open(name);
      else outbox.close();
    });
  });
</script>

{#if phase === "loading"}
  <p class="quiet p-8" role="status">Opening your bench…</p>
{:else if phase === "failed"}
  <main class="mx-auto max-w-md p-8">
    <h1 class="text-2xl font-semibold">The bench did not open</h1>
    <p class="my-3" role="alert">{sentence}</p>
    <button class="btn btn-primary" onclick={begin}>Try again</button>
  </main>
{:else if account.grower}
  <Shell><Router /></Shell>
{:else}
  <Sign />
{/if}
