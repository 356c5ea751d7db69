<script lang="ts">
  import type { Space } from "../../api/client";
  import { fixtures } from "../../api/fixtures.svelte";
  import { garden } from "../../api/garden.svelte";
  import { account } from "../../api/grower.svelte";
  import { asGiven, spaces } from "../../api/spaces.svelte";
  import Figure from "../../parts/form/Figure.svelte";
  import SelectField from "../../parts/form/SelectField.svelte";
  import { getGo } from "../../parts/go";
  import { attempt, notice } from "../../parts/notice.svelte";
  import { type Area, Typed } from "../../parts/typed/typed.svelte";
  import TypedMap from "../../parts/typed/TypedMap.svelte";
  import { fromCm, hours, money, percent, toCm, trim } from "../../units/format";
  import { TERMS } from "../../words/terms";
  import SumCard from "./SumCard.svelte";

  const go = getGo();
  const currency = $derived(garden.space?.currency ?? account.currency);
  const planned = $derived(Boolean(garden.run && !garden.run.ended_on));

  let ppfd = $state<number>(250);
  let lit = $state<number>(14);
  let dli = $state<number>(12);
  let step = $state<1 | 15 | 30 | 60>(15);
  let watts = $state<number>(66);
  let days = $state<number>(45);
  let price = $state<number>(garden.space?.tariff_per_kwh ?? 0.3);
  let plants = $state<number>(9);
  let lampId = $state<number>(garden.fixture?.id ?? fixtures.present[0]?.id ?? 0);
  let dial = $state<number>(50);
  let lux = $state<number>(20000);
  let long = $state<number>(45.72);
  let perM2 = $state<number>(460);
  const lamps = $derived(fixtures.present.map((each) => ({ value: each.id, label: each.name })));

  const typed = new Typed();
  let places = $state<Pick<Area, "places" | "inset_x_cm" | "inset_y_cm">>({
    places: "cells",
    inset_x_cm: 0,
    inset_y_cm: 0,
  });
  const area = $derived<Area>({
    ...places,
    width_cm: garden.space?.width_cm ?? 100,
    depth_cm: garden.space?.depth_cm ?? 100,
    dli: dli || 0,
    timer_step_min: step,
  });

  /** Try a lever's position on the bench, in the plan that is open. */
  function tryOut(part: { hours?: number; dial_pct?: number }): void {
    garden.toTry = part;
    go("/bench");
  }
  /** What the open plan's lamp draws and its space pays, to begin from. */
  const space = $derived(garden.space);
  const usePrice = $derived(
    space && !garden.run?.begun_on && price >= 0 && price !== space.tariff_per_kwh
      ? { label: `Take this price into ${space.name}`, run: () => void keepPrice(space) }
      : undefined,
  );
  async function keepPrice(of: Space): Promise<void> {
    const priced = { ...asGiven($state.snapshot(of) as Space), tariff_per_kwh: price };
    if (await attempt(() => spaces.save(of.id, priced)))
      notice.say(`Power in ${of.name} costs ${money(price, currency)} a kWh from today.`);
  }
  const tryHours = $derived(
    planned
      ? {
          label: "Try these hours in the plan",
          run: (f: Record<string, number>) => tryOut({ hours: f.timer_hours ?? 0 }),
        }
      : undefined,
  );
</script>

