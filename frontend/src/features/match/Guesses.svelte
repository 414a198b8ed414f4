<script lang="ts">
  import type { Forecast, Quantity, SetupDocument } from '$lib/api/client';
  import { trimmed, unitLabel } from '$lib/units/units.svelte';

  import { measurable } from './measure';

  /** What the forecast stands on that nobody measured, widest first: measure the top one first. */
  let {
    forecast,
    document,
    onmeasure,
  }: { forecast: Forecast; document: SetupDocument; onmeasure: (path: string, value: Quantity) => void } = $props();

  let open = $state('');
  let typed = $state('');

  let all = $state(false);
  const OF: [string, string][] = [
    ['speed_mps', 'speed'],
    ['current_a', 'current'],
    ['rpm', 'rpm'],
    ['electrical_power_w', 'power'],
    ['thrust_n', 'thrust'],
    ['motor_efficiency', 'motor'],
  ];
  let of = $state('speed_mps');
  const part = (g: Forecast['guesses'][number]) => g.shares[of] ?? 0;
  const guesses = $derived([...forecast.guesses].filter((g) => part(g) > 0.002).sort((a, b) => part(b) - part(a)));
  const shown = $derived(all ? guesses : guesses.slice(0, 6));
  const SMALL: Record<string, [number, string]> = {
    ohm: [1000, 'mΩ'],
    m2: [1e4, 'cm²'],
    m: [1000, 'mm'],
    kg: [1000, 'g'],
  };

  function number(value: number, unit: string): string {
    const [factor, label] = SMALL[unit] ?? [1, unitLabel(unit)];
    return `${trimmed(Number((value * factor).toPrecision(3)))} ${label}`.trim();
  }
</script>

<section>
  <h2>
    What widens the band of
    <select aria-label="Headline" bind:value={of}>
      {#each OF as [key, words] (key)}<option value={key}>{words}</option>{/each}
    </select>
  </h2>
  {#if !guesses.length}
    <p class="quiet">No guesses: every number was given.</p>
  {:else}
    <ol>
      {#each shown as g (g.parameter)}
        <li>
          <div class="row">
            <span
              >{g.label} <span class="value" class:guess={g.source === 'guessed'}>{number(g.value, g.unit)}</span></span
            >
            <span class="share">{Math.round(part(g) * 100)}%</span>
          </div>
          <div class="rule"><span style:width="{Math.max(part(g) * 100, 0.6)}%"></span></div>
          <p class="why">
            {g.reason || 'known to a few percent'}
            {#if g.source === 'guessed' && measurable(g.parameter, document)}
              <button
                class="measure"
                aria-expanded={open === g.parameter}
                onclick={() => {
                  open = open === g.parameter ? '' : g.parameter;
                  typed = '';
                }}>Measured?<span class="visually-hidden"> {g.label}</span></button
              >
            {/if}
          </p>
          {#if open === g.parameter}
            {@const field = measurable(g.parameter, document)}
            {#if field}
              <form
                class="typed"
                onsubmit={(e) => {
                  e.preventDefault();
                  const value = Number(typed.replace(',', '.'));
                  if (!Number.isFinite(value) || value <= 0) return;
                  onmeasure(field.path, { value, unit: field.unit, source: 'measured' });
                  open = '';
                }}
              >
                <label>{field.label}, {unitLabel(field.unit)} <input inputmode="decimal" bind:value={typed} /></label>
                <button class="plain">Use measured value</button>
              </form>
            {/if}
          {/if}
        </li>
      {/each}
    </ol>
    {#if guesses.length > 6}
      <button class="more" onclick={() => (all = !all)}>{all ? 'Largest only' : `all ${guesses.length}`}</button>
    {/if}
  {/if}
  {#each forecast.caveats as caveat (caveat)}
    <p class="caveat">{caveat}</p>
  {/each}
</section>

<style>
  h2 {
    margin: 0 0 0.4rem;
  }
  ol {
    list-style: none;
    margin: 0;
    padding: 0;
    display: grid;
    gap: 0.45rem;
  }
  select {
    background: transparent;
    border: 0;
    border-bottom: 1px solid var(--ink);
    color: var(--ink);
    font: inherit;
    min-height: calc(var(--target) * 0.8);
    padding: 0 1.6rem 0 0.2rem;
  }
  .row {
    display: flex;
    justify-content: space-between;
    gap: 0.6rem;
    font-size: 0.92rem;
  }
  .value {
    font-weight: 600;
    white-space: nowrap;
  }
  .share {
    font-weight: 600;
  }
  .rule {
    height: 4px;
    background: var(--hair);
  }
  .rule span {
    display: block;
    height: 4px;
    background: var(--water);
  }
  .why {
    margin: 0;
    font-size: 0.8rem;
    color: var(--ink-2);
    font-stretch: 85%;
  }
  .measure {
    color: var(--water);
    text-decoration: underline;
    min-height: 24px;
  }
  .typed {
    display: flex;
    gap: 0.5rem;
    align-items: end;
    font-size: 0.86rem;
  }
  .typed input {
    width: 5rem;
    border: 0;
    border-bottom: 1px solid var(--ink);
    background: var(--sheet);
    color: var(--ink);
    min-height: var(--target);
  }
  .more {
    color: var(--water);
    text-decoration: underline;
    padding: 0.4rem 0;
    min-height: 24px;
  }
  .caveat {
    border-left: 3px solid var(--ochre-mark);
    padding-left: 0.6rem;
    font-size: 0.88rem;
    margin: 0.6rem 0 0;
  }
</style>
