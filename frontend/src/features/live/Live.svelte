<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Checkbox from 'flowbite-svelte/Checkbox.svelte';
  import Label from 'flowbite-svelte/Label.svelte';
  import Progressbar from 'flowbite-svelte/Progressbar.svelte';
  import Select from 'flowbite-svelte/Select.svelte';

  import { api, ask, type Problem, type SetupView } from '$lib/api/client';
  import { pathTo } from '$lib/state/go';
  import { here } from '$lib/state/here.svelte';
  import Asks from '$lib/ui/Asks.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import Small from '$lib/ui/Small.svelte';
  import { typed } from '$lib/ui/typed';
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
      await live.look(id);
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
    const wanted = Number(typed(event));
    if (Number.isInteger(wanted) && wanted >= 1024 && wanted <= 65535) live.source.port = wanted;
  }
  const KINDS = { tcp: 'calls a bridge (TCP)', udp: 'listens for datagrams (UDP)', serial: 'serial port' };
</script>

<svelte:head><title>{here.boat ? `${here.boat.name} · Live` : 'Live'} · Kunstflug</title></svelte:head>

{#if failed}<Notice kind="problem">{failed.message}</Notice>{/if}
{#if live.problem}<Notice kind="problem">{live.problem.message}</Notice>{/if}
{#if setup}
  <div class="flex flex-wrap items-baseline gap-4">
    <h1>{here.boat?.name ?? ''}</h1>
    <span class="quiet">{setup.name}, live</span>
    <a href={pathTo('run', setup.id)}>Back to the runs</a>
  </div>
  {#if told && told.link !== 'waiting'}
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
    {#if live.deaf}
      <Notice kind="problem">Kunstflug does not answer this screen. Come in if that lasts.</Notice>
    {:else if told.link === 'lost' || told.lost_s > 0}
      <Notice kind="problem">
        No word from the boat{told.lost_s >= 1 ? ` for ${told.lost_s.toFixed(0)} s` : ''}. Temperatures go on by the
        model.
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
    <p class="m-0"><Asks of="live.heat" /></p>
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
    {#each told.doubted as words (words)}<Notice kind="problem">{words}</Notice>{/each}
    {#if told.time_s > 5 && places.some((p) => p.node === 'case' && !p.measured)}
      <Notice>
        Nothing on board measures the motor. A cap left on or a blocked hose may be seen too late: tape a sensor to the
        motor case, or look for water from the outlet on every pass.
      </Notice>
    {/if}
    <p class="quiet text-sm">
      By the model from what is measured. The ceilings are those of the boat's schools. {told.unread
        ? `${told.unread} lines could not be read.`
        : ''}
      {told.astray
        ? `The clock of ${told.astray === 1 ? 'one line' : `${told.astray} lines`} was out of step: set aside.`
        : ''}
    </p>
  {/if}
  {#if live.ended}
    <Notice>
      {#if live.ended.run_id}
        The boat is out of the water, and its run is kept.
        <a href="{pathTo('run', setup.id)}?run={live.ended.run_id}" class="inline-block py-2 font-semibold"
          >Read the gun now</a
        >
      {:else}
        Nothing came from the device, so there is no run.
      {/if}
    </Notice>
  {/if}
  {#if live.drive}
    {#if !told || told.link === 'waiting'}
      <Wait
        >Waiting for the first word from {live.drive.source.kind === 'serial'
          ? live.drive.source.path
          : `${live.drive.source.host}, port ${live.drive.source.port}`}. Start the bridge…</Wait
      >
    {/if}
    <p class="mt-3 flex flex-wrap items-center gap-5">
      <Button class="min-h-12" disabled={live.busy} onclick={() => live.land()}
        >{told && told.link !== 'waiting' ? 'Out of the water' : 'Stop waiting'}</Button
      >
      <Checkbox bind:checked={live.sound}>tone</Checkbox>
      {#if told}<span class="quiet" data-testid="live-kept">{told.kept - told.unread} lines read and kept</span>{/if}
    </p>
  {:else}
    <div class="mt-3 flex flex-wrap items-center gap-5">
      <Button class="min-h-12" disabled={live.busy} onclick={() => setup && live.start(setup.id)}
        >{live.ended ? 'Start again' : 'Start'}</Button
      >
      <Label class="inline-flex items-baseline gap-1.5">
        <span class="quiet">device</span>
        <Select placeholder="" bind:value={live.source.kind}>
          {#each Object.entries(KINDS) as [kind, words] (kind)}<option value={kind}>{words}</option>{/each}
        </Select>
      </Label>
      {#if live.source.kind === 'serial'}
        <Small
          label="at"
          wide
          inputmode="text"
          placeholder="/dev/…"
          value={live.source.path}
          onchange={(e) => (live.source.path = typed(e).trim())}
        />
        <Small
          label="baud"
          wide
          value={live.source.baud}
          onchange={(e) => (live.source.baud = Number(typed(e)) || 115200)}
        />
      {:else}
        <Small
          label="address"
          wide
          inputmode="text"
          value={live.source.host}
          onchange={(e) => (live.source.host = typed(e).trim())}
        />
        <Small label="port" value={live.source.port} onchange={port} />
      {/if}
      <Checkbox bind:checked={live.sound}>tone</Checkbox>
    </div>
    {#if !live.ended}
      <p class="quiet mt-3 max-w-[70ch]">
        Lines of JSON or NMEA from a bridge. The simulated pond is one: <code>kunstflug pond live setup.json</code>. All
        that arrives is kept, and becomes a run at the end. Somebody else reads this screen while you drive.
      </p>
    {/if}
  {/if}
{:else if !failed}
  <Wait>Loading the boat…</Wait>
{/if}
