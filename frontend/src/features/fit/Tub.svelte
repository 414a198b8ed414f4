<script lang="ts">
  import { onMount, untrack } from 'svelte';
  import { scaleLinear } from 'd3-scale';
  import { area, line } from 'd3-shape';

  import type { SetupDocument, Tub } from '$lib/api/client';
  import { unitTicks } from '$lib/charts/ticks';
  import Notice from '$lib/ui/Notice.svelte';
  import { toSi, units } from '$lib/units/units.svelte';

  import { named, PLACES, TubState } from './tub.svelte';

  /** Full throttle, held back: a reading each half minute on the model's curve; "stop" before the ceiling. */
  let {
    document,
    setupId,
    onlearn,
  }: {
    document: SetupDocument;
    setupId: number;
    onlearn: (changes: Tub['changes']) => void;
  } = $props();

  const tub = new TubState();
  const ENDS = ['levelled off', 'stopped at the ceiling', 'ended early', 'the motor died'];
  let typed = $state('');
  let place = $state('case');
  let note = $state('');
  let width = $state(700);
  const height = 290;

  // Another setup or document: its own test, its own curve.
  $effect(() => {
    const [id, now] = [setupId, document];
    untrack(() => tub.open(id, now));
  });
  onMount(() => {
    const timer = setInterval(() => tub.tick(), 200);
    return () => clearInterval(timer);
  });

  const view = $derived(tub.view);
  const end = $derived(Math.min(600, Math.max(180, tub.now + 60, (tub.readings.at(-1)?.seconds ?? 0) + 60)));
  const x = $derived(scaleLinear([0, end], [44, width - 10]));
  const y = $derived(scaleLinear([0, Math.max(100, (view?.ceiling_c ?? 65) * 1.45)], [height - 30, 8]).clamp(true));
  const shown = (values: number[]) =>
    view ? view.time_s.map((t, k) => [t, values[k] ?? 0] as [number, number]).filter(([t]) => t <= end) : [];
  const path = (values: number[]) =>
    line<[number, number]>()
      .x((p) => x(p[0]))
      .y((p) => y(p[1]))(shown(values)) ?? '';
  const band = $derived(
    view
      ? (area<number>()
          .x((k) => x(view.time_s[k] ?? 0))
          .y0((k) => y(view.low_c[k] ?? 0))
          .y1((k) => y(view.high_c[k] ?? 0))(
          view.time_s.map((_, k) => k).filter((k) => (view.time_s[k] ?? 0) <= end),
        ) ?? '')
      : '',
  );
  // The core's reason, or the clock's where it has run on since the last reading.
  const why = $derived(
    view?.stop
      ? view.words
      : `${units.text(view?.ceiling_c, 'temperature')} is ${Math.max(0, Math.round(tub.left ?? 0))} s away, by the last reading.`,
  );
  const clock = $derived(`${Math.floor(tub.now / 60)}:${String(Math.floor(tub.now % 60)).padStart(2, '0')}`);
  const gunUnit = $derived(units.system === 'metric' ? 'degC' : 'degF');
  const changes = $derived(view?.changes ?? []);

  function take(event: SubmitEvent): void {
    event.preventDefault();
    const value = Number(typed.replace(',', '.'));
    if (typed.trim() === '' || !Number.isFinite(value)) return;
    tub.read(place, { value, unit: gunUnit, source: 'measured' });
    typed = '';
    place = PLACES[(PLACES.indexOf(place) + 1) % PLACES.length] ?? 'case';
  }
  // Each half minute the case comes first again; not under the hand of somebody who is typing.
  $effect(() => {
    if (tub.asks) untrack(() => (typed === '' ? (place = 'case') : undefined));
  });
</script>

