<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import { onMount } from 'svelte';

  import { api, ask, askNothing, type Pond } from '$lib/api/client';
  import { account } from '$lib/state/account.svelte';
  import { toasts } from '$lib/state/toasts.svelte';
  import { Tried } from '$lib/state/tried.svelte';
  import Asks from '$lib/ui/Asks.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import Shore from '$lib/ui/Shore.svelte';
  import { link } from '$lib/ui/theme';
  import Wait from '$lib/ui/Wait.svelte';
  import { units } from '$lib/units/units.svelte';

  import Readings from './Readings.svelte';
  import Sketch from './Sketch.svelte';
  import WaterYear from './WaterYear.svelte';

  /** The ponds, a racer's own or the club's: shore, longest straight, water through the year. */
  let ponds = $state.raw<Pond[] | undefined>();
  /** Whose shore is being drawn; an empty name for a new pond. */
  let drawn = $state<string | undefined>();
  const asked = new Tried();
  const writes = $derived(account.seen.writes && (account.share !== 'club' || account.keeper));

  onMount(() => void load());
  const load = (): Promise<boolean> =>
    asked.run(async () => {
      ponds = await ask(api.GET('/api/ponds'));
    });
  const put = (pond: Pond, water: Pond['water']): Promise<boolean> =>
    asked.run(async () => {
      const params = { path: { name: pond.name } };
      const kept = await ask(api.PUT('/api/ponds/{name}', { params, body: { corners: pond.corners, water } }));
      ponds = ponds?.map((one) => (one.name === kept.name ? kept : one));
    });
  const forget = (pond: Pond): Promise<boolean> =>
    asked.run(async () => {
      await askNothing(api.DELETE('/api/ponds/{name}', { params: { path: { name: pond.name } } }));
      await load();
      toasts.say(`${pond.name} is gone.`, async () => {
        const params = { path: { name: pond.name } };
        await ask(api.PUT('/api/ponds/{name}', { params, body: { corners: pond.corners, water: pond.water } }));
        await load();
      });
    });
  async function kept(): Promise<void> {
    drawn = undefined;
    await load();
  }
</script>

<svelte:head><title>Ponds · Kunstflug</title></svelte:head>

<h1>{account.share === 'club' ? "The club's ponds" : 'Ponds'}</h1>
<p class="m-0 mt-1 max-w-[68ch]">
  Where you run: the longest straight says how long a pass can be, the water how well it cools. Both go into a setup's
  day under <b>Launch</b>.
</p>
{#if asked.problem}<Notice kind="problem">{asked.problem.message}</Notice>{/if}
{#if ponds}
  {#each ponds as pond (pond.name)}
    <section class="mt-5 max-w-256 border-t border-t-ink pt-1.5" aria-label={pond.name}>
      <div class="flex flex-wrap items-baseline gap-x-5">
        <h2 class="m-0">{pond.name}</h2>
        <span class="text-ink-2">
          {pond.straight
            ? `longest straight ${units.text(pond.straight.length_m, 'distance')}, along ${Math.round(pond.straight.bearing_deg)}°`
            : 'too narrow for a straight off the bank'}
        </span>
        <span>
          water today about <b>{units.text(pond.asked.celsius, 'temperature', 0)}</b>, {units.show(
            pond.asked.low_c,
            'temperature',
            0,
          ).text} to {units.show(pond.asked.high_c, 'temperature', 0).text}
          <Asks of="ponds.water" />
        </span>
      </div>
      {#if drawn === pond.name}
        <div class="mt-2"><Shore first={pond} onkept={kept} /></div>
        <Button class={link} onclick={() => (drawn = undefined)}>Leave it as it was</Button>
      {:else}
        <div class="mt-2 grid grid-cols-[minmax(0,1fr)_minmax(0,1.4fr)] gap-8 max-md:grid-cols-[minmax(0,1fr)]">
          <Sketch {pond} />
          <div class="min-w-0">
            <WaterYear {pond} />
            <Readings {pond} {writes} onput={(water) => put(pond, water)} />
          </div>
        </div>
        {#if writes}
          <div class="flex gap-5">
            <Button class={link} onclick={() => (drawn = pond.name)}>Change the shore</Button>
            <Button class={link} onclick={() => forget(pond)}>Delete the pond</Button>
          </div>
        {/if}
      {/if}
    </section>
  {:else}
    <p class="quiet mt-4">None yet. {writes ? 'Draw the first one: tap its corners in order.' : ''}</p>
  {/each}
  {#if writes}
    <section class="mt-5 max-w-256 border-t border-t-ink pt-3" aria-label="New pond">
      {#if drawn === ''}
        <Shore onkept={kept} />
        <Button class={link} onclick={() => (drawn = undefined)}>Cancel</Button>
      {:else}
        <Button color="alternative" onclick={() => (drawn = '')}>New pond</Button>
      {/if}
    </section>
  {/if}
{:else if !asked.problem}
  <Wait>Loading…</Wait>
{/if}
