<script lang="ts">
  interface Props {
    stages: { id: number; name: string; days: number }[];
    current: number | null;
    pick: (id: number) => void;
  }
  let { stages, current, pick }: Props = $props();
</script>

<div class="flex flex-wrap gap-1" role="group" aria-label="Stage">
  {#each stages as stage (stage.id)}
    <button
      class="btn btn-sm max-sm:min-h-11"
      class:btn-primary={stage.id === current}
      class:btn-ghost={stage.id !== current}
      aria-pressed={stage.id === current}
      onclick={() => pick(stage.id)}
      >{stage.name} <span class="font-normal">{stage.days} d</span></button
    >
  {/each}
</div>
