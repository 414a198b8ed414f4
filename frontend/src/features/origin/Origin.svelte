<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Modal from 'flowbite-svelte/Modal.svelte';
  import Search from 'flowbite-svelte/Search.svelte';
  import { untrack } from 'svelte';

  import { api, ask, type Origin } from '$lib/api/client';
  import { aim } from '$lib/state/aim.svelte';
  import { drafted } from '$lib/state/draft.svelte';
  import { here } from '$lib/state/here.svelte';
  import { origin, type OnSheet } from '$lib/state/origin.svelte';
  import { link, row } from '$lib/ui/theme';
  import { lessonsOf } from '$lib/ui/lessons';
  import { units } from '$lib/units/units.svelte';

  import { causes, found, here as onSheet, ofForecast, shown, SOURCES } from './origin';

  /** One number of the sheet: law and source, and what would narrow it; one of the forecast with its value, its band and
      what that rests on, too. */
  let all = $state.raw<Origin[]>([]);
  let words = $state('');
  let asked = $state.raw<OnSheet | undefined>();
  const sheet = $derived(origin.onSheet ?? asked);
  // Reaches outside: asked anew each time it opens, as the sheet may be another one.
  $effect(() => {
    if (origin.open) void untrack(look);
  });
  async function look(): Promise<void> {
    words = '';
    asked = undefined; // of the sheet it was opened on before
    if (!all.length) all = await ask(api.GET('/api/origins')).catch(() => []);
    const setup = here.setupId;
    if (origin.onSheet || !setup) return;
    const found = await ofSetup(setup).catch(() => undefined);
    if (here.setupId === setup) asked = found;
  }
  async function ofSetup(id: number): Promise<OnSheet> {
    const setup = await ask(api.GET('/api/setups/{setup_id}', { params: { path: { setup_id: id } } }));
    await aim.load(setup.boat_id);
    return { document: setup.document, forecast: (await drafted(setup)).forecast };
  }
  const screen = $derived(here.mark ?? /^\/(\w+)/.exec(here.pathname)?.[1]);
  const one = $derived(all.find((o) => `${o.of}.${o.key}` === origin.asked));
  const value = $derived(one && sheet && ofForecast(one) ? shown(sheet.forecast, one, units) : undefined);
  const rests = $derived(one && sheet && ofForecast(one) ? causes(sheet.forecast, one, sheet.document) : []);
</script>

<Modal bind:open={origin.open} title="Where does this come from?" aria-label="Where does this come from?" size="md">
  {#if one}
    <p class="m-0 flex flex-wrap items-baseline gap-x-3">
      <b class="text-lg">{one.title}</b>
      {#if value}<span class="text-2xl font-light tabular-nums" data-testid="origin-value">{value.text}</span>{/if}
      {#if value?.band}<span class="text-ink-2">{value.band}</span>{/if}
    </p>
    <dl class="my-3 grid grid-cols-[6rem_minmax(0,1fr)] gap-x-4 gap-y-2 max-md:grid-cols-1 max-md:gap-y-0.5">
      <dt class="text-ink-2">Worked out</dt>
      <dd class="m-0">{value?.reason || one.how}</dd>
      {#if value?.reason}<dt class="text-ink-2">The limit</dt>
        <dd class="m-0">{one.how}</dd>{/if}
      <dt class="text-ink-2">After</dt>
      <dd class="m-0">{one.sources.length ? one.sources.join('; ') : 'plain arithmetic, or common practice'}</dd>
      {#if one.weak}<dt class="text-ink-2">Weakest</dt>
        <dd class="m-0">{one.weak}</dd>{/if}
      {#if one.narrow}<dt class="text-ink-2">To narrow it</dt>
        <dd class="m-0">{one.narrow}</dd>{/if}
      {#if value && sheet?.forecast.known_runs}
        <dt class="text-ink-2">Learnt</dt>
        <dd class="m-0">Learnt {lessonsOf(sheet.forecast)}.</dd>
      {/if}
      {#if value && sheet?.forecast.known_racers}
        <dt class="text-ink-2">The club</dt>
        <dd class="m-0">
          Its guesses start from what the boats of {sheet.forecast.known_racers} other racers showed.
        </dd>
      {/if}
    </dl>
    {#if rests.length}
      <h3 class="m-0 mb-1">It rests on</h3>
      <ul class="m-0 list-none p-0">
        {#each rests as cause (cause.parameter)}
          <li class="border-t border-hair py-1.5">
            <span class="flex justify-between gap-3">
              <span
                >{cause.label} <b class:guess={cause.source === 'guessed'}>{cause.text}</b>, {SOURCES[
                  cause.source
                ]}</span
              >
              {#if cause.share}<b>{Math.round(100 * cause.share)}%</b>{/if}
            </span>
            <span class="block text-[0.85rem] text-ink-2"
              >{cause.reason}{cause.narrow ? ` To narrow it, measure it ${cause.narrow}.` : ''}</span
            >
          </li>
        {/each}
      </ul>
      <p class="quiet mt-2 mb-0">
        Percentages are parts of the band's width.
        {#if sheet?.guesses}<Button class={link} onclick={sheet.guesses}>Type what you measured</Button>{/if}
      </p>
    {/if}
    <p class="mt-4 mb-0"><Button class={link} onclick={() => (origin.asked = '')}>All numbers</Button></p>
  {:else}
    <Search bind:value={words} placeholder="speed, current, limit…" aria-label="Find a number" />
    <ul class="m-0 mt-2 grid list-none grid-cols-2 gap-x-6 p-0 max-md:grid-cols-1">
      {#each found(onSheet(all, screen, sheet !== undefined), words) as o (o.of + o.key)}
        <li class="flex items-baseline justify-between gap-3 border-t border-hair">
          <Button class={row} onclick={() => (origin.asked = `${o.of}.${o.key}`)}
            >{o.title}{o.of === 'limit' ? ', limit' : ''}</Button
          >
          {#if sheet && ofForecast(o)}<b class="tabular-nums">{shown(sheet.forecast, o, units).text}</b>{/if}
        </li>
      {/each}
    </ul>
  {/if}
</Modal>
