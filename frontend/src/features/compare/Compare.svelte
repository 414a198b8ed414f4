<script lang="ts">
  import { api, ask, Problem, type TrailView } from '$lib/api/client';
  import { here } from '$lib/state/here.svelte';
  import Notice from '$lib/ui/Notice.svelte';

  import Results from './Results.svelte';
  import Trail from './Trail.svelte';

  let trail = $state<TrailView | undefined>();
  let failed = $state<Problem | undefined>();

  async function load(setupId: number): Promise<void> {
    failed = undefined;
    try {
      const setup = await ask(api.GET('/api/setups/{setup_id}', { params: { path: { setup_id: setupId } } }));
      here.boatId = setup.boat_id;
      trail = await ask(api.GET('/api/boats/{boat_id}/trail', { params: { path: { boat_id: setup.boat_id } } }));
    } catch (error) {
      failed = error as Problem;
    }
  }
  // Reaches outside: a new address asks the server for its trail.
  $effect(() => {
    const id = here.setupId;
    if (id && here.mark === 'compare') void load(id);
  });
  const ran = $derived(trail?.setups.some((s) => s.runs.length) ?? false);
</script>

<svelte:head><title>{here.boat ? `${here.boat.name} · Compare` : 'Compare'} · Kunstflug</title></svelte:head>

{#if failed}
  <Notice kind="problem">
    {failed.message}
    <button class="plain" onclick={() => here.setupId && load(here.setupId)}>Try again</button>
  </Notice>
{:else if trail}
  <h1>{trail.boat_name}</h1>
  <p class="quiet lead">
    Every setup in its order: what was changed, what was forecast (dashed, with its 80 % band), what was measured
    (solid). Measured is the both-ways average, which takes a steady wind out.
  </p>
  <Trail {trail} current={here.setupId} />
  {#if ran}
    <Results {trail} />
  {:else}
    <Notice
      >No run yet, so there is nothing to hold the forecast against. Take in a file or use the simulated pond under Run.</Notice
    >
  {/if}
{:else}
  <p class="quiet">laying out the trail…</p>
{/if}

<style>
  .lead {
    max-width: 70ch;
    margin: 0.2rem 0 1rem;
  }
</style>
