<script lang="ts">
  import type { Joint } from '$lib/api/client';

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

<ul>
  {#each sorted as joint (joint.key)}
    <li onpointerenter={() => onlook(PARTS[joint.key]?.[0] ?? '')} onpointerleave={() => onlook('')}>
      <div class="head">
        <b>{joint.title}</b>
        <FitMark fit={joint.fit} />
        {#if joint.off_mm > 0 && joint.fit !== 'fits'}<span class="off"
            >{joint.off_mm.toFixed(2).replace(/\.?0+$/, '')} mm</span
          >{/if}
        <button class="sizes" onclick={() => onask(PARTS[joint.key] ?? [])}
          >{joint.fit === 'unknown' ? 'Enter sizes' : 'Sizes'}<span class="visually-hidden">
            of {joint.title.toLowerCase()}</span
          ></button
        >
      </div>
      <p>{joint.sentence}</p>
      {#if joint.remedy}<p class="remedy">→ {joint.remedy}</p>{/if}
      {#if joint.caution}<p class="caution">{joint.caution}</p>{/if}
    </li>
  {/each}
</ul>

<style>
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
    columns: 2;
    column-gap: 2rem;
  }
  li {
    break-inside: avoid;
    border-bottom: 1px solid var(--hair);
    padding: 0.35rem 0;
  }
  .head {
    display: flex;
    flex-wrap: wrap;
    gap: 0 0.7rem;
    align-items: baseline;
  }
  .off {
    font-weight: 600;
  }
  .sizes {
    margin-left: auto;
    color: var(--water);
    text-decoration: underline;
    font-size: 0.86rem;
    min-height: 26px;
  }
  p {
    margin: 0.05rem 0 0;
    font-size: 0.9rem;
    color: var(--ink-2);
    font-stretch: 88%;
  }
  .remedy {
    color: var(--ink);
    font-weight: 500;
  }
  .caution {
    border-left: 3px solid var(--ochre-mark);
    padding-left: 0.5rem;
    margin-top: 0.2rem;
  }
  @media (max-width: 900px) {
    ul {
      columns: 1;
    }
  }
</style>
