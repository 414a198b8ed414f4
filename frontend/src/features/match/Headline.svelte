<script lang="ts">
  import type { Forecast } from '$lib/api/client';
  import Verdict from '$lib/ui/Verdict.svelte';
  import { units } from '$lib/units/units.svelte';

  import Crossing from './Crossing.svelte';

  /** The answer: speed with its band, and the verdict; the saved value stays as a ghost. */
  let { forecast, ghost }: { forecast: Forecast; ghost?: Forecast | undefined } = $props();

  const speed = $derived(forecast.point.speed_mps);
  const shown = $derived(units.show(speed.value, 'speed', 0));
  const worst = $derived([...forecast.margins].filter((m) => m.verdict !== 'holds').sort((a, b) => b.use - a.use)[0]);
  const others = $derived([
    ['rpm loaded', units.text(forecast.point.rpm.value, 'rotation')],
    ['of free', units.text((forecast.point.rpm.value ?? NaN) / (forecast.point.free_rpm.value ?? NaN), 'percent')],
    ['slip', units.text(forecast.point.slip.value, 'percent')],
    ['current', units.text(forecast.point.current_a.value, 'current')],
    ['power', units.text(forecast.point.electrical_power_w.value, 'power')],
    ['thrust', units.text(forecast.point.thrust_n.value, 'force')],
    ['propeller', units.text(forecast.point.propeller_efficiency.value, 'percent')],
    ['motor', units.text(forecast.point.motor_efficiency.value, 'percent')],
  ] as const);
</script>

<section class="headline" aria-live="polite" data-testid="headline">
  {#if forecast.runs}
    <div class="speed">
      <span class="big" data-testid="speed">{shown.text}</span><span class="unit">{shown.unit}</span>
    </div>
    <Crossing {forecast} {ghost} />
    <div class="beside">
      <div class="band">
        80 % between <b>{units.show(speed.low, 'speed', 0).text}</b> and
        <b>{units.show(speed.high, 'speed', 0).text}</b>
        {#if ghost && ghost.point.speed_mps.value !== speed.value}
          <span class="was"
            >saved: {ghost.runs ? units.text(ghost.point.speed_mps.value, 'speed', 0) : 'does not run'}</span
          >
        {/if}
      </div>
      <div class="verdict">
        <Verdict verdict={forecast.verdict} />
        <span class="why">{worst ? worst.reason : 'Every limit holds at the forecast load'}</span>
      </div>
    </div>
    <dl>
      {#each others as [name, text] (name)}
        <div>
          <dt>{name}</dt>
          <dd>{text}</dd>
        </div>
      {/each}
    </dl>
  {:else}
    <div class="refused" role="alert">
      <Verdict verdict={forecast.verdict} big />
      <p>{forecast.refusal}</p>
      {#if forecast.remedies.length}
        <p class="nearest">
          Closest change that works:
          {#each forecast.remedies as remedy, k (remedy.path)}{k ? '; ' : ' '}{remedy.sentence} at about {units.text(
              remedy.speed_mps,
              'speed',
              0,
            )}{/each}.
        </p>
      {:else}
        <p class="nearest">No single change of propeller, KV, cells or mass makes this drive run.</p>
      {/if}
    </div>
  {/if}
</section>

<style>
  .headline {
    display: flex;
    align-items: flex-end;
    flex-wrap: wrap;
    gap: 0.4rem 1.3rem;
    min-height: 84px;
  }
  .speed {
    line-height: 0.9;
    white-space: nowrap;
  }
  .big {
    font-size: 5.2rem;
    font-weight: 300;
    font-stretch: 72%;
    letter-spacing: -0.01em;
  }
  .speed .unit {
    font-size: 1.3rem;
  }
  .beside {
    display: grid;
    gap: 0.3rem;
    padding-bottom: 0.3rem;
    flex: 1 1 10rem;
    max-width: 30rem;
    min-width: 0;
  }
  .was {
    color: var(--ghost);
    border-bottom: 2px dashed var(--ghost);
    margin-left: 0.7rem;
    white-space: nowrap;
  }
  .verdict {
    display: flex;
    flex-wrap: wrap;
    gap: 0.1rem 0.6rem;
    line-height: 1.3;
  }
  .why {
    color: var(--ink-2);
    font-size: 0.9rem;
    font-stretch: 88%;
  }
  dl {
    display: grid;
    grid-template-columns: repeat(4, auto);
    gap: 0.25rem 1.1rem;
    margin: 0 0 0.3rem auto;
  }
  dl div {
    display: flex;
    gap: 0.4rem;
    justify-content: space-between;
    border-bottom: 1px solid var(--hair);
    white-space: nowrap;
  }
  dt {
    color: var(--ink-2);
    font-size: 0.86rem;
    font-stretch: 80%;
  }
  dd {
    margin: 0;
    font-weight: 500;
    font-size: 0.95rem;
  }
  .refused {
    max-width: 62ch;
    border-left: 6px double var(--vermilion);
    padding-left: 1rem;
  }
  .refused p {
    margin: 0.3rem 0;
  }
  @media (min-width: 1151px) {
    .headline {
      flex-wrap: nowrap;
    }
  }
  @media (max-width: 760px) {
    .big {
      font-size: 4.4rem;
    }
    dl {
      grid-template-columns: repeat(2, 1fr);
      margin: 0;
      width: 100%;
    }
  }
</style>
