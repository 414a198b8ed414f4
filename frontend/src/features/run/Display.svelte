<script lang="ts">
  import Asks from '$lib/ui/Asks.svelte';
  import Button from 'flowbite-svelte/Button.svelte';
  import Checkbox from 'flowbite-svelte/Checkbox.svelte';
  import Input from 'flowbite-svelte/Input.svelte';
  import Label from 'flowbite-svelte/Label.svelte';

  import { chip, link } from '$lib/ui/theme';

  import type { NotesDraft } from './notes';

  /** What the displays showed, typed with a thumb: the peak first and large, the rest as far as it is known. */
  let { notes, fresh = false, ontouch }: { notes: NotesDraft; fresh?: boolean; ontouch: () => void } = $props();

  let section: HTMLElement | undefined = $state();
  // Reaches outside: on a run that was just made the peak is typed at once.
  $effect(() => {
    if (fresh) section?.querySelector('input')?.focus();
  });

  const draft = $derived(notes.typed);
  const DAMAGE = ['propeller nicked', 'propeller lost', 'rudder damaged', 'strut bent', 'flex broke', 'hull leaks'];
  const broken = $derived(
    draft.damage
      .split(';')
      .map((words) => words.trim())
      .filter(Boolean),
  );
  function tap(words: string): void {
    const now = broken.includes(words) ? broken.filter((w) => w !== words) : [...broken, words];
    draft.damage = now.join('; ');
    ontouch();
  }
</script>

<section data-testid="display" bind:this={section}>
  <h2 class="mb-1">Off the display <Asks of="run.typed" /></h2>
  {#each draft.peaks as peak, k (k)}
    <div class="mb-2 flex flex-wrap items-end gap-3">
      <Label class="flex-none"
        >{k ? 'Peak, other instrument' : 'Peak'}, {draft.unit}
        <Input
          inputmode="decimal"
          autocomplete="off"
          bind:value={peak.speed}
          oninput={ontouch}
          class="w-32! text-[2rem] font-light font-stretch-[75%] min-h-14"
        /></Label
      >
      <Label class="min-w-32 flex-1"
        >Instrument <Input bind:value={peak.instrument} oninput={ontouch} maxlength={60} /></Label
      >
    </div>
  {/each}
  {#if draft.peaks.length < 3}
    <Button class={[link, 'mb-2 text-[0.88rem]']} onclick={() => draft.peaks.push({ speed: '', instrument: '' })}
      >Another instrument</Button
    >
  {/if}
  <div class="grid grid-cols-3 items-end gap-3">
    <Label>Second best <Input inputmode="decimal" bind:value={draft.second} oninput={ontouch} /></Label>
    <Label>Peak there <Input inputmode="decimal" bind:value={draft.there} oninput={ontouch} /></Label>
    <Label>Peak back <Input inputmode="decimal" bind:value={draft.back} oninput={ontouch} /></Label>
    <Label>Passes <Input inputmode="numeric" bind:value={draft.passes} oninput={ontouch} /></Label>
    <Label>Seconds each <Input inputmode="decimal" bind:value={draft.held} oninput={ontouch} /></Label>
    <Label>On the water, min <Input inputmode="decimal" bind:value={draft.minutes} oninput={ontouch} /></Label>
    <Label>Current, A <Input inputmode="decimal" bind:value={draft.current} oninput={ontouch} /></Label>
    <Label>Rpm <Input inputmode="decimal" bind:value={draft.rpm} oninput={ontouch} /></Label>
    <Label>Pack, V <Input inputmode="decimal" bind:value={draft.voltage} oninput={ontouch} /></Label>
    <Label>Put back, mAh <Input inputmode="decimal" bind:value={draft.mah} oninput={ontouch} /></Label>
    <Label
      >Cells after, V <Input
        inputmode="decimal"
        placeholder="3.82 3.80"
        bind:value={draft.cells}
        oninput={ontouch}
      /></Label
    >
  </div>
  <Checkbox class="my-2" checked={draft.feathered} onchange={() => ((draft.feathered = !draft.feathered), ontouch())}
    >Trigger feathered: not held at full</Checkbox
  >
  <div class="mt-1 mb-1.5 flex flex-wrap gap-1.5">
    {#each DAMAGE as words (words)}
      <Button class={chip} aria-pressed={broken.includes(words)} onclick={() => tap(words)}>{words}</Button>
    {/each}
  </div>
  <Label
    >Damage and repair <Input
      placeholder="one thing; another"
      bind:value={draft.damage}
      oninput={ontouch}
      class="w-full"
    /></Label
  >
</section>
