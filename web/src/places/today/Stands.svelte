<script lang="ts">
  import type { DayToday } from "../../api/client";
  import { account } from "../../api/grower.svelte";
  import { dayWords, hang, hours, length, trim, windowsWords } from "../../units/format";
  import { worded } from "../../words/said";

  let { day }: { day: DayToday } = $props();
  const unit = $derived(account.unit);
  const stands = $derived(day.stands);
  const most = $derived(
    Math.max(day.dli_high * 1.15, stands?.dli ?? 0, stands?.dli_so_far ?? 0, 1e-6),
  );
  const at = (dli: number): number => (100 * dli) / most;
  const lit = $derived(stands?.windows.reduce((sum, window) => sum + window.hours, 0) ?? 0);
</script>

{#if stands}
  <section class="bg-base-200 rounded-box grid gap-2 p-4" aria-label="Where things stand">
    <div class="flex flex-wrap items-baseline gap-x-2">
      <h3 class="font-semibold">Light today</h3>
      <p>
        <strong class="text-xl">{trim(stands.dli_so_far, 1)}</strong> of {trim(stands.dli, 1)} mol so
        far.
        <span class="quiet"
          >{day.stage} asks for {trim(day.dli_low, 1)} to {trim(day.dli_high, 1)}.</span
        >
      </p>
    </div>
    <svg viewBox="0 0 100 7" preserveAspectRatio="none" class="bar" aria-hidden="true">
      <rect class="band" x={at(day.dli_low)} width={at(day.dli_high - day.dli_low)} height="7" />
      <rect class="whole" width={at(stands.dli)} y="2.4" height="2.2" />
      <rect class="given" width={at(stands.dli_so_far)} y="1.4" height="4.2" />
    </svg>
    {#if day.until}<p><strong>{worded(day.until.line, unit)}</strong></p>{/if}
    {#if day.make_up}<p>{worded(day.make_up, unit)}</p>{/if}
    <dl class="grid grid-cols-2 gap-x-6 gap-y-2 sm:grid-cols-4">
      <div>
        <dt class="quiet text-sm">Lamp above the tops</dt>
        <dd>
          <strong>{hang(stands.height_cm, unit)}</strong>
          <span class="quiet">{length(stands.closest_cm, unit)} at least</span>
        </dd>
      </div>
      <div>
        <dt class="quiet text-sm">Tops above the floor</dt>
        <dd>
          <strong>{length(day.tops_cm, unit)}</strong>
          {#if day.tops_low !== null && day.tops_high !== null}<span class="quiet"
              >{length(day.tops_low, unit)} to {length(day.tops_high, unit)}</span
            >{:else}<span class="quiet">as planned</span>{/if}
        </dd>
      </div>
      <div>
        <dt class="quiet text-sm">Dial</dt>
        <dd>
          <strong>{trim(stands.dial_pct, 1)}</strong>
          <span class="quiet">since {dayWords(stands.set_on)}</span>
        </dd>
      </div>
      <div>
        <dt class="quiet text-sm">Hours</dt>
        <dd>
          {#if lit}<strong>{hours(lit)}</strong>
            <span class="quiet">{windowsWords(stands.windows)}</span>{:else}<strong>off</strong
            >{/if}
        </dd>
      </div>
    </dl>
  </section>
{/if}

<style>
  .bar {
    display: block;
    width: 100%;
    height: 1.4rem;
    background: var(--color-base-300);
    border-radius: 3px;
  }
  .band {
    fill: var(--floor-inside);
  }
  .whole {
    fill: var(--light-edge);
    fill-opacity: 0.55;
  }
  .given {
    fill: var(--color-primary);
  }
</style>
