<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Input from 'flowbite-svelte/Input.svelte';
  import Label from 'flowbite-svelte/Label.svelte';
  import Select from 'flowbite-svelte/Select.svelte';
  import { onMount, untrack } from 'svelte';

  import type { SetupDocument, Tub } from '$lib/api/client';
  import Asks from '$lib/ui/Asks.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import { link } from '$lib/ui/theme';
  import Wait from '$lib/ui/Wait.svelte';
  import { amountOf } from '$lib/units/amount';
  import { stopwatch } from '$lib/units/day';
  import { units } from '$lib/units/units.svelte';

  import { PLACES, TubState } from './tub.svelte';
  import TubChart from './TubChart.svelte';

  /** Full throttle, held back: a reading each half minute on the model's curve; "stop" before the ceiling. */
  let {
    document,
    setupId,
    boatId,
    onlearn,
  }: {
    document: SetupDocument;
    setupId: number;
    boatId: number;
    onlearn: (changes: Tub['changes']) => void;
  } = $props();

  const tub = new TubState();
  const ENDS = ['levelled off', 'stopped at the ceiling', 'ended early', 'the motor died'];
  let typed = $state('');
  let place = $state('case');
  let note = $state('');
  // Another setup or document: its own test, its own curve.
  $effect(() => {
    const [id, boat, now] = [setupId, boatId, document];
    untrack(() => tub.open(id, boat, now));
  });
  onMount(() => {
    const timer = setInterval(() => tub.tick(), 200);
    return () => clearInterval(timer);
  });

  const view = $derived(tub.view);
  // The core's reason, or the clock's where it has run on since the last reading.
  const why = $derived(
    view?.stop
      ? view.words
      : `${units.text(view?.ceiling_c, 'temperature')} is ${Math.max(0, Math.round(tub.left ?? 0))} s away, by the last reading.`,
  );
  const clock = $derived(stopwatch(tub.now));
  const gunUnit = $derived(units.system === 'metric' ? 'degC' : 'degF');
  const changes = $derived(view?.changes ?? []);

  function take(event: SubmitEvent): void {
    event.preventDefault();
    const value = amountOf(typed, gunUnit);
    if (value === undefined) return;
    tub.read(place, { value, unit: gunUnit, source: 'measured' });
    typed = '';
    place = PLACES[(PLACES.indexOf(place) + 1) % PLACES.length] ?? 'case';
  }
  // Each half minute the case comes first again; not under the hand of somebody who is typing.
  $effect(() => {
    if (tub.asks) untrack(() => (typed === '' ? (place = 'case') : undefined));
  });
</script>

<div class="flex flex-wrap items-center gap-x-5.5 gap-y-1">
  <div
    class="text-[4.2rem] font-light font-stretch-[72%] leading-none"
    data-testid="answered"
    data-readings={tub.answered}
  >
    {clock}
  </div>
  {#if tub.stop}
    <p
      class="m-0 flex-[1_1_18rem] border-l-8 border-double border-l-vermilion pl-3 text-[2.2rem] leading-[1.15] font-semibold text-vermilion"
      role="alert"
    >
      Stop now. <span class="ms-2 text-[1.05rem] font-normal">{why}</span>
    </p>
  {:else}
    <p class="text-[1.5rem] font-semibold m-0 flex-[1_1_18rem]" aria-live="polite">
      {#if !tub.running}{tub.saved ? 'Saved.' : 'Boat held fast, propeller deep, hands clear.'}
      {:else if tub.asks}Read the motor case now.
      {:else}{view?.words ?? ''}{/if}
      {#if tub.running && tub.left !== undefined && !tub.asks}<span class="ms-2 text-[1.05rem] font-normal"
          >{Math.max(0, Math.round(tub.left))} s left</span
        >{/if}
    </p>
  {/if}
  {#if !tub.running}<Button onclick={() => tub.start()} class="min-h-13 text-lg"
      >Start the clock at full throttle</Button
    >{/if}
</div>
{#if tub.problem}<Notice kind="problem">{tub.problem.message}</Notice>{/if}
<div class="grid grid-cols-[minmax(0,1.8fr)_minmax(0,1fr)] gap-8 mt-2.5 max-lg:grid-cols-[minmax(0,1fr)]">
  <div class="min-w-0">
    {#if view}
      <TubChart {view} readings={tub.readings} running={tub.running} now={tub.now} />
      <p class="quiet mt-1">{view.kinder}</p>
    {:else}<Wait>Working out the tub test…</Wait>{/if}
  </div>
  <div>
    <form onsubmit={take} class="flex flex-wrap items-center gap-1.5">
      <Label
        >Measured at
        <Select placeholder="" bind:value={place}
          >{#each PLACES as p (p)}<option value={p}>{p}</option>{/each}</Select
        ></Label
      >
      <Input
        inputmode="decimal"
        aria-label="Reading in {units.unit('temperature').unit}"
        bind:value={typed}
        disabled={!tub.running}
        class="min-h-12 w-22! text-[1.5rem]"
      />
      <span>{units.unit('temperature').unit}</span>
      <Button type="submit" color="alternative" disabled={!tub.running}>Add reading</Button>
      {#if tub.readings.length && tub.running}<Button onclick={() => tub.drop()} class={link}
          >Remove last reading</Button
        >{/if}
    </form>
    {#if view && tub.readings.length}
      <h2 class="mt-3 mb-1">What the readings show <Asks of="fit.tub" /></h2>
      <ul class="list-none mb-1.5 p-0 text-[0.92rem]">
        {#each view.taught as t (t.name)}
          <li>
            {t.label} <b class={t.moved ? '' : 'font-normal italic'}>{t.after.toPrecision(3)}</b> ±{Math.round(
              t.spread * 100,
            )}%
            <span class="quiet"
              >was ~{t.before.toPrecision(3)} ±{Math.round(t.before_spread * 100)}%{t.moved ? '' : ', not taught'}</span
            >
          </li>
        {/each}
      </ul>
      {#if view.misfit_k !== null}<p class="quiet">
          The curve fits the readings to within {view.misfit_k.toFixed(1)} K.
        </p>{/if}
      {#if changes.length}<Button color="alternative" onclick={() => onlearn(changes)}>Use in this setup</Button>{/if}
    {/if}
    {#if tub.running && tub.readings.length}
      <h2 class="mt-3 mb-1">End the test</h2>
      <Input placeholder="What you saw, heard or smelt" bind:value={note} class="w-full" />
      <div class="flex flex-wrap gap-1.5 mt-1.5">
        {#each ENDS as word (word)}<Button color="alternative" onclick={() => void tub.end(word, note)}>{word}</Button
          >{/each}
      </div>
    {/if}
    <p class="caution">
      Propeller under water, boat held by the hull, nobody behind it. Common practice, no source: a case of 65 °C is
      where most stop. The maker's sheet comes first.
    </p>
  </div>
</div>
