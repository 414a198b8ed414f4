<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import SectionDrawing from '$lib/drawing/SectionDrawing.svelte';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { type ChangeValue, DraftState } from '$lib/state/draft.svelte';
  import { go, pathTo } from '$lib/state/go';
  import { here } from '$lib/state/here.svelte';
  import DraftBar from '$lib/ui/DraftBar.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import PartSheet from '$lib/ui/PartSheet.svelte';
  import SetupPicker from '$lib/ui/SetupPicker.svelte';
  import { link, tab } from '$lib/ui/theme';
  import Wait from '$lib/ui/Wait.svelte';

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
  let sheet = $state<(typeof TABS)[number][0]>('together');
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
  }
  $effect(() => {
    const [now, setup, dirty] = [draft.now, draft.setup, draft.dirty];
    if (now && setup) fit.follow(now.document, setup, dirty);
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
    <Button color="alternative" onclick={() => here.setupId && open(here.setupId)}>Try again</Button></Notice
  >
{:else if draft.setup && draft.now && fit.now && boathouse.state === 'ready'}
  {@const setup = draft.setup}
  <div class="flex items-baseline gap-x-4 gap-y-1 flex-wrap">
    <h1>{here.boat?.name ?? ''}</h1>
    <SetupPicker {setup} mark="fit" onchanged={() => open(setup.id)} />
    <p class="ml-auto flex gap-1.5 items-baseline font-semibold" aria-live="polite" data-testid="fit-sum">
      {#if fit.now.clashes}<FitMark fit="clashes" /> {fit.now.clashes}{/if}
      {#if fit.now.needs}<FitMark fit="needs" /> {fit.now.needs}{/if}
      {#if fit.now.unknown}<FitMark fit="unknown" /> {fit.now.unknown}{/if}
      <FitMark fit="fits" />
      {fit.now.joints.length - fit.now.clashes - fit.now.needs - fit.now.unknown}
    </p>
  </div>
  <div class="tabs print:hidden" role="group" aria-label="Sheet">
    {#each TABS as [key, words] (key)}
      <Button aria-pressed={sheet === key} onclick={() => (sheet = key)} class={tab}>{words}</Button>
    {/each}
    <span class="ml-auto flex gap-1">
      {#if sheet === 'together'}
        <Button color="alternative" onclick={() => (zoom = Math.max(zoom / 1.4, 1))} aria-label="Smaller">−</Button>
        <Button color="alternative" onclick={() => (zoom = Math.min(zoom * 1.4, 12))} aria-label="Larger">+</Button>
      {/if}
      {#if sheet !== 'water' && sheet !== 'tub'}<Button color="alternative" onclick={() => window.print()}
          >Print{sheet === 'together' ? ' 1:1' : ''}</Button
        >{/if}
    </span>
  </div>
  {#if fit.problem}<Notice kind="problem">{fit.problem.message}</Notice>{/if}
  {#if draft.problem}<Notice kind="problem">{draft.problem.message}</Notice>{/if}
  {#if sheet === 'together'}
    <SectionDrawing section={fit.now.section} {zoom} {chosen} />
    <div class="mt-3 print:hidden">
      <Joints joints={fit.now.joints} onask={askFor} onlook={(part) => (chosen = part)} />
    </div>
  {:else if sheet === 'build'}
    {#if fit.now.swap.length}
      <p>
        From the setup before: <b>{fit.now.changed.join(', ')}</b>.
        <Button onclick={() => (whole = !whole)} class={link}>{whole ? 'Only what changes' : 'The whole build'}</Button>
      </p>
    {/if}
    <Steps {steps} ontick={(key, done) => void fit.tick(setup.id, key, done)} />
  {:else if sheet === 'power'}
    <Steps steps={fit.now.first_power} ontick={(key, done) => void fit.tick(setup.id, key, done)} />
  {:else if sheet === 'water'}
    <Water document={draft.now.document} boatId={setup.boat_id} />
  {:else}
    <Tub
      boatId={setup.boat_id}
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
    document={draft.now.document}
    doubts={draft.now.forecast.doubts}
    bind:open={sheetOpen}
    onsay={(path, value) => draft.change(path, value)}
  />
{:else}
  <Wait>Checking the joints…</Wait>
{/if}
