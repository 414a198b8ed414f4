<script lang="ts">
  /** What is said of a joint: always the word, and a sign that reads without colour. */
  let { fit }: { fit: string } = $props();
</script>

<span
  class={[
    'inline-flex items-baseline gap-[0.35em] whitespace-nowrap',
    fit === 'unknown' ? 'font-medium text-ink-2 italic' : 'font-semibold',
    fit === 'needs' && 'text-ochre',
    fit === 'clashes' && 'text-vermilion',
  ]}
>
  <svg
    width="14"
    height="14"
    viewBox="0 0 14 14"
    aria-hidden="true"
    class="flex-none translate-y-[0.1em] overflow-hidden"
  >
    <rect x="1" y="1" width="12" height="12" class="frame" class:dashed={fit === 'unknown'} />
    {#if fit === 'fits'}<path d="M3.5 7.5 l2.5 2.5 l4.5 -6" class="line" />{/if}
    {#if fit === 'needs'}<path d="M-1 9 L9 -1 M1 14 L14 1 M6 16 L16 6" class="line" />{/if}
    {#if fit === 'clashes'}<path
        d="M-1 9 L9 -1 M1 14 L14 1 M6 16 L16 6 M5 -1 L15 9 M0 1 L13 14 M-2 6 L8 16"
        class="line"
      />{/if}
  </svg>
  {fit}
</span>

<style>
  .frame,
  .line {
    fill: none;
    stroke: currentColor;
    stroke-width: 1.4;
  }
  .dashed {
    stroke-dasharray: 2.4 1.8;
  }
</style>
