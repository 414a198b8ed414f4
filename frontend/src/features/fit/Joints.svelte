<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import type { Joint } from '$lib/api/client';
  import { link } from '$lib/ui/theme';

  import FitMark from './FitMark.svelte';

  /** Every joint along the drive: its word, its millimetres, and what mends it. */
  let { joints, onask, onlook }: { joints: Joint[]; onask: (kinds: string[]) => void; onlook: (part: string) => void } =
    $props();

  const ORDER = ['clashes', 'needs', 'unknown', 'fits'];
  const sorted = $derived([...joints].sort((a, b) => ORDER.indexOf(a.fit) - ORDER.indexOf(b.fit)));
  const PARTS: Record<string, string[]> = {
    room: ['placement'],
    jacket: ['jacket'],
    ring: ['jacket'],
    circle: ['mount', 'motor'],
    screw: ['mount', 'motor'],
    motor_coupler: ['coupler', 'motor'],
    flat: ['coupler'],
    shaft_coupler: ['coupler', 'shaft'],
    whirl: ['shaft'],
    flex: ['shaft'],
    collar: ['shaft'],
    propeller: ['propeller', 'shaft'],
    wire: ['wiring'],
    pins: ['wiring'],
    centre: ['placement'],
  };
</script>

<ul class="m-0 list-none columns-2 gap-8 p-0 max-lg:columns-1">
  {#each sorted as joint (joint.key)}
    <li
      class="break-inside-avoid border-b border-hair py-1.5"
      onpointerenter={() => onlook(PARTS[joint.key]?.[0] ?? '')}
      onpointerleave={() => onlook('')}
    >
      <div class="flex flex-wrap gap-x-3 gap-y-0 items-baseline">
        <b>{joint.title}</b>
        <FitMark fit={joint.fit} />
        {#if joint.off_mm > 0 && joint.fit !== 'fits'}<span class="font-semibold"
            >{joint.off_mm.toFixed(2).replace(/\.?0+$/, '')} mm</span
          >{/if}
        <Button onclick={() => onask(PARTS[joint.key] ?? [])} class={[link, 'ms-auto text-[0.86rem]']}
          >{joint.fit === 'unknown' ? 'Enter sizes' : 'Sizes'}<span class="visually-hidden">
            of {joint.title.toLowerCase()}</span
          ></Button
        >
      </div>
      <p class="mt-0.5 text-sm text-ink-2 font-stretch-[88%]">{joint.sentence}</p>
      {#if joint.remedy}<p class="mt-0.5 text-sm text-ink-2 font-stretch-[88%] text-ink font-medium">
          → {joint.remedy}
        </p>{/if}
      {#if joint.caution}<p
          class="mt-0.5 text-sm text-ink-2 font-stretch-[88%] border-l-3 border-l-ochre-mark pl-2 mt-1"
        >
          {joint.caution}
        </p>{/if}
    </li>
  {/each}
</ul>