<div class="top">
  <div class="clock" data-testid="answered" data-readings={tub.answered}>{clock}</div>
  {#if tub.stop}
    <p class="now stop-now" role="alert">Stop now. <span>{why}</span></p>
  {:else}
    <p class="now" aria-live="polite">
      {#if !tub.running}{tub.saved ? 'Kept.' : 'Boat held fast, propeller deep, hands clear.'}
      {:else if tub.asks}Read the motor case now.
      {:else}{view?.words ?? ''}{/if}
      {#if tub.running && tub.left !== undefined && !tub.asks}<span>{Math.max(0, Math.round(tub.left))} s left</span
        >{/if}
    </p>
  {/if}
  {#if !tub.running}<button class="plain strong big" onclick={() => tub.start()}
      >Start the clock at full throttle</button
    >{/if}
</div>
{#if tub.problem}<Notice kind="problem">{tub.problem.message}</Notice>{/if}
<div class="sheet">
  <div class="chart" bind:clientWidth={width}>
    {#if view}
      <svg {width} {height} role="img" aria-label="Motor case against time: forecast with band, readings, ceiling">
        <rect x="44" y="8" width={width - 54} height={Math.max(y(view.ceiling_c) - 8, 0)} fill="url(#hatch-short)" />
        <line x1="44" x2={width - 10} y1={y(view.ceiling_c)} y2={y(view.ceiling_c)} class="ceiling" />
        <text x={width - 12} y={y(view.ceiling_c) + 15} class="tick" text-anchor="end"
          >ceiling {units.text(view.ceiling_c, 'temperature')}</text
        >
        <path d={band} class="band" />
        <path d={path(view.prior_c)} class="prior" />
        {#if tub.readings.length}<path d={path(view.fitted_c)} class="fitted" />{/if}
        {#each tub.readings as r, k (k)}
          {#if r.place === 'case'}<circle cx={x(r.seconds)} cy={y(toSi(r.typed))} r="5" class="seen" />
          {:else}<path d="M{x(r.seconds) - 4} {y(toSi(r.typed)) - 4} l8 8 m0 -8 l-8 8" class="other" />{/if}
        {/each}
        {#if tub.running}<line x1={x(tub.now)} x2={x(tub.now)} y1="8" y2={height - 30} class="hand" />{/if}
        {#each x.ticks(width > 500 ? 6 : 4) as t (t)}<text
            x={x(t)}
            y={height - 12}
            class="tick"
            text-anchor={t > end - 12 ? 'end' : 'middle'}>{t} s</text
          >{/each}
        {#each unitTicks(y.domain(), 'temperature', 5) as t (t.at)}<text
            x="38"
            y={y(t.at) + 4}
            class="tick"
            text-anchor="end">{t.text}</text
          >{/each}
      </svg>
      <p class="quiet">
        ● case reading, × other reading; dashed: forecast with its band; solid: fit to your readings.
        {view.kinder}
      </p>
    {:else}<p class="quiet">Working out the tub test…</p>{/if}
  </div>
  <div class="side">
    <form onsubmit={take}>
      <label
        >Measured at
        <select bind:value={place}
          >{#each PLACES as p (p)}<option>{p}</option>{/each}</select
        ></label
      >
      <input
        inputmode="decimal"
        aria-label="Reading in {units.unit('temperature').unit}"
        bind:value={typed}
        disabled={!tub.running}
      />
      <span>{units.unit('temperature').unit}</span>
      <button class="plain" disabled={!tub.running}>Add reading</button>
      {#if tub.readings.length && tub.running}<button class="link" type="button" onclick={() => tub.drop()}
          >Remove last reading</button
        >{/if}
    </form>
    {#if view && tub.readings.length}
      <h2>What the readings show</h2>
      <ul>
        {#each view.taught as t (t.name)}
          <li class:moved={t.moved}>
            {named(t.name)} <b>{t.after.toPrecision(3)}</b> ±{Math.round(t.spread * 100)}%
            <span class="quiet"
              >was ~{t.before.toPrecision(3)} ±{Math.round(t.before_spread * 100)}%{t.moved ? '' : ', not taught'}</span
            >
          </li>
        {/each}
      </ul>
      {#if view.misfit_k !== null}<p class="quiet">
          The curve fits the readings to within {view.misfit_k.toFixed(1)} K.
        </p>{/if}
      {#if changes.length}<button class="plain" onclick={() => onlearn(changes)}>Use in this setup</button>{/if}
    {/if}
    {#if tub.running && tub.readings.length}
      <h2>End the test</h2>
      <input class="note" placeholder="What you saw, heard or smelt" bind:value={note} />
      <div class="ends">
        {#each ENDS as word (word)}<button class="plain" onclick={() => void tub.end(word, note)}>{word}</button>{/each}
      </div>
    {/if}
    <p class="caution">
      Propeller under water, boat held by the hull, nobody behind it. Common practice, no source: a case of 65 °C is
      where most stop. The maker's sheet comes first.
    </p>
  </div>
</div>

<style>
  .top {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.3rem 1.4rem;
  }
  .clock {
    font-size: 4.2rem;
    font-weight: 300;
    font-stretch: 72%;
    line-height: 1;
  }
  .now {
    font-size: 1.5rem;
    font-weight: 600;
    margin: 0;
    flex: 1 1 18rem;
  }
  .now span {
    font-weight: 400;
    font-size: 1.05rem;
    margin-left: 0.5rem;
  }
  .stop-now {
    color: var(--vermilion);
    border-left: 8px double var(--vermilion);
    padding-left: 0.8rem;
    font-size: 2.2rem;
    line-height: 1.15;
  }
  .big {
    min-height: 52px;
    font-size: 1.1rem;
  }
  .sheet {
    display: grid;
    grid-template-columns: minmax(0, 1.8fr) minmax(0, 1fr);
    gap: 2rem;
    margin-top: 0.6rem;
  }
  .band {
    fill: var(--water);
    opacity: 0.2;
  }
  .prior {
    fill: none;
    stroke: var(--ink);
    stroke-width: 1.6;
    stroke-dasharray: 8 5;
  }
  .fitted {
    fill: none;
    stroke: var(--water);
    stroke-width: 2.4;
  }
  .seen {
    fill: var(--ink);
  }
  .other {
    stroke: var(--ink-2);
    stroke-width: 1.6;
  }
  .ceiling {
    stroke: var(--ink);
  }
  .hand {
    stroke: var(--ink-2);
    stroke-width: 1;
  }
  form {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.4rem;
  }
  form input {
    width: 5.5rem;
    font-size: 1.5rem;
    min-height: 48px;
  }
  form input,
  select,
  .note {
    border: 0;
    border-bottom: 1px solid var(--ink);
    background: var(--sheet);
    color: var(--ink);
    padding: 0 0.4rem;
  }
  select {
    min-height: var(--target);
    padding-right: 1.6rem;
  }
  .note {
    width: 100%;
    min-height: var(--target);
  }
  .ends {
    display: flex;
    flex-wrap: wrap;
    gap: 0.4rem;
    margin-top: 0.4rem;
  }
  ul {
    list-style: none;
    margin: 0 0 0.4rem;
    padding: 0;
    font-size: 0.92rem;
  }
  li:not(.moved) b {
    font-weight: 400;
    font-style: italic;
  }
  h2 {
    margin: 0.8rem 0 0.2rem;
  }
  @media (max-width: 900px) {
    .sheet {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
