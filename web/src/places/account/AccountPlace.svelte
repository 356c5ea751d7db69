<script lang="ts">
  import { account } from "../../api/grower.svelte";
  import ArchiveIn from "./ArchiveIn.svelte";
  import ArchiveOut from "./ArchiveOut.svelte";
  import LeaveCard from "./LeaveCard.svelte";
  import PasswordCard from "./PasswordCard.svelte";
  import PhoneCard from "./PhoneCard.svelte";
</script>

<h1 class="pt-2 text-2xl font-semibold">Everything {account.grower?.name ?? "you"} keeps</h1>
<p class="max-w-3xl">
  All of it fits into one open file: spaces, lamps, crops, plans and runs, readings, the log with
  its photos, devices and what they reported. It is yours to keep, to move to another machine, or to
  read with other programs.
</p>
<div class="mt-4 grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-2">
  <ArchiveOut />
  <ArchiveIn />
  <PhoneCard />
  {#if account.grower && !account.grower.is_demo}
    <PasswordCard />
    <LeaveCard />
  {/if}
</div>