{#snippet number(label: string, unit: string, get: () => number, set: (value: number) => void)}
  <Figure narrow {label} {unit} bind:value={get, (value) => set(value ?? NaN)} />
{/snippet}
{#snippet lamp()}
  <SelectField small label="Lamp" bind:value={lampId} options={lamps} />
{/snippet}
{#snippet timer()}
  <SelectField
    small
    label="Timer steps"
    bind:value={step}
    options={([1, 15, 30, 60] as const).map((m) => ({ value: m, label: `${m} min` }))}
  />
{/snippet}

<div class="py-3">
  <h1 class="text-2xl leading-tight font-semibold">The sums growers do on paper</h1>
  <p class="quiet">
    Free of any plan; nothing here is kept. PPFD is the light that falls on a square metre each
    second (µmol/m²/s), DLI all of it over a day (mol/m²).
  </p>
</div>
<div class="grid items-start gap-4 md:grid-cols-2 xl:grid-cols-3">
  <section
    class="bg-base-200 rounded-box grid content-start gap-2 p-4 md:col-span-2 xl:row-span-3"
    aria-labelledby="readings-title"
  >
    <h2 id="readings-title" class="text-lg font-semibold">Readings to a mean</h2>
    <div class="flex flex-wrap items-start gap-2">
      {@render number(
        "For a DLI of",
        "mol",
        () => dli,
        (v) => (dli = v),
      )}
      {@render timer()}
    </div>
    <TypedMap {typed} bind:area={() => area, (given) => (places = given)} />
    <p class="quiet text-sm">
      To plan by them, type them at a lamp: Fixtures, the lamp's light, “type, paste or import”.
    </p>
  </section>
  <SumCard
    title="A day's light"
    asked={{ kind: "dli", ppfd, hours: lit }}
    says={(f) => `${trim(f.dli ?? 0, 2)} mol a day`}
    use={{ label: "Work on with this DLI", run: (f) => (dli = Number(trim(f.dli ?? 0, 2))) }}
  >
    {@render number(
      "PPFD",
      "µmol",
      () => ppfd,
      (v) => (ppfd = v),
    )}
    {@render number(
      "for",
      "h",
      () => lit,
      (v) => (lit = v),
    )}
  </SumCard>
  <SumCard
    title="Hours for a day's light"
    asked={{ kind: "hours", dli, ppfd, step_min: step }}
    says={(f) => `${hours(f.timer_hours ?? 0)} on the timer`}
    use={tryHours}
  >
    {@render number(
      "DLI",
      "mol",
      () => dli,
      (v) => (dli = v),
    )}
    {@render number(
      "at a PPFD of",
      "µmol",
      () => ppfd,
      (v) => (ppfd = v),
    )}
    {@render timer()}
  </SumCard>
  <SumCard
    title="PPFD for a day's light"
    asked={{ kind: "ppfd", dli, hours: lit }}
    says={(f) => `${Math.round(f.ppfd ?? 0)} µmol/m²/s`}
    use={{ label: "Work on with this PPFD", run: (f) => (ppfd = Number(trim(f.ppfd ?? 0, 1))) }}
  >
    {@render number(
      "DLI",
      "mol",
      () => dli,
      (v) => (dli = v),
    )}
    {@render number(
      "in",
      "h",
      () => lit,
      (v) => (lit = v),
    )}
  </SumCard>
  <SumCard
    title="What it draws and costs"
    asked={{ kind: "cost", watts, hours: lit, days, per_kwh: price, plants }}
    says={(f) =>
      `${trim(f.kwh ?? 0, 2)} kWh, ${money(f.cost ?? 0, currency)}; ${money(f.each ?? 0, currency)} a plant`}
    use={usePrice}
  >
    {@render number(
      "At the plug",
      "W",
      () => watts,
      (v) => (watts = v),
    )}
    {@render number(
      "hours a day",
      "h",
      () => lit,
      (v) => (lit = v),
    )}
    {@render number(
      "Days",
      "",
      () => days,
      (v) => (days = v),
    )}
    {@render number(
      "Price a kWh",
      currency,
      () => price,
      (v) => (price = v),
    )}
    {@render number(
      "Plants",
      "",
      () => plants,
      (v) => (plants = v),
    )}
  </SumCard>
  <SumCard
    title="What a dial gives"
    asked={{ kind: "dial", fixture_id: lampId, dial_pct: dial }}
    says={(f) =>
      `${percent(f.light ?? 0)} of its light, ${trim(f.watts ?? 0, 1)} W, ${Math.round(f.ppf_umol_s ?? 0)} µmol/s`}
    use={planned && lampId === garden.run?.fixture_id
      ? { label: "Try this dial in the plan", run: () => tryOut({ dial_pct: dial }) }
      : undefined}
  >
    {@render lamp()}
    {@render number(
      "Dial at",
      "%",
      () => dial,
      (v) => (dial = v),
    )}
  </SumCard>
  <SumCard
    title="Lux to PPFD, by the lamp"
    asked={{ kind: "from_lux", fixture_id: lampId, lux }}
    says={(f) => `${trim(f.ppfd ?? 0, 1)} µmol/m²/s`}
    use={{ label: "Work on with this PPFD", run: (f) => (ppfd = Number(trim(f.ppfd ?? 0, 1))) }}
  >
    {@render lamp()}
    {@render number(
      "Lux meter says",
      "lx",
      () => lux,
      (v) => (lux = v),
    )}
  </SumCard>
  <SumCard
    title="PPFD to lux, by the lamp"
    asked={{ kind: "lux", fixture_id: lampId, ppfd }}
    says={(f) => `${Math.round(f.lux ?? 0)} lux`}
  >
    {@render lamp()}
    {@render number(
      "PPFD",
      "µmol",
      () => ppfd,
      (v) => (ppfd = v),
    )}
  </SumCard>
  <SumCard
    title="Metric and imperial"
    asked={{ kind: "measures", cm: long, per_m2: perM2 }}
    says={(f) => `${trim(f.inches ?? 0, 2)} inches; ${trim(f.per_ft2 ?? 0, 2)} a square foot`}
  >
    {@render number(
      "Length",
      "cm",
      () => long,
      (v) => (long = v),
    )}
    {@render number(
      "or in inches",
      "in",
      () => Number(trim(fromCm(long, "in"), 4)),
      (v) => (long = toCm(v, "in")),
    )}
    {@render number(
      "A square metre has",
      "",
      () => perM2,
      (v) => (perM2 = v),
    )}
  </SumCard>
</div>
<details class="mt-4 pb-4">
  <summary class="cursor-pointer text-lg font-semibold max-sm:min-h-11"
    >The words of the trade</summary
  >
  <dl class="mt-2 grid gap-x-6 gap-y-2 md:grid-cols-2">
    {#each Object.entries(TERMS) as [key, term] (key)}
      <div>
        <dt class="font-semibold">{term.name}</dt>
        <dd>{term.text}</dd>
      </div>
    {/each}
  </dl>
</details>
