<script lang="ts">
  let { here }: { here: "space" | "power" | "devices" } = $props();
  const TABS = [
    { key: "space", path: "/space", name: "The space and its crop" },
    { key: "power", path: "/power", name: "Power" },
    { key: "devices", path: "/devices", name: "Devices" },
  ] as const;
</script>

<nav class="mb-2 flex gap-1" aria-label="Of this space">
  {#each TABS as tab (tab.key)}
    <a
      href={tab.path}
      class={[
        "flex min-h-9 items-center rounded-md px-3 font-medium max-sm:min-h-11",
        here === tab.key ? "bg-base-300" : "hover:bg-base-200",
      ]}
      aria-current={here === tab.key ? "page" : undefined}>{tab.name}</a
    >
  {/each}
</nav>
