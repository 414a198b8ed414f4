<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import { here } from '$lib/state/here.svelte';
  import Asks from '$lib/ui/Asks.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import { link, tab } from '$lib/ui/theme';
  import Wait from '$lib/ui/Wait.svelte';

  import { CompareState } from './compare.svelte';
  import Forget from './Forget.svelte';
  import Known from './Known.svelte';
  import Next from './Next.svelte';
  import Overlay from './Overlay.svelte';
  import Results from './Results.svelte';
  import Season from './Season.svelte';
  import Steps from './Steps.svelte';
  import Taught from './Taught.svelte';
  import Trail from './Trail.svelte';

  const compare = new CompareState();
  let bought = $state(false);
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
  <Trail {trail} current={here.setupId} changes={compare.knowledge?.changes ?? []} />
  {#if ran}
    <Overlay {trail} />
    {#if compare.knowledge?.runs}
      <Season knowledge={compare.knowledge} />
      <Taught knowledge={compare.knowledge} />
      <Next knowledge={compare.knowledge} />
    {/if}
    {#if here.setupId}
      <Steps steps={compare.steps} setupId={here.setupId} runs={compare.knowledge?.runs ?? 0} />
    {/if}
    <h2 class="mt-6.5 mb-1.5">Forecast and result <Asks of="compare.then" /></h2>
    {#if compare.knowledge?.judged.length}
      <div class="tabs mb-2" role="group" aria-label="Forecasts of runs">
        <Button aria-pressed={!bought} onclick={() => (bought = false)} class={tab}>With what was known</Button>
        <Button aria-pressed={bought} onclick={() => (bought = true)} class={tab}>As bought</Button>
      </div>
    {/if}
    {#if compare.knowledge?.judged.length && !bought}
      <Known
        knowledge={compare.knowledge}
        {trail}
        onaside={(runs, aside) => void compare.setAside(runs, aside)}
        onright={(run, cause) => void compare.putRight(run, cause)}
      />
    {:else}
      <Results {trail} onolder={(id) => compare.olderRuns(id)} />
    {/if}
    {#if compare.knowledge?.runs || compare.knowledge?.set_aside.length}
      <Forget knowledge={compare.knowledge} onaside={(runs, aside) => void compare.setAside(runs, aside)} />
    {/if}
  {:else}
    <Notice>No runs yet. Import a log or use the simulated pond in Run, then compare forecast and result here.</Notice>
  {/if}
{:else}
  <Wait>Loading setups and runs…</Wait>
{/if}
