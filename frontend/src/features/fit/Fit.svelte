<script lang="ts">
  import SectionDrawing from '$lib/drawing/SectionDrawing.svelte';
  import { aim } from '$lib/state/aim.svelte';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { type ChangeValue, DraftState } from '$lib/state/draft.svelte';
  import { go, pathTo } from '$lib/state/go';
  import { here } from '$lib/state/here.svelte';
  import DraftBar from '$lib/ui/DraftBar.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import PartSheet from '$lib/ui/PartSheet.svelte';
  import SetupPicker from '$lib/ui/SetupPicker.svelte';

  import { FitState } from './fit.svelte';
  import FitMark from './FitMark.svelte';
  import Joints from './Joints.svelte';
  import Steps from './Steps.svelte';
  import Tub from './Tub.svelte';
  import Water from './Water.svelte';

  const draft = new DraftState();
  const fit = new FitState();
  const TABS = [
    ['together', 'Joints'],
    ['water', 'Cooling water'],
    ['build', 'Build list'],
    ['power', 'First power-up'],
    ['tub', 'Tub test'],
  ] as const;
  let tab = $state<(typeof TABS)[number][0]>('together');
  let zoom = $state(1);
  let chosen = $state('');
  let whole = $state(false);
  let kinds = $state<string[]>([]);
  let sheetOpen = $state(false);

  // Reaches outside: a new address asks the server for its setup.
  $effect(() => {
    const id = here.setupId;
    if (id && here.mark === 'fit') void open(id);
  });
  async function open(id: number): Promise<void> {
    await Promise.all([draft.load(id), fit.load(id)]);
    here.boatId = draft.setup?.boat_id;
    if (draft.setup) await aim.load(draft.setup.boat_id).catch(() => undefined);
  }
  $effect(() => {
    const [now, setup, dirty] = [draft.now, draft.setup, draft.dirty];
    if (now && setup) fit.follow(now.document, setup.document, dirty);
  });
  $effect(() => {
    here.fitted = Boolean(fit.now && fit.now.clashes + fit.now.unknown === 0);
  });

  async function adopt(): Promise<void> {
    const adopted = await draft.adopt();
    if (!adopted) return;
    await boathouse.refresh();
    go(pathTo('fit', adopted.id));
  }
  function askFor(parts: string[]): void {
    kinds = parts;
    sheetOpen = true;
  }
  const steps = $derived(whole || !fit.now?.swap.length ? (fit.now?.build ?? []) : fit.now.swap);
</script>

<svelte:head><title>{here.boat ? `${here.boat.name} · Fit` : 'Fit'} · Kunstflug</title></svelte:head>

{#if draft.failed}
  <Notice kind="problem"
    >{draft.failed.message}
    <button class="plain" onclick={() => here.setupId && open(here.setupId)}>Try again</button></Notice
  >
{:else if draft.setup && draft.now && fit.now && boathouse.state === 'ready'}
  {@const setup = draft.setup}
  <div class="title">
    <h1>{here.boat?.name ?? ''}</h1>
    <SetupPicker {setup} mark="fit" onchanged={() => open(setup.id)} />
    <p class="sum" aria-live="polite" data-testid="fit-sum">
      {#if fit.now.clashes}<FitMark fit="clashes" /> {fit.now.clashes}{/if}
      {#if fit.now.needs}<FitMark fit="needs" /> {fit.now.needs}{/if}
      {#if fit.now.unknown}<FitMark fit="unknown" /> {fit.now.unknown}{/if}
      <FitMark fit="fits" />
      {fit.now.joints.length - fit.now.clashes - fit.now.needs - fit.now.unknown}
    </p>
  </div>
  <div class="tabs" role="group" aria-label="Sheet">
    {#each TABS as [key, words] (key)}
      <button class="tab" aria-pressed={tab === key} onclick={() => (tab = key)}>{words}</button>
    {/each}
    <span class="tools">
      {#if tab === 'together'}
        <button class="plain small" onclick={() => (zoom = Math.max(zoom / 1.4, 1))} aria-label="Smaller">−</button>
        <button class="plain small" onclick={() => (zoom = Math.min(zoom * 1.4, 12))} aria-label="Larger">+</button>
      {/if}
      {#if tab !== 'water' && tab !== 'tub'}<button class="plain small" onclick={() => window.print()}
          >print{tab === 'together' ? ' 1:1' : ''}</button
        >{/if}
    </span>
  </div>
  {#if fit.problem}<Notice kind="problem">{fit.problem.message}</Notice>{/if}
  {#if draft.problem}<Notice kind="problem">{draft.problem.message}</Notice>{/if}
  {#if tab === 'together'}
    <SectionDrawing section={fit.now.section} {zoom} {chosen} />
    <div class="joints"><Joints joints={fit.now.joints} onask={askFor} onlook={(part) => (chosen = part)} /></div>
  {:else if tab === 'build'}
    {#if fit.now.swap.length}
      <p>
        From the setup before: <b>{fit.now.changed.join(', ')}</b>.
        <button class="link" onclick={() => (whole = !whole)}>{whole ? 'Only what changes' : 'The whole build'}</button>
      </p>
    {/if}
    <Steps {steps} ontick={(key, done) => void fit.tick(setup.id, key, done)} />
  {:else if tab === 'power'}
    <Steps steps={fit.now.first_power} ontick={(key, done) => void fit.tick(setup.id, key, done)} />
  {:else if tab === 'water'}
    <Water document={draft.now.document} boatId={setup.boat_id} />
  {:else}
    <Tub
      document={draft.now.document}
      setupId={setup.id}
      onlearn={(changes) => draft.previewMany(changes.map((c) => [c.path, c.value as ChangeValue]))}
    />
  {/if}
  <DraftBar match={draft} onadopt={adopt} />
  <PartSheet
    title="Sizes"
    {kinds}
    fields={boathouse.vocabulary.fields}
    document={draft.now.document as never}
    doubts={draft.now.forecast.doubts}
    bind:open={sheetOpen}
    onsay={(path, value) => draft.change(path, value)}
  />
{:else}
  <p class="quiet">Checking the joints…</p>
{/if}

<style>
  .title {
    display: flex;
    align-items: baseline;
    gap: 0.3rem 1rem;
    flex-wrap: wrap;
  }
  .sum {
    margin: 0 0 0 auto;
    display: flex;
    gap: 0.4rem;
    align-items: baseline;
    font-weight: 600;
  }
  .tools {
    margin-left: auto;
    display: flex;
    gap: 0.3rem;
  }
  .small {
    min-width: var(--target);
    padding: 0 0.6rem;
  }
  .joints {
    margin-top: 0.8rem;
  }
  @media print {
    .tabs,
    .joints {
      display: none;
    }
    h1 {
      font-size: 12pt;
    }
  }
</style>
