<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import { untrack } from 'svelte';

  import type { Intent, Step } from '$lib/api/client';
  import ThrustChart from '$lib/charts/ThrustChart.svelte';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { DraftState, type ChangeValue } from '$lib/state/draft.svelte';
  import { go, pathTo } from '$lib/state/go';
  import { here } from '$lib/state/here.svelte';
  import { origin } from '$lib/state/origin.svelte';
  import { welcome } from '$lib/state/welcome.svelte';
  import DraftBar from '$lib/ui/DraftBar.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import SchoolSwitch from '$lib/ui/SchoolSwitch.svelte';
  import SetupPicker from '$lib/ui/SetupPicker.svelte';
  import { link, tab } from '$lib/ui/theme';
  import Troubles from '$lib/ui/Troubles.svelte';
  import Wait from '$lib/ui/Wait.svelte';
  import { toSi } from '$lib/units/units.svelte';

  import Damage from './Damage.svelte';
  import { STATIONS, type Station as StationName } from './driveline';
  import DriveLine from './DriveLine.svelte';
  import Headline from './Headline.svelte';
  import Learnt from './Learnt.svelte';
  import * as later from './later';
  import { PlanState } from './plan.svelte';
  import Station from './Station.svelte';
  import Steps from './Steps.svelte';

  const match = new DraftState();
  const plan = new PlanState();
  const VIEWS = [
    ['thrust', 'Thrust and resistance'],
    ['heat', 'Temperatures'],
    ['map', 'KV and propeller map'],
    ['search', 'Search'],
  ] as const;
  let view = $state<'thrust' | 'heat' | 'map' | 'search'>('thrust');
  let side = $state<'steps' | 'guesses' | 'dangers'>('steps');
  let swapKind = $state<StationName>('motor');
  let swapOpen = $state(false);
  let sheetKinds = $state<string[]>(['motor']);
  let sheetTitle = $state('');
  let sheetOpen = $state(false);
  function details(kinds: string[], title: string): void {
    sheetKinds = kinds;
    sheetTitle = title;
    sheetOpen = true;
  }
  const near = $derived(match.now?.forecast.dangers.filter((d) => d.verdict !== 'holds').length ?? 0);

  const TITLES: Record<StationName, string> = {
    pack: 'Pack',
    controller: 'Controller',
    motor: 'Motor',
    propeller: 'Propeller',
    hull: 'Hull',
  };

  // Reaches outside: a new address asks the server for its setup.
  $effect(() => {
    const id = here.setupId;
    if (id && here.mark === 'match') void open(id);
  });
  async function open(id: number): Promise<void> {
    plan.want(undefined);
    await match.load(id);
    here.boatId = match.setup?.boat_id;
    if (!match.setup) return;
    plan.follow(match.setup.boat_id);
    plan.askSteps(match.setup.document);
  }
  // A wish that was brought along is answered in the list of changes.
  let beside = $state<HTMLElement>();
  $effect(() => {
    if (!here.wish || !beside) return;
    const wish = here.wish as Intent;
    untrack(() => {
      here.wish = undefined;
      side = 'steps';
      plan.want(wish);
      beside?.scrollIntoView({ block: 'start' });
    });
  });
  // Heat and map follow the draft while they are on the sheet.
  $effect(() => {
    const document = match.now?.document;
    if (match.setup) plan.follow(match.setup.boat_id);
    if (document && view === 'heat') plan.askHeat(document);
    if (document && view === 'map') plan.askMap(document);
  });
  // Reaches outside: whoever asks where a number comes from is told of the draft.
  $effect(() => {
    const { now } = match;
    origin.onSheet = now && {
      forecast: now.forecast,
      document: now.document,
      guesses: () => {
        origin.open = false;
        side = 'guesses';
      },
    };
    return () => (origin.onSheet = undefined);
  });
  function rejudge(): Promise<void> {
    const done = match.rejudge();
    if (match.setup) plan.askSteps(match.setup.document);
    if (match.now && view === 'heat') plan.askHeat(match.now.document);
    if (match.now && view === 'map') plan.askMap(match.now.document);
    return done;
  }

  /** A change on the sheet; of two that belong together both, to be made one after the other. */
  function tryOut(step: Step): void {
    const both = [step, ...(step.then ? [step.then] : [])];
    const shelf = Object.fromEntries(both.flatMap((s) => (s.shelf_id === null ? [] : [[s.path, s.shelf_id]])));
    match.previewMany(
      both.map((s) => [s.path, s.value as ChangeValue]),
      shelf,
    );
  }

  async function adopt(): Promise<void> {
    const adopted = await match.adopt();
    if (!adopted) return;
    await boathouse.refresh();
    go(pathTo('match', adopted.id));
  }

  function onkeydown(event: KeyboardEvent): void {
    const target = event.target as HTMLElement;
    const busy =
      /^(TEXTAREA|SELECT|BUTTON|A)$/.test(target.tagName) ||
      (target instanceof HTMLInputElement && target.type !== 'range');
    if (event.key === 'z' && (event.ctrlKey || event.metaKey) && !busy) {
      match.undo();
      event.preventDefault();
    } else if (
      (event.key === '[' || event.key === ']') &&
      !(target instanceof HTMLInputElement && target.type !== 'range') &&
      target.tagName !== 'TEXTAREA'
    ) {
      side = 'steps';
      const step = plan.walk(event.key === ']' ? 1 : -1);
      if (step) welcome.did('next');
      if (step) tryOut(step);
    } else if (event.key === 'Enter' && match.dirty && !busy && !swapOpen && !sheetOpen) void adopt();
    else if (event.key === 'Escape' && !busy && !swapOpen && !sheetOpen) match.clear();
  }
