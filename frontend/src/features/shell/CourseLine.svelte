<script lang="ts">
  import BottomNav from 'flowbite-svelte/BottomNav.svelte';
  import BottomNavItem from 'flowbite-svelte/BottomNavItem.svelte';

  import { aim } from '$lib/state/aim.svelte';
  import { MARKS, pathTo } from '$lib/state/go';
  import { here } from '$lib/state/here.svelte';

  const setupId = $derived(here.setupId ?? here.boat?.setup_id);
  /** A mark is filled when the boat has got that far. */
  const done = $derived({
    aim: Boolean(here.boat) && aim.stated,
    match: Boolean(here.boat),
    fit: here.fitted,
    launch: here.ready,
    run: (here.boat?.runs ?? 0) > 0,
    compare: Boolean(here.boat?.compared),
    trim: here.trimmed,
  });
</script>

{#snippet buoy(filled: boolean, size: number)}
  <svg viewBox="0 0 24 26" width={size} height={size} class="flex-none" aria-hidden="true">
    <path d="M12 2 L19 18 H5 Z" class:filled class="buoy" />
    <path d="M1 21c4-3 7-3 11 0s7 3 11 0" class="wave" />
  </svg>
{/snippet}

<nav class="@container min-h-16 min-w-0 flex-1 max-md:hidden" aria-label="Course">
  {#if setupId}
    <ol class="m-0 flex h-full list-none p-0">
      {#each MARKS as { mark, name, question, key } (mark)}
        <li class="flex items-stretch">
          <a
            href={pathTo(mark, setupId)}
            class={[
              'flex items-center gap-2 border-b-3 p-1.5 text-ink no-underline',
              here.mark === mark ? 'border-ink' : 'border-transparent',
            ]}
            aria-current={here.mark === mark ? 'page' : undefined}
            title="{name} ({key})"
          >
            {@render buoy(Boolean(done[mark]), 25)}
            <span class="grid leading-tight whitespace-nowrap">
              <span class="font-semibold">{name}</span>
              <span class="text-[0.8rem] text-ink-2 font-stretch-[78%] @max-[53rem]:hidden">{question}</span>
            </span>
            {#if done[mark]}<span class="visually-hidden">, done</span>{/if}
          </a>
        </li>
      {/each}
    </ol>
  {/if}
</nav>
{#if setupId}
  <nav class="md:hidden" aria-label="Course">
    <BottomNav class="z-5 border-ink bg-sheet" classes={{ inner: 'grid-cols-7 max-w-none' }}>
      {#each MARKS as { mark, name } (mark)}
        <BottomNavItem
          btnName={name}
          href={pathTo(mark, setupId)}
          active={here.mark === mark}
          activeClass="border-ink font-semibold"
          aria-current={here.mark === mark ? 'page' : undefined}
          aria-label={done[mark] ? `${name}, done` : name}
          class="border-b-3 border-transparent px-1 text-ink no-underline"
          classes={{ span: 'text-ink' }}
        >
          {@render buoy(Boolean(done[mark]), 24)}
        </BottomNavItem>
      {/each}
    </BottomNav>
  </nav>
{/if}

<style>
  li:not(:last-child)::after {
    content: '';
    align-self: center;
    width: clamp(4px, 6vw - 70px, 48px);
    border-top: 1.5px dashed var(--water);
    margin: 12px 3px 0;
  }
  .buoy {
    fill: var(--paper);
    stroke: var(--ink);
    stroke-width: 1.5;
    stroke-linejoin: round;
  }
  .buoy.filled {
    fill: var(--ink);
  }
  .wave {
    fill: none;
    stroke: var(--water);
    stroke-width: 1.7;
  }
</style>
