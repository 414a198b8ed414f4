<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Label from 'flowbite-svelte/Label.svelte';
  import Select from 'flowbite-svelte/Select.svelte';

  import { untrack } from 'svelte';

  import SpeedChart from '$lib/charts/SpeedChart.svelte';
  import TrackMap from '$lib/charts/TrackMap.svelte';
  import { link } from '$lib/offline/link.svelte';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { here } from '$lib/state/here.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import SetupPicker from '$lib/ui/SetupPicker.svelte';
  import { link as likeLink } from '$lib/ui/theme';
  import { typed } from '$lib/ui/typed';
  import Wait from '$lib/ui/Wait.svelte';
  import { day } from '$lib/units/day';
  import { units } from '$lib/units/units.svelte';

  import Display from './Display.svelte';
  import Figures from './Figures.svelte';
  import Intake from './Intake.svelte';
  import Notes from './Notes.svelte';
  import NextStep from './NextStep.svelte';
  import Photo from './Photo.svelte';
  import { RunState } from './run.svelte';
  import Stopped from './Stopped.svelte';
  import TemperaturePad from './TemperaturePad.svelte';
  import Troubles from '$lib/ui/Troubles.svelte';
  import Turns from './Turns.svelte';

  const runs = new RunState(
    () => boathouse.vocabulary.gun_order,
    () => units.system,
  );
  let cursor = $state<number | undefined>();
  const touched = () => runs.touched();
  /** The logbook's links name a run. */
  const wanted = () => Number(new URLSearchParams(window.location.search).get('run')) || undefined;
  /** The forecast of the setup that ran; of another one it would mislead. */
  const forecast = $derived(
    runs.run?.setup_id === runs.setup?.id && runs.forecast?.runs ? runs.forecast.point.speed_mps : undefined,
  );

  /** So long after landing the gun comes first on the sheet. */
  const FIRST_MS = 30 * 60 * 1000;
  const landed = $derived(runs.soak !== undefined && Date.now() - Date.parse(runs.soak.landed_at) < FIRST_MS);
  const kept = $derived(
    runs.later
      ? 'Kept on this device until the network is back'
      : runs.unsaved
        ? runs.problem
          ? 'Not saved: kept on this device'
          : 'Saving…'
        : runs.saved
          ? 'Saved'
          : '',
  );

  // Reaches outside: a new address asks the server for its runs.
  $effect(() => {
    const id = here.setupId;
    if (id && here.mark === 'run' && boathouse.state === 'ready')
      void runs.load(id, wanted()).then(() => (here.boatId = runs.setup?.boat_id));
  });
  // Reaches outside: what waited on this device has gone in.
  $effect(() => {
    if (link.delivered) untrack(() => void runs.delivered());
  });
  // The mark on the course fills with the first run.
  $effect(() => {
    if (here.boat && runs.runs.length > here.boat.runs) void boathouse.refresh();
  });
</script>

<svelte:head><title>{here.boat ? `${here.boat.name} · Run` : 'Run'} · Kunstflug</title></svelte:head>

