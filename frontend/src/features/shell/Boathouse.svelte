<script lang="ts">
  import BoatOutline from '$lib/drawing/BoatOutline.svelte';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { pathTo } from '$lib/state/go';
  import { here } from '$lib/state/here.svelte';
  import { units } from '$lib/units/units.svelte';
</script>

<nav class="house" aria-label="Boathouse">
  <a class="name" href="/">
    <svg viewBox="0 0 40 16" width="40" height="16" aria-hidden="true">
      <path d="M2 13c6-4 10-4 18 0s12 4 18 0" class="wave" />
      <path d="M6 9c9-1 14-7 28-8-3 5-9 9-18 9z" class="bow" />
    </svg>
    Kunstflug
  </a>
  <ul>
    {#each boathouse.boats as boat (boat.id)}
      <li>
        <a
          href={pathTo(here.mark ?? 'match', boat.setup_id)}
          class:current={boat.id === here.boatId}
          aria-current={boat.id === here.boatId ? 'true' : undefined}
        >
          <BoatOutline type={boat.hull_type} lengthM={boat.length_m} wide={116} />
          <span class="boat">{boat.name}</span>
          <span class="state">
            {boat.hull_type}
            {#if boat.best_mps}· best {units.text(boat.best_mps, 'speed', 0)}{:else}· not run yet{/if}
          </span>
        </a>
      </li>
    {/each}
    {#if boathouse.state === 'loading'}<li class="state wait">Loading boats…</li>{/if}
  </ul>
  <a class="new" href="/new">New boat</a>
  <div class="across">
    <a href="/shelf" class:current={here.pathname === '/shelf'}>Shelf</a>
    <a href="/measure" class:current={here.pathname === '/measure'}>Measure</a>
    <a href="/bin" class:current={here.pathname === '/bin'}>Bin and archive</a>
  </div>
</nav>

<style>
  .house {
    border-right: 1px solid var(--ink);
    display: flex;
    flex-direction: column;
    background: var(--sheet);
    position: sticky;
    top: 0;
    height: 100dvh;
    overflow-y: auto;
  }
  .name {
    display: flex;
    flex-direction: column;
    gap: 0.15rem;
    padding: 0.8rem 1rem 0.7rem;
    font-weight: 700;
    font-size: 1.15rem;
    font-stretch: 76%;
    letter-spacing: 0.06em;
    color: var(--ink);
    text-decoration: none;
  }
  .wave {
    fill: none;
    stroke: var(--water);
    stroke-width: 1.8;
  }
  .bow {
    fill: var(--ink);
  }
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  li a {
    display: grid;
    padding: 0.7rem 1rem 0.6rem;
    color: var(--ink);
    text-decoration: none;
    border-top: 1px solid var(--hair);
    border-left: 4px solid transparent;
  }
  li a:hover {
    background: var(--paper);
  }
  li a.current {
    background: var(--paper);
    border-left-color: var(--water);
  }
  .boat {
    font-weight: 600;
    margin-top: 0.2rem;
  }
  .state {
    font-size: 0.82rem;
    color: var(--ink-2);
    font-stretch: 80%;
  }
  .wait {
    padding: 0.7rem 1rem;
  }
  .new {
    display: flex;
    align-items: center;
    min-height: var(--target);
    padding: 0 1rem 0 1.25rem;
    border-top: 1px solid var(--hair);
    color: var(--water);
    font-weight: 500;
    text-decoration: none;
  }
  .across {
    margin-top: auto;
    border-top: 1px solid var(--ink);
    display: grid;
  }
  .across a {
    display: flex;
    align-items: center;
    min-height: calc(var(--target) * 1.1);
    padding: 0 1rem;
    border-left: 4px solid transparent;
    color: var(--ink);
    text-decoration: none;
    font-weight: 500;
  }
  .across a.current {
    border-left-color: var(--water);
    background: var(--paper);
  }
  .across a:hover,
  .new:hover {
    text-decoration: underline;
  }
  @media (max-width: 760px) {
    .house {
      position: static;
      height: auto;
      flex-direction: row;
      align-items: stretch;
      overflow-x: auto;
      border-right: 0;
      border-bottom: 1px solid var(--hair);
    }
    .name {
      font-size: 0.95rem;
      justify-content: center;
      padding: 0.3rem 0.75rem;
    }
    ul {
      display: flex;
    }
    li a {
      border-top: 0;
      border-left: 0;
      border-bottom: 4px solid transparent;
      padding: 0.4rem 0.7rem 0.2rem;
      min-height: 48px;
      align-content: center;
    }
    li a.current {
      border-bottom-color: var(--water);
    }
    li a :global(svg),
    .state {
      display: none;
    }
    .new {
      white-space: nowrap;
      border-top: 0;
    }
    .across {
      display: none; /* the header has both, in reach without scrolling */
    }
  }
</style>
