<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import { here } from '$lib/state/here.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import { link } from '$lib/ui/theme';
  import Wait from '$lib/ui/Wait.svelte';

  import { CompareState } from './compare.svelte';
  import Results from './Results.svelte';
  import Trail from './Trail.svelte';

  const compare = new CompareState();
  async function load(setupId: number): Promise<void> {
    here.boatId = (await compare.load(setupId)) ?? here.boatId;
  }
  // Reaches outside: a new address asks the server for its trail.
  $effect(() => {
    const id = here.setupId;
    if (id && here.mark === 'compare') void load(id);
  });
  const trail = $derived(compare.trail);
  const ran = $derived(trail?.setups.some((s) => s.runs.length) ?? false);
</script>

<svelte:head><title>{here.boat ? `${here.boat.name} · Compare` : 'Compare'} · Kunstflug</title></svelte:head>

{#if compare.failed}
  <Notice kind="problem">
    {compare.failed.message}
    <Button color="alternative" onclick={() => here.setupId && load(here.setupId)}>Try again</Button>
  </Notice>
{:else if trail}
  <h1>{trail.boat_name}</h1>
  <p class="quiet max-w-[70ch] mt-1 mb-4">
    Setups in order: what changed, the forecast (dashed, with its 80 % band) and the measured speed (solid). Where both
    directions were run, it is their average, so a steady wind cancels out.
  </p>
  {#if compare.problem}<Notice kind="problem">{compare.problem.message}</Notice>{/if}
  {#if trail.older}<Button onclick={() => compare.olderSetups()} class={link}>Show older setups</Button>{/if}
  <Trail {trail} current={here.setupId} />
  {#if ran}
    <Results {trail} onolder={(id) => compare.olderRuns(id)} />
  {:else}
    <Notice>No runs yet. Import a log or use the simulated pond in Run, then compare forecast and result here.</Notice>
  {/if}
{:else}
  <Wait>Loading setups and runs…</Wait>
{/if}
