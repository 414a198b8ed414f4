<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Checkbox from 'flowbite-svelte/Checkbox.svelte';
  import Progressbar from 'flowbite-svelte/Progressbar.svelte';

  import { api, ask, type Problem, type SetupView } from '$lib/api/client';
  import { pathTo } from '$lib/state/go';
  import { here } from '$lib/state/here.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import Small from '$lib/ui/Small.svelte';
  import Wait from '$lib/ui/Wait.svelte';
  import { units } from '$lib/units/units.svelte';

  import { LiveState } from './live.svelte';

  /** The boat on the water, read from an arm's length; nothing to tap while driving. */
  const live = new LiveState();
  let setup = $state.raw<SetupView | undefined>();
  let failed = $state<Problem | undefined>();

  // Reaches outside: a new address asks the server for its setup, and leaving closes the stream.
  $effect(() => {
    const id = here.setupId;
    if (id) void open(id);
    return () => live.stop();
  });
  async function open(id: number): Promise<void> {
    try {
      setup = await ask(api.GET('/api/setups/{setup_id}', { params: { path: { setup_id: id } } }));
      here.boatId = setup.boat_id;
    } catch (error) {
      failed = error as Problem;
    }
  }
  const told = $derived(live.told);
  const speed = $derived(units.show(told?.speed_mps, 'speed', 0));
  const TONES = {
    drive: 'border-ink text-ink',
    cool_down: 'border-ochre bg-ochre text-paper',
    lift: 'border-ochre bg-ochre text-paper',
    come_in: 'border-vermilion bg-vermilion text-paper',
  };
  const SHOWN = ['case', 'controller', 'pack', 'connector', 'winding'];
  const places = $derived(
    SHOWN.map((node) => told?.places.find((p) => p.node === node)).filter((p) => p !== undefined),
  );
  const part = (celsius: number, ceiling: number): number =>
    Math.min(Math.max(Math.round((100 * (celsius - 10)) / (ceiling - 10)), 0), 100);
  function port(event: Event): void {
    const typed = Number((event.currentTarget as HTMLInputElement).value);
    if (Number.isInteger(typed) && typed >= 1024 && typed <= 65535) live.port = typed;
  }
</script>

<svelte:head><title>{here.boat ? `${here.boat.name} · Live` : 'Live'} · Kunstflug</title></svelte:head>

{#if failed}<Notice kind="problem">{failed.message}</Notice>{/if}
{#if setup}
  <div class="flex flex-wrap items-baseline gap-4">
    <h1>{here.boat?.name ?? ''}</h1>
    <span class="quiet">{setup.name}, live</span>
    <a href={pathTo('run', setup.id)}>Back to the runs</a>
  </div>
  {#if told}
    <p
      class={[
        'my-2 border-l-8 px-4 py-3 text-[clamp(1.5rem,6vw,2.6rem)] leading-tight font-semibold',
        TONES[told.advice],
      ]}
      role="status"
      aria-live="assertive"
    >
      {told.words}
    </p>
    {#if told.lost_s > 0}
      <Notice kind="problem">
        No word from the boat for {told.lost_s.toFixed(0)} s. Temperatures go on by the model.
      </Notice>
    {/if}
    <div class="grid items-end gap-x-10 md:grid-cols-[auto_1fr]">
      <p class="m-0 leading-none font-semibold" data-testid="live-speed">
        <span class="text-[clamp(7rem,34vw,17rem)] tracking-tight tabular-nums">{speed.text}</span>
        <span class="text-2xl font-normal">{speed.unit}</span>
      </p>
      <dl class="m-0 grid grid-cols-2 gap-x-6 gap-y-2 text-xl md:mb-8">
        {#each [['best', units.text(told.best_mps, 'speed', 1)], ['passes', String(told.passes) + (told.in_pass ? ' and one now' : '')], ['last pass', told.passes ? `${told.last_pass_s.toFixed(1)} s, ${units.text(told.last_pass_mps, 'speed', 1)}` : '–'], ['charge left', `${Math.round(1000 * told.left_ah)} mAh`], ['full throttle left', told.full_s_left === null ? '–' : `${Math.round(told.full_s_left)} s`]] as const as [name, value] (name)}
          <div>
            <dt class="text-base text-ink-2">{name}</dt>
            <dd class="m-0 font-semibold tabular-nums">{value}</dd>
          </div>
        {/each}
      </dl>
    </div>
    <ul class="m-0 list-none p-0 text-lg">
      {#each places as place (place.node)}
        <li class="grid grid-cols-[7rem_minmax(0,1fr)_5rem] items-center gap-4 border-t border-hair py-1.5">
          <span>{place.words}</span>
          <Progressbar progress={part(place.celsius, place.ceiling_c)} size="h-3" aria-hidden="true" />
          <b class={['text-right tabular-nums', place.high_c > place.ceiling_c && 'text-vermilion']}
            >{units.text(place.celsius, 'temperature')}</b
          >
        </li>
      {/each}
    </ul>
    <p class="quiet text-sm">
      By the model from what is measured. The ceilings are those of the boat's schools. {told.unread
        ? `${told.unread} lines could not be read.`
        : ''}
    </p>
  {/if}
  {#if live.gone}
    <Notice kind="problem"
      >Nobody answers at port {live.port} of this machine, or the stream broke. Start the bridge, then tap Start.</Notice
    >
  {:else if told?.ended}
    <Notice kind="note">The device closed the stream. Read the gun now: controller, motor, pack, plugs.</Notice>
  {/if}
  {#if !live.running}
    <div class="mt-3 flex flex-wrap items-center gap-5">
      <Button class="min-h-12" onclick={() => setup && live.start(setup.id)}>{told ? 'Start again' : 'Start'}</Button>
      <Small label="port" value={live.port} onchange={port} />
      <Checkbox bind:checked={live.sound}>tone</Checkbox>
    </div>
    {#if !told}
      <p class="quiet mt-3 max-w-[70ch]">
        Listens to a bridge on this machine: lines of JSON or NMEA over TCP. The simulated pond is one: <code
          >kunstflug pond live setup.json</code
        >. Somebody else reads this screen while you drive.
      </p>
    {/if}
  {:else if !told}
    <Wait>Waiting for the first word…</Wait>
  {/if}
{:else if !failed}
  <Wait>Loading the boat…</Wait>
{/if}
