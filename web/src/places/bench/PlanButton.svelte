<script lang="ts">
  interface Props {
    atPlan: boolean;
    keeping: "kept" | "moving" | "failed";
    toPlan: () => void;
    retry: () => void;
  }
  let { atPlan, keeping, toPlan, retry }: Props = $props();
</script>

<div class="ml-auto flex items-center gap-3">
  <span class="quiet text-sm" role="status">
    {#if keeping === "kept"}Kept{:else if keeping === "moving"}…{:else}
      <span class="text-error">Not kept: the server does not answer.</span>
      <button class="link" onclick={retry}>Try again</button>
    {/if}
  </span>
  <button class="btn btn-sm max-sm:min-h-11" disabled={atPlan} onclick={toPlan} title="Key p"
    >{atPlan ? "This is the plan's choice" : "Put all three at the plan's choice"}</button
  >
</div>
