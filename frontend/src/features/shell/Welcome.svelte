<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import { api, ask, type SetupDocument } from '$lib/api/client';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { go, pathTo } from '$lib/state/go';
  import { welcome, type Deed } from '$lib/state/welcome.svelte';
  import { link } from '$lib/ui/theme';
  import { units } from '$lib/units/units.svelte';

  /** One sentence and three things to do, for whoever sees the demo for the first time; gone with one tap. */
  const first = $derived(boathouse.boats[0]);
  /** The boat that has shown least: a run tells most about it. */
  const least = $derived([...boathouse.boats].sort((a, b) => a.runs - b.runs)[0]);
  let before = $state('');
  let after = $state('');
  /** The one that a run is typed for: with it, another boat is the one that has shown least. */
  let typed = $state.raw<typeof least>();

  async function band(of: typeof least): Promise<string> {
    if (!of) return '';
    try {
      const setup = await ask(api.GET('/api/setups/{setup_id}', { params: { path: { setup_id: of.setup_id } } }));
      const body = setup.document as SetupDocument;
      const speed = (await ask(api.POST('/api/forecast', { params: { query: { boat: of.id } }, body }))).point
        .speed_mps;
      return `${units.show(speed.low, 'speed', 1).text} to ${units.text(speed.high, 'speed', 1)}`;
    } catch {
      return ''; // the band is told where it can be
    }
  }
  async function type(): Promise<void> {
    if (!least) return;
    typed = least;
    before = await band(typed);
    go(pathTo('run', typed.setup_id));
  }
  // Reaches outside: a run that was just typed is in the forecast.
  $effect(() => {
    if (welcome.done.includes('typed') && before) void band(typed).then((seen) => (after = seen));
  });
  const THINGS = $derived<[Deed, string, string, () => void][]>([
    [
      'knob',
      `Pull a knob and see why`,
      `Drag KV or the diameter on Match, then tap the speed and see what it rests on.`,
      () => first && go(pathTo('match', first.setup_id)),
    ],
    [
      'typed',
      `Type a run off a display`,
      `Run, Type in a run, the speed the display showed${least ? ` for ${least.name}` : ''}; its band narrows.`,
      () => void type(),
    ],
    [
      'next',
      `Ask what to change next`,
      `Match ranks every change from here; tap one to try it.`,
      () => first && go(pathTo('match', first.setup_id)),
    ],
  ]);
</script>

{#if welcome.shown && first}
  <section
    class="border-b border-ink bg-sheet px-6 py-2 max-md:px-3 print:hidden"
    aria-label="First steps"
    data-testid="welcome"
  >
    <div class="flex flex-wrap items-baseline justify-between gap-x-6">
      <p class="m-0">
        {#if welcome.all}That is most of it. The rest waits under the marks above and in the <a href="/handbook/"
            >handbook</a
          >.
        {:else}These boats of an invented club are yours to try. Three things show what Kunstflug does:{/if}
      </p>
      <Button class={link} onclick={() => welcome.close()}>{welcome.all ? 'Done' : 'Not now'}</Button>
    </div>
    <ol class="m-0 mt-1 grid list-none gap-x-8 gap-y-1 p-0 md:grid-cols-3">
      {#each THINGS as [deed, title, words, start], k (deed)}
        {@const done = welcome.done.includes(deed)}
        <li class="flex gap-2.5">
          <b class={['tabular-nums', done ? 'text-water' : 'text-ink-2']} aria-hidden="true">{done ? '✓' : k + 1}</b>
          <span class="text-[0.9rem]">
            <Button class={[link, 'min-h-6 font-semibold']} onclick={start}
              >{title}<span class="sr-only">{done ? ', done' : ''}</span></Button
            >
            <span class="block text-ink-2">
              {#if deed === 'typed' && done && after}The band was {before}, now {after}.{:else}{words}{/if}
            </span>
          </span>
        </li>
      {/each}
    </ol>
  </section>
{/if}
