<script lang="ts">
  import { onMount, type Snippet } from 'svelte';

  import Conflict from '$lib/ui/Conflict.svelte';
  import Manage from '$lib/ui/Manage.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import Toasts from '$lib/ui/Toasts.svelte';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { go, MARKS, pathTo } from '$lib/state/go';
  import { here } from '$lib/state/here.svelte';
  import { theme } from '$lib/state/theme.svelte';
  import { units } from '$lib/units/units.svelte';

  import Boathouse from './Boathouse.svelte';
  import Commands from './Commands.svelte';
  import CourseLine from './CourseLine.svelte';

  let { children }: { children: Snippet } = $props();
  let commandsOpen = $state(false);

  onMount(() => void boathouse.load());

  function typing(target: EventTarget | null): boolean {
    return (
      target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
    );
  }

  function onkeydown(event: KeyboardEvent): void {
    const range = event.target instanceof HTMLInputElement && event.target.type === 'range';
    if ((typing(event.target) && !range) || event.ctrlKey || event.metaKey || event.altKey) return;
    const mark = MARKS.find((m) => m.key === event.key);
    if (mark && here.boat) go(pathTo(mark.mark, here.setupId ?? here.boat.setup_id));
    else if (event.key === 'u') units.switch();
    else if (event.key === 't') theme.switch();
    else if (event.key === 'b') go('/new');
    else if (event.key === '/') go('/shelf');
    else if (event.key === 'm') go('/measure');
    else if (event.key === '?') commandsOpen = !commandsOpen;
    else return;
    event.preventDefault();
  }
</script>

<svelte:window {onkeydown} />

<a class="skip" href="#sheet">Skip to content</a>
<div class="frame">
  <Boathouse />
  <div class="right">
    <header>
      <CourseLine />
      <div class="tools">
        <a class="pond" href="/shelf">Shelf</a>
        <a class="pond" href="/measure">Measure</a>
        <a class="pond" href="/bin">Bin</a>
        <button class="tool" onclick={() => units.switch()} title="Switch units (u)">
          {units.system === 'metric' ? 'km/h · mm · g' : 'mph · in · oz'}
        </button>
        <button class="tool" onclick={() => theme.switch()} title="Switch the look (t)">
          {theme.look === 'paper' ? 'bright sun' : 'paper'}
        </button>
        <button class="tool" onclick={() => (commandsOpen = true)} title="All commands (?)" aria-label="All commands"
          >?</button
        >
      </div>
    </header>
    <main id="sheet" tabindex="-1">
      {#if boathouse.state === 'failed'}
        <Notice kind="problem">
          {boathouse.problem?.message}
          <button class="plain" onclick={() => boathouse.load()}>Try again</button>
        </Notice>
      {:else}
        <!-- Sentences come in the racer's units: another system asks for them anew. -->
        {#key units.system}{@render children()}{/key}
      {/if}
    </main>
  </div>
</div>
<Commands bind:open={commandsOpen} />
<Manage />
<Conflict />
<Toasts />

<style>
  .skip {
    position: absolute;
    left: -999px;
  }
  .skip:focus {
    left: 8px;
    top: 8px;
    background: var(--paper);
    padding: 0.5rem;
    z-index: 10;
  }
  .frame {
    display: grid;
    grid-template-columns: 172px minmax(0, 1fr);
    min-height: 100dvh;
  }
  header {
    display: flex;
    align-items: stretch;
    justify-content: space-between;
    gap: 1rem;
    padding: 0 1.5rem;
    border-bottom: 1px solid var(--ink);
  }
  .tools {
    display: flex;
    align-items: center;
    gap: 0.25rem;
  }
  .tool {
    min-height: var(--target);
    min-width: var(--target);
    padding: 0 0.55rem;
    font-size: 0.86rem;
    font-stretch: 80%;
    color: var(--ink-2);
    border: 1px solid transparent;
  }
  .tool:hover {
    border-color: var(--rule);
    color: var(--ink);
  }
  .pond {
    display: none;
  }
  main {
    padding: 1rem 1.5rem 3rem;
    outline: none;
  }
  @media (max-width: 760px) {
    .frame {
      display: block;
    }
    header {
      flex-wrap: wrap;
      padding: 0 0.75rem;
    }
    main {
      padding: 0.75rem 0.75rem 5rem;
    }
    .tools {
      width: 100%;
    }
    .pond {
      display: flex;
      align-items: center;
      min-height: var(--target);
      padding: 0 0.55rem;
      color: var(--ink);
      text-decoration: none;
      font-weight: 500;
    }
  }
</style>