{#snippet written()}
  {#if runs.notes}
    <Notes notes={runs.notes} waterStates={boathouse.vocabulary.water_states} ontouch={touched} />
  {/if}
{/snippet}
{#snippet beside()}
  {#if runs.soak && runs.setup}<NextStep setup={runs.setup} />{/if}
  {#if runs.setup}<Troubles setupId={runs.setup.id} />{/if}
  {#if runs.notes}<Stopped notes={runs.notes} ontouch={touched} />{/if}
  <Photo state={runs} />
{/snippet}

{#if runs.failed}
  <Notice kind="problem">
    {runs.failed.message}
    <Button color="alternative" onclick={() => here.setupId && runs.load(here.setupId)}>Try again</Button>
  </Notice>
{:else if runs.setup}
  <div class="flex items-baseline flex-wrap gap-x-4 gap-y-1.5 mb-2.5">
    <h1>{here.boat?.name ?? ''}</h1>
    <SetupPicker setup={runs.setup} mark="run" run={runs.run} onchanged={() => runs.load(runs.setup?.id ?? 0)} />
    <a href="/setups/{runs.setup.id}/live">Live</a>
    {#if runs.runs.length > 1}
      <Label class="inline-flex items-baseline gap-1.5">
        <span class="quiet">Run of</span>
        <Select
          placeholder=""
          value={String(runs.run?.id)}
          onchange={(e) => {
            const chosen = runs.runs.find((r) => r.id === Number(typed(e)));
            if (chosen) void runs.open(chosen.id);
          }}
        >
          {#each runs.runs as run (run.id)}<option value={String(run.id)}
              >{day(run.started_at)} · {run.setup_name}</option
            >{/each}
        </Select>
        {#if runs.older}<Button onclick={() => runs.more()} class={likeLink}>Older runs</Button>{/if}
      </Label>
    {/if}
  </div>
  <Intake state={runs} />
  {#each runs.run?.odd ?? [] as words (words)}<Notice kind="problem">Not possible: {words}</Notice>{/each}
  {#if landed && runs.notes}
    <div class="my-3.5 max-w-xl"><TemperaturePad notes={runs.notes} soak={runs.soak} ontouch={touched} /></div>
  {/if}
  {#if runs.run && runs.notes}
    <div
      class="grid grid-cols-[minmax(0,1.1fr)_minmax(0,1fr)] gap-6.5 my-3.5 items-start max-md:grid-cols-[minmax(0,1fr)] max-md:gap-4"
    >
      <div class="min-w-0 max-md:contents">
        <Figures run={runs.run} {forecast} />
        {#if !runs.run.summary && !landed}<div class="mt-5 max-md:order-last">
            <TemperaturePad notes={runs.notes} soak={runs.soak} ontouch={touched} />
          </div>{/if}
      </div>
      {#if runs.track?.time_s.length}<TrackMap track={runs.track} run={runs.run} {cursor} />{/if}
      {#if !runs.run.summary}<Display notes={runs.notes} fresh={runs.fresh === runs.run.id} ontouch={touched} />{/if}
    </div>
    {#if runs.track?.time_s.length}
      <SpeedChart track={runs.track} run={runs.run} {forecast} onpoint={(index) => (cursor = index)} />
      <Turns turns={runs.track.turns} />
    {/if}
    <div
      class="grid grid-cols-[minmax(0,1fr)_minmax(0,1.1fr)] gap-9 mt-4 pt-3.5 border-t border-t-ink max-md:grid-cols-[minmax(0,1fr)] max-md:gap-4"
    >
      {#if runs.run.summary}
        <div class="grid gap-4">
          {#if !landed}<TemperaturePad notes={runs.notes} soak={runs.soak} ontouch={touched} />{/if}
          <Display notes={runs.notes} ontouch={touched} />
        </div>
      {/if}
      {#if runs.run.summary}
        <div class="grid content-start gap-4">{@render written()}{@render beside()}</div>
      {:else}
        {@render written()}
        <div class="grid content-start gap-4">{@render beside()}</div>
      {/if}
    </div>
    <p class="mt-3 flex items-center justify-end gap-4 text-[0.92rem]">
      <span role="status" data-testid="kept" class="quiet">{kept}</span>
      {#if runs.canUndo}<Button class={likeLink} onclick={() => runs.undo()}>Undo</Button>{/if}
    </p>
  {:else if !runs.busy}
    <div class="py-10 px-0 max-w-[52ch]">
      <h2>No run yet.</h2>
      <p>
        Type in what your display showed, import a log from your position logger, or drive this setup on the simulated
        pond to see how far off the forecast is.
      </p>
    </div>
  {/if}
{:else}
  <Wait>Loading the run…</Wait>
{/if}
