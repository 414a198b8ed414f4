<script lang="ts">
  import type { Verdict } from '$lib/api/client';

  import { VERDICTS } from './verdicts';

  /** A verdict: always the word, and a hatch so that it reads without colour. */
  let { verdict, big = false }: { verdict: Verdict; big?: boolean } = $props();
  const kind = $derived(verdict === 'holds' ? 'holds' : verdict === 'short' ? 'single' : 'cross');
</script>

<span class="verdict {kind}" class:big>
  <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
    {#if kind === 'holds'}
      <rect x="1" y="1" width="12" height="12" class="frame" />
    {:else}
      <rect x="1" y="1" width="12" height="12" class="frame" />
      <path d="M-1 9 L9 -1 M1 14 L14 1 M6 16 L16 6" class="line" />
      {#if kind === 'cross'}<path d="M5 -1 L15 9 M0 1 L13 14 M-2 6 L8 16" class="line" />{/if}
    {/if}
  </svg>
  {VERDICTS[verdict]}
</span>

<style>
  .verdict {
    display: inline-flex;
    align-items: center;
    gap: 0.35em;
    font-weight: 600;
    white-space: nowrap;
  }
  svg {
    overflow: hidden;
    flex: none;
  }
  .frame {
    fill: none;
    stroke: currentColor;
    stroke-width: 1.5;
  }
  .line {
    stroke: currentColor;
    stroke-width: 1.3;
  }
  .single {
    color: var(--ochre);
  }
  .cross {
    color: var(--vermilion);
  }
  .big {
    font-size: 1.25rem;
  }
</style>
