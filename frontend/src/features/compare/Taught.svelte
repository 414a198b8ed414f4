<script lang="ts">
  import Asks from '$lib/ui/Asks.svelte';
  import Button from 'flowbite-svelte/Button.svelte';

  import type { Knowledge } from '$lib/api/client';
  import { link } from '$lib/ui/theme';
  import { grouped } from '$lib/units/units.svelte';

  /** Each number of the boat from guess to learnt: a strip of its own, as no chart has two bands on one scale. */
  let { knowledge }: { knowledge: Knowledge } = $props();

  const FIRST = 8;
  let all = $state(false);
  const taught = $derived(knowledge.numbers.filter((n) => n.taught));
  const shown = $derived(all ? knowledge.numbers : taught.slice(0, FIRST));
  /** Spreads from what was given to either end of a strip. */
  const REACH = 2.6;
  const at = (spreads: number) => 50 + (50 * Math.max(-REACH, Math.min(REACH, spreads))) / REACH;
  const Z80 = 1.2816;
  const text = (value: number | null) => {
    if (value === null) return '';
    const size = Math.floor(Math.log10(Math.abs(value) || 1));
    return grouped(value, Math.min(Math.max(2 - size, 0), 4));
  };
</script>

<section>
  <h2 class="mt-6.5 mb-1">What the runs taught <Asks of="compare.taught" /></h2>
  {#if knowledge.denied}
    <p class="mt-1 border-l-3 border-l-short pl-3 max-w-[70ch]">
      These runs agree with each other and not with the laws: the forecast stands on the runs alone. Look at KV, pitch
      and units once more.
    </p>
  {/if}
  {#if taught.length}
    <p class="quiet max-w-[70ch]">
      Grey is the 80 % band of what was typed or guessed, blue what {knowledge.runs === 1
        ? 'the run leaves'
        : `${knowledge.runs} runs leave`} open. Numbers that hardly narrowed are still guesses.
    </p>
    <ol class="m-0 grid list-none gap-y-1 p-0" aria-label="Numbers of the boat">
      {#each shown as n (n.name)}
        <li
          class="grid grid-cols-[minmax(0,17rem)_minmax(0,1fr)_9.5rem] items-center gap-x-4 max-md:grid-cols-[minmax(0,1fr)_9rem]"
        >
          <span class="text-[0.92rem]">{n.label} <span class="quiet">{n.owner.toLowerCase()}</span></span>
          <span class="strip max-md:order-last max-md:col-span-2" aria-hidden="true">
            <i class="was" style:left="{at(-Z80)}%" style:right="{100 - at(Z80)}%"></i>
            <i
              class="is"
              style:left="{at(n.moved - Z80 * (1 - n.narrowed))}%"
              style:right="{100 - at(n.moved + Z80 * (1 - n.narrowed))}%"
            ></i>
            <i class="mark" style:left="{at(n.moved)}%"></i>
          </span>
          <span class="text-right text-[0.88rem] whitespace-nowrap">
            <span class="quiet">{text(n.before.value)} →</span> <b>{text(n.now.value)}</b>
            <span class="unit">{n.unit === '1' ? '' : n.unit}</span>
          </span>
        </li>
      {/each}
    </ol>
    {#if knowledge.numbers.length > shown.length || all}
      <Button onclick={() => (all = !all)} class={link}
        >{all ? 'Only what was taught' : `All ${knowledge.numbers.length} numbers`}</Button
      >
    {/if}
  {:else}
    <p class="quiet">Nothing yet: no run of this boat or its parts says more than was typed.</p>
  {/if}
</section>

<style>
  .strip {
    position: relative;
    height: 1.4rem;
    border-bottom: 1px solid var(--hair);
  }
  .strip i {
    position: absolute;
  }
  .was {
    top: 0.45rem;
    height: 0.5rem;
    background: var(--ink);
    opacity: 0.13;
  }
  .is {
    top: 0.3rem;
    height: 0.8rem;
    background: var(--water);
    opacity: 0.4;
  }
  .mark {
    top: 0.1rem;
    height: 1.2rem;
    width: 2px;
    margin-left: -1px;
    background: var(--ink);
  }
</style>
