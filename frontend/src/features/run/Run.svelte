<script lang="ts">
  import SpeedChart from '$lib/charts/SpeedChart.svelte';
  import TrackMap from '$lib/charts/TrackMap.svelte';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { here } from '$lib/state/here.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import SetupPicker from '$lib/ui/SetupPicker.svelte';
  import { day } from '$lib/units/day';
  import { units } from '$lib/units/units.svelte';

  import Figures from './Figures.svelte';
  import Intake from './Intake.svelte';
  import Notes from './Notes.svelte';
  import { RunState } from './run.svelte';
  import TemperaturePad from './TemperaturePad.svelte';

  const runs = new RunState(
    () => boathouse.vocabulary.gun_order,
    () => units.system,
  );
  let cursor = $state<number | undefined>();

  // Reaches outside: a new address asks the server for its runs.
  $effect(() => {
    const id = here.setupId;
    if (id && here.mark === 'run' && boathouse.state === 'ready')
      void runs.load(id).then(() => (here.boatId = runs.setup?.boat_id));
  });
  // The mark on the course fills with the first run.
  $effect(() => {
    if (here.boat && runs.runs.length > here.boat.runs) void boathouse.refresh();
  });
</script>

<svelte:head><title>{here.boat ? `${here.boat.name} · Run` : 'Run'} · Kunstflug</title></svelte:head>

{#if runs.failed}
  <Notice kind="problem">
    {runs.failed.message}
    <button class="plain" onclick={() => here.setupId && runs.load(here.setupId)}>Try again</button>
  </Notice>
{:else if runs.setup}
  <div class="title">
    <h1>{here.boat?.name ?? ''}</h1>
    <SetupPicker setup={runs.setup} mark="run" run={runs.run} onchanged={() => runs.load(runs.setup?.id ?? 0)} />
    {#if runs.runs.length > 1}
      <label class="which">
        <span class="quiet">run of</span>
        <select
          value={String(runs.run?.id)}
          onchange={(e) => {
            const chosen = runs.runs.find((r) => r.id === Number(e.currentTarget.value));
            if (chosen) void runs.open(chosen.id);
          }}
        >
          {#each runs.runs as run (run.id)}<option value={String(run.id)}
              >{day(run.started_at)} · {run.setup_name}</option
            >{/each}
        </select>
        {#if runs.older}<button class="link" onclick={() => runs.more()}>older runs</button>{/if}
      </label>
    {/if}
  </div>
  <Intake state={runs} />
  {#each runs.run?.odd ?? [] as words (words)}<Notice kind="problem">Not possible: {words}</Notice>{/each}
  {#if runs.run && runs.notes}
    <div class="read">
      <Figures run={runs.run} />
      {#if runs.track?.time_s.length}<TrackMap track={runs.track} run={runs.run} {cursor} />{/if}
    </div>
    {#if runs.track?.time_s.length}
      <SpeedChart
        track={runs.track}
        run={runs.run}
        forecast={runs.run.setup_id === runs.setup.id && runs.forecast?.runs
          ? runs.forecast.point.speed_mps
          : undefined}
        onpoint={(index) => (cursor = index)}
      />
    {/if}
    <div class="write">
      <TemperaturePad notes={runs.notes} ontouch={() => runs.touched()} />
      <Notes notes={runs.notes} waterStates={boathouse.vocabulary.water_states} ontouch={() => runs.touched()} />
    </div>
    <div class="save" class:unsaved={runs.unsaved}>
      <button class="plain strong" disabled={runs.busy !== ''} onclick={() => runs.save()}>Save notes</button>
    </div>
  {:else if !runs.busy}
    <div class="empty">
      <h2>No run yet.</h2>
      <p>
        Import a log from your position logger, or drive this setup on the simulated pond to see how far off the
        forecast is.
      </p>
    </div>
  {/if}
{:else}
  <p class="quiet">Loading the run…</p>
{/if}

<style>
  .title {
    display: flex;
    align-items: baseline;
    flex-wrap: wrap;
    gap: 0.4rem 1rem;
    margin-bottom: 0.6rem;
  }
  .which {
    display: inline-flex;
    align-items: baseline;
    gap: 0.4rem;
  }
  .read {
    display: grid;
    grid-template-columns: minmax(0, 1.1fr) minmax(0, 1fr);
    gap: 1.6rem;
    margin: 0.9rem 0;
    align-items: start;
  }
  .write {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1.1fr);
    gap: 2.2rem;
    margin-top: 1rem;
    padding-top: 0.9rem;
    border-top: 1px solid var(--ink);
  }
  .save {
    display: flex;
    justify-content: flex-end;
    align-items: center;
    gap: 1rem;
    margin-top: 0.8rem;
  }
  .empty {
    padding: 2.5rem 0;
    max-width: 52ch;
  }
  @media (max-width: 760px) {
    .read,
    .write {
      grid-template-columns: minmax(0, 1fr);
      gap: 1rem;
    }
    .save.unsaved {
      position: sticky;
      bottom: 64px;
      background: var(--paper);
      padding: 0.4rem 0;
    }
    .save .plain {
      flex: 1;
    }
  }
</style>
