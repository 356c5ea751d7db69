<script lang="ts">
  import { account } from "../../api/grower.svelte";
  import Field from "../../parts/form/Field.svelte";
  import { newForm } from "../../parts/form/form.svelte";
  import SaveRow from "../../parts/form/SaveRow.svelte";

  const sending = newForm();
  let present = $state("");
  let next = $state("");

  async function change(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    if (await sending.send(() => account.changePassword(present, next))) present = next = "";
  }
</script>

<form class="bg-base-200 rounded-box grid gap-3 p-4" onsubmit={change} novalidate>
  <h2 class="font-semibold">Your password</h2>
  <!-- for password keepers: whose it is -->
  <input
    class="hidden"
    type="text"
    autocomplete="username"
    value={account.grower?.name ?? ""}
    readonly
    aria-hidden="true"
    tabindex="-1"
  />
  <Field
    label="The one you have"
    type="password"
    autocomplete="current-password"
    name="present"
    bind:value={present}
  />
  <Field
    label="The one to come"
    type="password"
    autocomplete="new-password"
    name="new"
    bind:value={next}
    hint="At least 8 characters. Where else you are signed in, that is over then."
  />
  <SaveRow form={sending} label="Change it" />
</form>
