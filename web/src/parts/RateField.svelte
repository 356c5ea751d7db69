<script lang="ts">
  import { account } from "../api/grower.svelte";
  import Figure from "./form/Figure.svelte";
  import { attempt } from "./notice.svelte";

  interface Props {
    /** The money a price is in, other than the grower's own. */
    money: string;
    /** Told once the rate is kept. */
    kept?: () => void;
  }
  let { money, kept }: Props = $props();

  async function keep(rate: number | null): Promise<void> {
    if (rate !== null && !(rate > 0)) return;
    const { [money]: _, ...rest } = account.rates;
    const rates = rate === null ? rest : { ...rest, [money]: rate };
    if (await attempt(() => account.prefer({ rates }).then(() => true))) kept?.();
  }
</script>

<Figure
  narrow
  label="One {money} is"
  unit={account.currency}
  bind:value={() => account.rates[money] ?? null, (rate) => void keep(rate ?? null)}
  hint="By your rate its price is compared; without one it is not."
/>
