<script lang="ts">
  import { onMount } from 'svelte';

  import Notice from '$lib/ui/Notice.svelte';
  import { fromSi, trimmed, unitLabel } from '$lib/units/units.svelte';

  import { CONVERSIONS, converted } from './convert';
  import Drawing from './Drawing.svelte';
  import { BenchState, sure } from './measure.svelte';

  const bench = new BenchState();
  onMount(() => void bench.load());

  let conversion = $state('power');
  let amount = $state('1');
  let unit = $state('hp');
  const rows = $derived(converted(conversion, Number(amount.replace(',', '.')), unit));
  const shown = $derived.by(() => {
    if (!bench.result || !bench.instrument) return undefined;
    const { value, sd } = bench.result;
    const { unit } = bench.instrument;
    return sure(fromSi(value, unit), fromSi(value + sd, unit) - fromSi(value, unit));
  });
  const widest = $derived(bench.instrument?.readings.find((r) => r.key === bench.result?.widest)?.label ?? '');
</script>

<svelte:head><title>Measure · Kunstflug</title></svelte:head>

<h1>Measure</h1>
<div class="bench">
  <nav aria-label="Instruments">
    <h2>Instruments</h2>
    {#each bench.instruments as one (one.key)}
      <button class="pick" aria-pressed={bench.key === one.key} onclick={() => bench.use(one.key)}>{one.title}</button>
    {/each}
    <h2>Find</h2>
    {#each bench.finders as one (one.key)}
      <button class="pick" aria-pressed={bench.key === `find-${one.key}`} onclick={() => bench.use(`find-${one.key}`)}
        >{one.title}</button
      >
    {/each}
    <h2>Convert</h2>
    <button class="pick" aria-pressed={bench.key === 'convert'} onclick={() => bench.use('convert')}
      >Power, heat, length, speed, torque</button
    >
  </nav>
  <section aria-live="polite">
    {#if bench.key === 'convert'}
      <h2 class="big-title">Convert</h2>
      <div class="tabs" role="group" aria-label="Kind">
        {#each Object.keys(CONVERSIONS) as kind (kind)}
          <button
            class="tab"
            aria-pressed={conversion === kind}
            onclick={() => {
              conversion = kind;
              unit = CONVERSIONS[kind]?.[0] ?? '';
            }}>{kind}</button
          >
        {/each}
      </div>
      <p class="entry">
        <input inputmode="decimal" aria-label="Amount" bind:value={amount} />
        <select aria-label="Unit" bind:value={unit}
          >{#each CONVERSIONS[conversion] ?? [] as name (name)}<option value={name}>{unitLabel(name)}</option
            >{/each}</select
        >
      </p>
      <dl class="converted">
        {#each rows as [name, value] (name)}<dt>{name}</dt>
          <dd>{Number.isFinite(value) ? trimmed(value) : '–'}</dd>{/each}
      </dl>
    {:else if bench.tool}
      {@const tool = bench.instrument ?? bench.finder}
      <div class="two">
        <div>
          <h2 class="big-title">{tool?.title}</h2>
          <p>{tool?.how}</p>
          <form onsubmit={(e) => e.preventDefault()}>
            {#each bench.tool.readings as r (r.key)}
              <label
                >{r.label}
                <span class="cell"
                  ><input
                    inputmode="decimal"
                    value={bench.typed[r.key] ?? ''}
                    oninput={(e) => bench.read(r.key, e.currentTarget.value)}
                  /><span class="unit">{unitLabel(r.unit)}</span></span
                ></label
              >
            {/each}
          </form>
        </div>
        <div>
          <Drawing name={bench.key} si={bench.si} />
          {#if bench.instrument}<p class="equation">{bench.instrument.equation}</p>{/if}
        </div>
      </div>
      {#if bench.problem}<Notice kind="problem">{bench.problem.message}</Notice>{/if}
      {#if bench.instrument && shown !== undefined}
        <p class="result" data-testid="result">
          <span class="number">{shown[0]}</span><span class="unit">{unitLabel(bench.instrument.unit)}</span>
          <span class="pm">± {shown[1]}</span>
          {#if widest}<span class="quiet">mostly from “{widest}”</span>{/if}
        </p>
        {#if bench.instrument.writes.length}
          <p class="write">
            {#if bench.written}<b>{bench.written}.</b>{:else}
              <label
                >Save to
                <select value="" onchange={(e) => void bench.write(Number(e.currentTarget.value))}>
                  <option value="">a part…</option>
                  {#each bench.takers as part (part.id)}<option value={String(part.id)}>{part.kind} {part.name}</option
                    >{/each}
                </select></label
              >
              <span class="quiet">saved as measured, with its uncertainty</span>
            {/if}
          </p>
        {/if}
        {#if bench.instrument.caution}<p class="caution">{bench.instrument.caution}</p>{/if}
        <p class="quiet">Source: {bench.instrument.source}.</p>
      {:else if bench.finder && bench.found}
        <ul class="found">
          {#each bench.found as one (one.words)}<li>{one.words}</li>
          {:else}<li>{bench.finder.nothing}</li>{/each}
        </ul>
      {/if}
    {:else if bench.problem}<Notice kind="problem"
        >{bench.problem.message} <button class="plain" onclick={() => void bench.load()}>Try again</button></Notice
      >
    {:else}<p class="quiet">Loading instruments…</p>{/if}
  </section>
</div>

<style>
  .bench {
    display: grid;
    grid-template-columns: 15rem minmax(0, 1fr);
    gap: 2.5rem;
  }
  nav h2 {
    margin: 0.8rem 0 0.2rem;
    border-bottom: 1px solid var(--ink);
  }
  nav h2:first-child {
    margin-top: 0;
  }
  .pick {
    display: block;
    width: 100%;
    text-align: left;
    min-height: calc(var(--target) * 0.85);
    padding: 0 0.5rem;
    border-left: 4px solid transparent;
  }
  .pick[aria-pressed='true'] {
    border-left-color: var(--water);
    background: var(--sheet);
    font-weight: 600;
  }
  .pick:hover {
    background: var(--sheet);
  }
  .two {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
    gap: 2rem;
  }
  .big-title {
    font-size: 1.35rem;
    margin: 0;
  }
  form {
    display: grid;
    gap: 0.5rem;
  }
  label {
    color: var(--ink-2);
  }
  form label {
    display: grid;
    grid-template-columns: 1fr 9.5rem;
    align-items: baseline;
  }
  .cell {
    display: flex;
    align-items: baseline;
  }
  input,
  select {
    border: 0;
    border-bottom: 1px solid var(--ink);
    background: var(--sheet);
    color: var(--ink);
    min-height: var(--target);
    padding: 0 0.4rem;
    font-size: 1.1rem;
    font-weight: 500;
  }
  .cell input {
    width: 6.5rem;
  }
  select {
    padding-right: 1.6rem;
    max-width: 22rem;
  }
  .equation {
    font-style: italic;
    font-size: 1.05rem;
  }
  .result {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 0.2rem 0.8rem;
    border-top: 1px solid var(--ink);
    padding-top: 0.6rem;
    margin: 0.8rem 0 0.4rem;
  }
  .number {
    font-size: 3.6rem;
    font-weight: 300;
    font-stretch: 75%;
    line-height: 1;
  }
  .result .unit {
    font-size: 1.2rem;
    margin-left: -0.5rem;
  }
  .pm {
    font-size: 1.3rem;
  }
  .found {
    list-style: none;
    padding: 0.6rem 0 0;
    margin: 0.8rem 0;
    border-top: 1px solid var(--ink);
    display: grid;
    gap: 0.4rem;
  }
  .entry input {
    width: 8rem;
    font-size: 1.6rem;
  }
  .converted {
    display: grid;
    grid-template-columns: auto 1fr;
    gap: 0.2rem 1rem;
    font-size: 1.3rem;
    max-width: 20rem;
  }
  .converted dd {
    margin: 0;
    font-weight: 500;
    text-align: right;
  }
  @media (max-width: 760px) {
    .bench,
    .two {
      grid-template-columns: minmax(0, 1fr);
      gap: 1rem;
    }
  }
</style>
