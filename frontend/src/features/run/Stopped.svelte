<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Input from 'flowbite-svelte/Input.svelte';
  import Label from 'flowbite-svelte/Label.svelte';
  import Progressbar from 'flowbite-svelte/Progressbar.svelte';

  import { chip, link } from '$lib/ui/theme';

  import type { NotesDraft } from './notes';
  import { Suspects, type Stopped } from './stopped.svelte';

  /** A boat that stopped: what was seen, one part swapped at a time, who it was and what cured it. */
  let { notes, ontouch }: { notes: NotesDraft; ontouch: () => void } = $props();

  const suspects = new Suspects();
  const stopped = $derived(notes.typed.stopped);
  // Reaches outside: what was seen and swapped is weighed by the server.
  $effect(() => {
    if (stopped) void suspects.weigh($state.snapshot(stopped));
  });
  const answer = $derived(suspects.answer);
  const swapOf = (part: string) => stopped?.swaps.find((s) => s.part === part);

  function set(change: Partial<Stopped>): void {
    if (!stopped) return;
    notes.typed.stopped = { ...stopped, ...change };
    ontouch();
  }
  function tap(sign: Stopped['signs'][number]): void {
    if (!stopped) return;
    const has = stopped.signs.includes(sign);
    set({ signs: has ? stopped.signs.filter((s) => s !== sign) : [...stopped.signs, sign] });
  }
  function swapped(part: Stopped['swaps'][number]['part'], runs: boolean): void {
    if (!stopped) return;
    const others = stopped.swaps.filter((s) => s.part !== part);
    const again = swapOf(part)?.runs === runs;
    set({ swaps: again ? others : [...others, { part, runs }], found: !again && runs ? part : stopped.found });
  }
</script>

{#if stopped}
  <section class="border-t border-ink pt-2">
    <div class="flex items-baseline justify-between">
      <h2 class="mb-1">It stopped</h2>
      <Button class={link} onclick={() => ((notes.typed.stopped = null), ontouch())}>It did not stop</Button>
    </div>
    <div class="mb-2 flex flex-wrap gap-1.5">
      {#each answer?.signs ?? [] as sign (sign.sign)}
        <Button class={chip} aria-pressed={stopped.signs.includes(sign.sign)} onclick={() => tap(sign.sign)}
          >{sign.words}</Button
        >
      {/each}
    </div>
    {#if answer}
      <p class="my-1 max-w-[60ch]"><b>Next:</b> {answer.words}</p>
      <ul class="m-0 list-none p-0">
        {#each answer.suspects as one (one.part)}
          <li class="grid grid-cols-[8.5rem_minmax(3rem,1fr)_auto] items-center gap-3 border-t border-hair py-1">
            <span class={one.part === answer.next ? 'font-semibold' : ''}>{one.words}</span>
            <Progressbar progress={Math.round(one.chance * 100)} size="h-2" aria-hidden="true" />
            <span class="flex gap-1.5 text-[0.88rem]">
              <Button
                class={chip}
                aria-pressed={swapOf(one.part)?.runs === true}
                onclick={() => swapped(one.part, true)}>other one runs</Button
              >
              <Button
                class={chip}
                aria-pressed={swapOf(one.part)?.runs === false}
                onclick={() => swapped(one.part, false)}>still stopped</Button
              >
            </span>
          </li>
        {/each}
      </ul>
      <Label class="mt-2 block"
        >What cured it <Input
          value={stopped.cure}
          maxlength={200}
          onchange={(e) => set({ cure: e.currentTarget.value })}
        /></Label
      >
      <p class="quiet mt-1 max-w-[60ch] text-sm">{answer.caution}</p>
    {/if}
  </section>
{:else}
  <Button
    class={link}
    onclick={() => ((notes.typed.stopped = { signs: [], swaps: [], found: null, cure: '' }), ontouch())}
    >The boat stopped: find out why</Button
  >
{/if}
