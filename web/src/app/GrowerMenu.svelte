<script lang="ts">
  import { account, timeZone } from "../api/grower.svelte";
  import Field from "../parts/form/Field.svelte";
  import { newForm } from "../parts/form/form.svelte";
  import { dayWords } from "../units/format";
  import SelectField from "../parts/form/SelectField.svelte";
  import SaveRow from "../parts/form/SaveRow.svelte";

  let { close }: { close: () => void } = $props();
  const sending = newForm();
  const id = $props.id();
  let currency = $state(account.currency);
  let zone = $state(account.grower?.time_zone ?? "UTC");
  let degrees = $state(account.grower?.temperature_unit ?? "");
  let zones = $state<string[]>([]);

  const here = $derived(account.grower?.time_zone ?? "UTC");
  void sending
    .send(async () => {
      zones = await account.timeZones();
    })
    .then(() => (sending.kept = false));

  async function keep(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    if (
      await sending.send(() =>
        account.prefer({ currency, time_zone: zone, temperature_unit: degrees }),
      )
    )
      close();
  }
</script>

<form class="bg-base-200 flex flex-wrap items-end gap-3 px-4 py-2" onsubmit={keep} novalidate>
  <div class="grid gap-0.5">
    <label class="quiet text-sm" for={id}>Your clock</label>
    <select {id} class="select select-sm w-64 max-sm:min-h-11" bind:value={zone}>
      {#each zones.includes(here) ? zones : [here, ...zones] as each (each)}
        <option value={each}>{each.replaceAll("_", " ")}</option>
      {/each}
    </select>
  </div>
  {#if timeZone() !== zone}
    <button
      type="button"
      class="btn btn-sm btn-ghost max-sm:min-h-11"
      onclick={() => (zone = timeZone())}
      >This browser says {timeZone().replaceAll("_", " ")}</button
    >
  {/if}
  <div class="w-28"><Field small label="Your money" name="currency" bind:value={currency} /></div>
  <div class="w-56">
    <SelectField
      small
      label="Temperatures in"
      bind:value={degrees}
      options={[
        { value: "", label: account.unit === "in" ? "°F, as with inches" : "°C, as with cm" },
        { value: "C", label: "°C" },
        { value: "F", label: "°F" },
      ]}
    />
  </div>
  <p class="quiet basis-full text-sm sm:order-last">
    Days begin by this clock; it is {dayWords(account.today)} for you now. Prices typed from now on are
    in this money; those typed before stay in theirs.
  </p>
  <div class="flex gap-2">
    <SaveRow form={sending} label="Keep" />
    <button type="button" class="btn btn-ghost max-sm:min-h-11" onclick={close}>Close</button>
    <a class="btn btn-ghost max-sm:min-h-11" href="/account" onclick={close}
      >Your account: on your phone, password, take everything along</a
    >
  </div>
</form>
