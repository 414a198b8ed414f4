<script lang="ts">
  import type { Verdict } from '$lib/api/client';

  import { VERDICTS } from './verdicts';

  /** A verdict: always the word, and a hatch so that it reads without colour. */
  let { verdict, big = false }: { verdict: Verdict; big?: boolean } = $props();
  const kind = $derived(verdict === 'holds' ? 'holds' : verdict === 'short' ? 'single' : 'cross');
</script>

<span
  class={[
    'inline-flex items-baseline gap-[0.35em] font-semibold whitespace-nowrap',
    kind === 'single' && 'text-ochre',
    kind === 'cross' && 'text-vermilion',
    big && 'text-xl',
  ]}
>
  <svg
    width="14"
    height="14"
    viewBox="0 0 14 14"
    class="flex-none translate-y-[0.1em] overflow-hidden"
    aria-hidden="true"
  >
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
  .frame {
    fill: none;
    stroke: currentColor;
    stroke-width: 1.5;
  }
  .line {
    stroke: currentColor;
    stroke-width: 1.3;
  }
</style>
