<script lang="ts">
  import type { Key } from './frame';

  /** What the lines, areas and signs of a drawing mean, each with its own sign. */
  let { keys }: { keys: Key[] } = $props();
</script>

<ul class="m-0 mt-0.5 flex list-none flex-wrap gap-x-4 p-0 text-[0.82rem] text-ink-2 font-stretch-[85%]">
  {#each keys as { sign, words, tone } (words)}
    <li class="inline-flex items-center gap-1.5">
      <svg
        width="22"
        height="12"
        viewBox="0 0 22 12"
        class={['flex-none', tone === 'water' ? 'text-water' : 'text-ink']}
        aria-hidden="true"
      >
        {#if sign === 'line'}<path d="M0 6 H22" class="stroke-current stroke-2" />
        {:else if sign === 'dashed'}<path d="M0 6 H22" class="stroke-current stroke-2" stroke-dasharray="7 4" />
        {:else if sign === 'ghost'}<path d="M0 6 H22" class="stroke-ghost" stroke-dasharray="2 3" />
        {:else if sign === 'band'}<rect width="22" height="12" class="fill-current opacity-20" />
        {:else if sign === 'short'}<rect width="22" height="12" fill="url(#hatch-short)" />
        {:else if sign === 'stop'}<rect width="22" height="12" fill="url(#hatch-stop)" />
        {:else if sign === 'circle'}<circle cx="11" cy="6" r="4" class="fill-paper stroke-current stroke-[1.5]" />
        {:else if sign === 'cross'}<path d="M7 2 l8 8 m0 -8 l-8 8" class="stroke-vermilion stroke-2" />
        {:else}<path d="M11 1 l5 5 l-5 5 l-5 -5 Z" class="fill-paper stroke-current stroke-[1.5]" />{/if}
      </svg>
      {words}
    </li>
  {/each}
</ul>
