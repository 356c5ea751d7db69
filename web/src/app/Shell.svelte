<script lang="ts">
  import Moon from "@lucide/svelte/icons/moon";
  import Settings from "@lucide/svelte/icons/settings";
  import Sun from "@lucide/svelte/icons/sun";
  import type { Snippet } from "svelte";

  import { garden } from "../api/garden.svelte";
  import { account } from "../api/grower.svelte";
  import PlanStrip from "../parts/plan/PlanStrip.svelte";
  import { applyTheme, theme } from "../theme/theme.svelte";
  import { forget, unkept } from "../parts/form/drafts";
  import { attempt } from "../parts/notice.svelte";
  import GrowerMenu from "./GrowerMenu.svelte";
  import OutboxMark from "./OutboxMark.svelte";
  import { PLACES, titleOf } from "./places";
  import { navigate, route } from "./routes";
  import Trouble from "./Trouble.svelte";

  let { children }: { children: Snippet } = $props();

  /** Power and devices are parts of the space's place. */
  const WITHIN: Record<string, string> = {
    "/": "/bench",
    "/power": "/space",
    "/devices": "/space",
  };
  const here = $derived(WITHIN[route.pathname] ?? route.pathname);
  const grower = $derived(account.grower);

  let menu = $state(false);

  async function leave(): Promise<void> {
    await garden.leave();
    forget();
  }

  /** Digits, and t for today, jump to places, unless someone is typing. */
  function jump(event: KeyboardEvent): void {
    const typing = (event.target as HTMLElement).closest("input, select, textarea");
    if (typing || event.ctrlKey || event.metaKey || event.altKey) return;
    const place = PLACES.find((p) => p.key === event.key);
    if (place) void navigate(place.path);
  }
</script>

<svelte:head><title>{titleOf(route.pathname)}</title></svelte:head>
<svelte:window
  onkeydown={jump}
  onbeforeunload={(event) => {
    if (unkept()) event.preventDefault();
  }}
/>

<a class="btn btn-sm absolute -top-20 left-2 z-10 focus:top-2" href="#place">To the content</a>
<header class="print:hidden">
  {#if grower?.is_demo}
    <p class="bg-neutral text-neutral-content px-4 text-center text-xs leading-5">
      This is a demo with invented lamps and figures. It runs on this machine only; sign out to make
      an account of your own.
    </p>
  {/if}
  <div class="border-base-300 flex flex-wrap items-center gap-x-5 gap-y-1 border-b px-4 py-0.5">
    <span class="text-primary text-lg font-semibold tracking-tight">Idle Canopy</span>
    <nav
      aria-label="Places"
      class="places flex gap-1 max-sm:order-last max-sm:w-full max-sm:overflow-x-auto"
    >
      {#each PLACES as place (place.path)}
        <a
          href={place.path}
          class="hover:bg-base-200 flex min-h-11 items-center rounded-md px-3 font-medium whitespace-nowrap max-sm:px-1.5 max-sm:text-[0.9rem] sm:min-h-9"
          class:here={here === place.path}
          aria-current={here === place.path ? "page" : undefined}
          title="Key {place.key}">{place.name}</a
        >
      {/each}
    </nav>
    <div class="ml-auto flex items-center gap-2">
      <div class="join" role="group" aria-label="Lengths in">
        {#each ["cm", "in"] as const as unit (unit)}
          <button
            class="btn join-item btn-sm"
            class:btn-neutral={account.unit === unit}
            aria-pressed={account.unit === unit}
            onclick={() => attempt(() => account.prefer({ length_unit: unit }))}>{unit}</button
          >
        {/each}
      </div>
      <button
        class="btn btn-sm btn-square btn-ghost"
        aria-label={theme.now === "bench-day" ? "Night colours" : "Day colours"}
        onclick={() => applyTheme(theme.now === "bench-day" ? "bench-night" : "bench-day")}
      >
        {#if theme.now === "bench-day"}<Moon size={18} />{:else}<Sun size={18} />{/if}
      </button>
      <button
        class="btn btn-sm btn-ghost"
        aria-expanded={menu}
        aria-label="{grower?.name}: clock and money"
        onclick={() => (menu = !menu)}
        ><span class="max-sm:hidden">{grower?.name}</span> <Settings size={18} /></button
      >
      <button class="btn btn-sm btn-ghost" onclick={() => attempt(leave)}>Sign out</button>
    </div>
  </div>
  {#if menu}<GrowerMenu close={() => (menu = false)} />{/if}
</header>
<div class="print:hidden">
  <OutboxMark />{#if here !== "/today"}<PlanStrip />{/if}
</div>
<main id="place" class="px-4 pb-2" tabindex="-1">
  <Trouble {here}>{@render children()}</Trouble>
</main>

<style>
  .places {
    scrollbar-width: none;
  }
  .here {
    background: var(--color-base-200);
    box-shadow: inset 0 -3px 0 var(--color-primary);
  }
</style>