</script>

<svelte:window {onkeydown} />
<svelte:head><title>{here.boat ? `${here.boat.name} · Match` : 'Match'} · Kunstflug</title></svelte:head>

{#if match.failed}
  <Notice kind="problem">
    {match.failed.message}
    <Button color="alternative" onclick={() => here.setupId && match.load(here.setupId)}>Try again</Button>
  </Notice>
{:else if match.setup && match.now && match.base && boathouse.state === 'ready'}
  {@const ghost = match.dirty ? match.base.forecast : undefined}
  <div class="flex items-baseline gap-4 flex-wrap">
    <h1>{here.boat?.name ?? ''}</h1>
    <SetupPicker setup={match.setup} mark="match" onchanged={() => match.load(match.setup?.id ?? 0)} />
    <Button onclick={() => details(['wiring', 'conditions'], 'Wires, water and wind')} class={[link, 'text-[0.86rem]']}
      >Wires, water and wind</Button
    >
  </div>
  <Damage draft={match} boatId={match.setup.boat_id} />
  <Headline forecast={match.now.forecast} {ghost} />
  <div class="mt-1.5 md:hidden"><Troubles setupId={match.setup.id} /></div>
  {#if match.problem}
    <Notice kind="problem">{match.problem.message}</Notice>
  {/if}
  <DriveLine forecast={match.now.forecast} document={match.now.document} />
  <div class="grid grid-cols-[repeat(5,minmax(0,1fr))] mt-1 max-md:grid-cols-[minmax(0,1fr)]">
    {#each STATIONS as station (station)}
      <Station
        {station}
        tried={match.changes}
        title={TITLES[station]}
        document={match.now.document}
        saved={match.setup.document}
        forecast={match.now.forecast}
        {ghost}
        fields={boathouse.vocabulary.fields}
        onswap={station === 'hull'
          ? undefined
          : () => {
              swapKind = station;
              swapOpen = true;
            }}
        onpull={(path, value) => match.change(path, value)}
        ondetails={() => details(station === 'hull' ? ['hull', 'placement'] : [station], TITLES[station])}
      />
    {/each}
  </div>
  <div class="flex flex-wrap gap-x-5 gap-y-0 items-center justify-between mt-2.5 pt-1 border-t border-t-ink">
    <SchoolSwitch brief onchange={rejudge} />
    <Learnt
      runs={match.now.forecast.known_runs}
      here={match.now.forecast.known_here}
      racers={match.now.forecast.known_racers}
      setupId={match.setup.id}
      onchange={rejudge}
    />
  </div>
  <div class="grid grid-cols-[minmax(0,1.7fr)_minmax(0,1fr)] gap-8 mt-2 max-md:grid-cols-[minmax(0,1fr)]">
    <div class="min-w-0 [contain:layout_style]">
      <div class="tabs" role="group" aria-label="Drawing">
        {#each VIEWS as [key, words] (key)}
          <Button aria-pressed={view === key} onclick={() => (view = key)} class={tab}>{words}</Button>
        {/each}
      </div>
      {#if view === 'thrust'}
        <ThrustChart forecast={match.now.forecast} {ghost} />
      {:else if view === 'heat'}
        {#await later.heat() then { default: Heat }}
          <Heat heat={plan.heat} onchange={rejudge} />
        {/await}
      {:else if view === 'search'}
        {#await later.search() then { default: Search }}
          <Search
            document={match.setup.document}
            boatId={match.setup.boat_id}
            onpick={(found) =>
              match.previewMany(
                found.changes.map((c) => [String(c.path), c.value]),
                found.shelf,
              )}
          />
        {/await}
      {:else if plan.map}
        {#await later.sweepMap() then { default: SweepMap }}
          <SweepMap
            map={plan.map}
            kv={match.now.document.motor.kv.value}
            diameterM={toSi(match.now.document.propeller.diameter)}
            onpick={(kv, diameterM) =>
              match.previewMany([
                ['motor.kv', { value: Math.round(kv / 10) * 10, unit: 'rpm/V', source: 'typed' }],
                ['propeller.diameter', { value: Math.round(diameterM * 2000) / 2, unit: 'mm', source: 'typed' }],
              ])}
          />
        {/await}
      {:else}
        <Wait>Working out the map…</Wait>
      {/if}
    </div>
    <div class="min-w-0 scroll-mt-20 [contain:layout_style] max-md:order-first" bind:this={beside}>
      <div class="tabs" role="group" aria-label="Beside">
        <Button aria-pressed={side === 'steps'} onclick={() => (side = 'steps')} class={tab}>Next step</Button>
        <Button aria-pressed={side === 'guesses'} onclick={() => (side = 'guesses')} class={tab}>Guesses</Button>
        <Button aria-pressed={side === 'dangers'} onclick={() => (side = 'dangers')} class={tab}>
          Dangers{near ? ` (${near})` : ''}
        </Button>
      </div>
      {#if side === 'steps'}
        <Steps
          {plan}
          onpick={(step, index) => {
            plan.at = index;
            welcome.did('next');
            tryOut(step);
          }}
        />
      {:else if side === 'dangers'}
        {#await later.dangers() then { default: Dangers }}
          <Dangers dangers={match.now.forecast.dangers} />
        {/await}
      {:else}
        {#await later.guesses() then { default: Guesses }}
          <Guesses
            forecast={match.now.forecast}
            document={match.now.document}
            onmeasure={(path, value) => match.change(path, value)}
          />
        {/await}
      {/if}
    </div>
  </div>
  {#if plan.problem}<Notice kind="problem">{plan.problem.message}</Notice>{/if}
  <DraftBar {match} onadopt={adopt} />
  {#if sheetOpen}
    {#await later.partSheet() then { default: PartSheet }}
      <PartSheet
        title={sheetTitle}
        kinds={sheetKinds}
        fields={boathouse.vocabulary.fields}
        document={match.now.document}
        doubts={match.now.forecast.doubts}
        bind:open={sheetOpen}
        onsay={(path, value) => match.change(path, value)}
      />
    {/await}
  {/if}
  {#if swapOpen}
    {#await later.swap() then { default: Swap }}
      <Swap kind={swapKind} document={match.now.document} bind:open={swapOpen} onpick={(part) => match.swap(part)} />
    {/await}
  {/if}
{:else}
  <Wait>Working out the drive…</Wait>
{/if}
