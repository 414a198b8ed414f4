<script lang="ts">
  import Notice from '$lib/ui/Notice.svelte';

  import type { RunState } from './run.svelte';

  /** Two ways in: a file from the logger, or the simulated pond. */
  let { state: runs }: { state: RunState } = $props();

  let over = $state(false);
  let pondOpen = $state(false);
  let pond = $state({
    seed: Math.floor(Math.random() * 9000) + 1,
    passes: 4,
    water_c: 16,
    air_c: 18,
    wind_mps: 2,
    wind_from_deg: 240,
  });

  function files(list: FileList | null | undefined): void {
    const file = list?.[0];
    if (file) void runs.take(file);
  }
</script>

<div class="intake">
  <label
    class="drop"
    class:over
    ondragover={(e) => {
      e.preventDefault();
      over = true;
    }}
    ondragleave={() => (over = false)}
    ondrop={(e) => {
      e.preventDefault();
      over = false;
      files(e.dataTransfer?.files);
    }}
  >
    <input
      type="file"
      class="visually-hidden"
      accept=".gpx,.nmea,.txt,.log,.csv"
      onchange={(e) => {
        files(e.currentTarget.files);
        e.currentTarget.value = '';
      }}
    />
    <b>Import a log</b>
    <span>GPX or NMEA starts a new run; CSV adds a controller log to the run below</span>
  </label>
  <div class="pond">
    <button class="plain" aria-expanded={pondOpen} onclick={() => (pondOpen = !pondOpen)}>Simulated pond</button>
  </div>
</div>
{#if pondOpen}
  <form
    class="weather"
    onsubmit={(e) => {
      e.preventDefault();
      pondOpen = false;
      void runs.simulate($state.snapshot(pond));
      pond.seed += 1;
    }}
  >
    <p class="quiet">Drives this setup with hidden true values and records what your devices would log.</p>
    <label>Passes <input type="number" min="1" max="20" bind:value={pond.passes} /></label>
    <label>Water, °C <input type="number" min="0" max="35" step="0.5" bind:value={pond.water_c} /></label>
    <label>Air, °C <input type="number" min="-10" max="45" step="0.5" bind:value={pond.air_c} /></label>
    <label>Wind, m/s <input type="number" min="0" max="12" step="0.5" bind:value={pond.wind_mps} /></label>
    <label>from, ° <input type="number" min="0" max="360" step="5" bind:value={pond.wind_from_deg} /></label>
    <button class="plain strong">Drive</button>
  </form>
{/if}
{#if runs.busy}<p role="status" class="quiet">{runs.busy}</p>{/if}
{#if runs.offer}
  {@const { file, problem } = runs.offer}
  <Notice kind="problem">
    <b>{file.name}</b> is damaged: line {problem.line}, {problem.message.replace(/^line \d+: /, '')}.
    {(problem.broken ?? 1) > 1 ? `${problem.broken} places cannot be read; ` : ''}{problem.readable} samples over
    {Math.round(problem.seconds ?? 0)} s can.
    <div class="choose">
      <button class="plain strong" onclick={() => runs.take(file, true)}>Import the readable part</button>
      <button class="plain" onclick={() => (runs.offer = undefined)}>Cancel</button>
    </div>
  </Notice>
{/if}
{#if runs.problem}<Notice kind="problem">{runs.problem.message}</Notice>{/if}

<style>
  .intake {
    display: flex;
    gap: 0.8rem;
    align-items: stretch;
    flex-wrap: wrap;
  }
  .drop {
    flex: 1 1 20rem;
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    align-content: center;
    gap: 0 0.7rem;
    min-height: calc(var(--target) + 8px);
    padding: 0.4rem 1rem;
    border: 1.5px dashed var(--ink);
    cursor: pointer;
  }
  .drop:hover,
  .over {
    background: var(--sheet);
  }
  .drop:focus-within {
    outline: 2.5px solid var(--water);
    outline-offset: 2px;
  }
  .drop span {
    font-size: 0.88rem;
    color: var(--ink-2);
  }
  .pond .plain {
    height: 100%;
  }
  .weather {
    display: flex;
    flex-wrap: wrap;
    gap: 0.5rem 1rem;
    align-items: end;
    padding: 0.6rem 0;
  }
  .weather p {
    width: 100%;
    margin: 0;
  }
  .weather label {
    display: grid;
    font-size: 0.86rem;
    color: var(--ink-2);
  }
  .weather input {
    width: 6rem;
    min-height: var(--target);
    border: 0;
    border-bottom: 1px solid var(--ink);
    background: transparent;
    color: var(--ink);
    padding: 0 0.2rem;
  }
  .choose {
    display: flex;
    gap: 0.5rem;
    margin-top: 0.5rem;
  }
</style>
