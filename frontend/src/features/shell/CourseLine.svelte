<script lang="ts">
  import { aim } from '$lib/state/aim.svelte';
  import { here } from '$lib/state/here.svelte';
  import { MARKS, pathTo } from '$lib/state/go';

  const setupId = $derived(here.setupId ?? here.boat?.setup_id);
  /** A mark is filled when the boat has got that far. */
  const done = $derived({
    aim: Boolean(here.boat) && aim.stated,
    match: Boolean(here.boat),
    fit: here.fitted,
    run: (here.boat?.runs ?? 0) > 0,
    compare: Boolean(here.boat?.compared),
  });
</script>

<nav class="course" aria-label="Course">
  {#if setupId}
    <ol>
      {#each MARKS as { mark, name, question, key } (mark)}
        <li>
          <a
            href={pathTo(mark, setupId)}
            class:current={here.mark === mark}
            aria-current={here.mark === mark ? 'page' : undefined}
            title="{name} ({key})"
          >
            <svg viewBox="0 0 24 26" width="24" height="26" aria-hidden="true">
              <path d="M12 2 L19 18 H5 Z" class:filled={done[mark]} class="buoy" />
              <path d="M1 21c4-3 7-3 11 0s7 3 11 0" class="wave" />
            </svg>
            <span class="words"><span class="name">{name}</span><span class="question">{question}</span></span>
            {#if done[mark]}<span class="visually-hidden">, done</span>{/if}
          </a>
        </li>
      {/each}
    </ol>
  {/if}
</nav>

<style>
  .course {
    min-height: 62px;
  }
  ol {
    display: flex;
    list-style: none;
    margin: 0;
    padding: 0;
    height: 100%;
  }
  li {
    display: flex;
    align-items: stretch;
  }
  li:not(:last-child)::after {
    content: '';
    align-self: center;
    width: clamp(12px, 4vw, 64px);
    border-top: 1.5px dashed var(--water);
    margin: 12px 10px 0;
  }
  a {
    display: flex;
    align-items: center;
    gap: 0.5rem;
    color: var(--ink);
    text-decoration: none;
    padding: 0.3rem 0.4rem;
    border-bottom: 3px solid transparent;
  }
  a.current {
    border-bottom-color: var(--ink);
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
  .words {
    display: grid;
    line-height: 1.15;
  }
  .name {
    font-weight: 600;
  }
  .question {
    font-size: 0.8rem;
    color: var(--ink-2);
    font-stretch: 78%;
  }
  @media (max-width: 760px) {
    .course {
      min-height: 0;
      position: fixed;
      inset: auto 0 0 0;
      z-index: 5;
      background: var(--sheet);
      border-top: 1px solid var(--ink);
    }
    ol {
      height: 58px;
    }
    li {
      flex: 1;
    }
    a {
      flex: 1;
      flex-direction: column;
      justify-content: center;
      gap: 0;
      padding: 0.1rem 0 0;
      font-size: 14px;
    }
    svg {
      width: 22px;
      height: 22px;
    }
    .question,
    li:not(:last-child)::after {
      display: none;
    }
  }
</style>
