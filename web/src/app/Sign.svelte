<script lang="ts">
  import { garden } from "../api/garden.svelte";
  import { waitingHere } from "../api/waiting";
  import Field from "../parts/form/Field.svelte";
  import { newForm } from "../parts/form/form.svelte";

  let how = $state<"sign-in" | "sign-up">("sign-in");
  let name = $state("");
  let password = $state("");
  const entering = newForm();
  const waiting = waitingHere();

  async function enter(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    await entering.send(() => garden.enter(how, name, password));
  }
</script>

<main class="mx-auto grid min-h-dvh max-w-4xl items-center gap-10 p-6 md:grid-cols-2">
  <div>
    <h1 class="text-primary text-4xl font-semibold tracking-tight">Idle Canopy</h1>
    <p class="mt-4 text-xl leading-snug">
      Say what tent, what lamp and what crop you have, and read where to hang it, how far to turn it
      up and how long to leave it on.
    </p>
    <p class="quiet mt-4">
      Everything stays on this machine. Grow only what is lawful where you live.
    </p>
  </div>
  <form class="bg-base-200 rounded-box grid gap-4 p-6" onsubmit={enter} novalidate>
    {#each waiting as [grower, count] (grower)}
      <p role="status">
        {count === 1 ? "1 entry" : `${count} entries`} of {grower} wait on this device until {grower}
        signs in.
      </p>
    {/each}
    <h2 class="text-xl font-semibold">{how === "sign-in" ? "Sign in" : "Make an account"}</h2>
    <Field label="Name" bind:value={name} autocomplete="username" name="name" />
    <Field
      label="Password"
      type="password"
      bind:value={password}
      autocomplete={how === "sign-in" ? "current-password" : "new-password"}
      name="password"
      hint={how === "sign-up"
        ? "At least 8 characters. There is no mail to reset it: keep it safe."
        : undefined}
    />
    {#if entering.general && !entering.marked}<p class="text-error" role="alert">
        {entering.general}
      </p>{/if}
    <button class="btn btn-primary" disabled={entering.busy}
      >{how === "sign-in" ? "Sign in" : "Make the account"}</button
    >
    <button
      type="button"
      class="btn btn-ghost"
      onclick={() => {
        how = how === "sign-in" ? "sign-up" : "sign-in";
        entering.refused = null;
      }}>{how === "sign-in" ? "New here: make an account" : "I have an account"}</button
    >
  </form>
</main>
