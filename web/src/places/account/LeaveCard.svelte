<script lang="ts">
  import { garden } from "../../api/garden.svelte";
  import { account } from "../../api/grower.svelte";
  import Field from "../../parts/form/Field.svelte";
  import { newForm } from "../../parts/form/form.svelte";
  import { attempt } from "../../parts/notice.svelte";

  const sending = newForm();
  let deleting = $state(false);
  let password = $state("");

  const everywhere = (): Promise<unknown> =>
    attempt(() => garden.leave(() => account.leaveEverywhere()));
  async function go(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    await sending.send(() => garden.leave(() => account.delete(password)));
  }
</script>

<section class="bg-base-200 rounded-box grid gap-3 p-4" aria-labelledby="leave-title">
  <h2 id="leave-title" class="font-semibold">Leave</h2>
  <p>
    A phone lost, or a browser left open somewhere: end every session, here too. Devices keep their
    tokens; those are revoked on <a class="link" href="/devices">Devices</a>.
  </p>
  <p>
    <button type="button" class="btn bg-base-100 max-sm:min-h-12" onclick={everywhere}
      >Sign out everywhere</button
    >
  </p>
  {#if !deleting}
    <p>
      <button
        type="button"
        class="btn btn-ghost text-error max-sm:min-h-12"
        onclick={() => (deleting = true)}>Delete this account…</button
      >
    </p>
  {:else}
    <form class="grid gap-3" onsubmit={go} novalidate>
      <p>
        Everything of {account.grower?.name ?? "yours"} goes: spaces, lamps, plans and runs, readings,
        the log with its photos, devices. <strong>It does not come back</strong>: take everything
        out first, above. Backups the server keeps hold it until they are let go of.
      </p>
      <Field
        label="Your password"
        type="password"
        autocomplete="current-password"
        name="password"
        bind:value={password}
      />
      {#if sending.general && !sending.marked}<p class="text-error" role="alert">
          {sending.general}
        </p>{/if}
      <div class="flex flex-wrap gap-2">
        <button class="btn btn-error max-sm:min-h-12" disabled={sending.busy || !password}
          >Delete it for good</button
        >
        <button
          type="button"
          class="btn btn-ghost max-sm:min-h-12"
          onclick={() => (deleting = false)}>Keep it</button
        >
      </div>
    </form>
  {/if}
</section>
