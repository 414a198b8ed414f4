<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import ButtonGroup from 'flowbite-svelte/ButtonGroup.svelte';
  import Range from 'flowbite-svelte/Range.svelte';
  import { onDestroy } from 'svelte';

  import { pathTo } from '$lib/state/go';
  import { knowing } from '$lib/state/knowing.svelte';
  import { lessonsOf } from '$lib/ui/lessons';
  import { choice, link } from '$lib/ui/theme';

  /** What the forecast stands on: the runs of this boat and its parts, the first of them, or the boat as bought. */
  let {
    runs,
    here,
    racers,
    setupId,
    onchange,
  }: { runs: number; here: number; racers: number; setupId: number; onchange: () => Promise<void> } = $props();

  /** A run each: long enough to see the band narrow. */
  const STEP_MS = 700;
  let total = $state(0);
  let own = $state(0);
  let playing = $state(false);
  const replay = $derived(knowing.first !== undefined);
  /** As last told by a forecast that counts them: the way back from *as bought* says what it leads to. */
  let taught = $state(0);
  $effect(() => {
    if (knowing.first === undefined && knowing.learnt) [total, own] = [runs, here];
    if (knowing.learnt) taught = racers;
  });
  const from = $derived(
    [
      total ? `learnt ${lessonsOf({ known_runs: total, known_here: own })}` : taught ? '' : 'learnt from runs',
      taught ? `${taught} racers' boats` : '',
    ]
      .filter(Boolean)
      .join(' and '),
  );
  onDestroy(() => {
    playing = false;
    knowing.first = undefined;
  });

  function choose(learnt: boolean): void {
    playing = false;
    knowing.first = undefined;
    knowing.choose(learnt);
    void onchange();
  }

  async function knowOnly(first: number): Promise<void> {
    knowing.first = first;
    await onchange();
  }

  async function play(): Promise<void> {
    playing = true;
    for (let first = 0; first <= total && playing; first++) {
      await knowOnly(first);
      await new Promise((done) => setTimeout(done, STEP_MS));
    }
    playing = false;
  }

  function stop(): void {
    playing = false;
    knowing.first = undefined;
    void onchange();
  }
</script>

{#if runs || racers || !knowing.learnt || replay}
  <div class="flex flex-wrap items-center gap-x-2 text-[0.88rem]">
    <ButtonGroup aria-label="What the forecast stands on" class="items-baseline">
      <span class="me-1.5 text-ink-2">Forecast</span>
      <Button aria-pressed={knowing.learnt} onclick={() => choose(true)} class={choice}>
        {total || !taught ? from : `from ${from}`}
      </Button>
      <Button aria-pressed={!knowing.learnt} onclick={() => choose(false)} class={choice}>as bought</Button>
    </ButtonGroup>
    {#if replay}
      <Range
        aria-label="Runs known"
        aria-valuetext="{knowing.first} of {total} runs"
        appearance="auto"
        min="0"
        max={total}
        step="1"
        value={knowing.first}
        oninput={(event) => {
          playing = false;
          void knowOnly(Number(event.currentTarget.value));
        }}
        class="w-32"
      />
      <span class="min-w-[8.5rem]" data-testid="runs-known">
        {knowing.first ? `after ${knowing.first} of ${total}` : 'before the first run'}
      </span>
      <Button onclick={stop} class={link}>All runs again</Button>
    {:else}
      {#if knowing.learnt && total}<Button onclick={() => void play()} class={link}>Play the season</Button>{/if}
      {#if total}<a href={pathTo('compare', setupId)} class="text-ink-2">what they taught</a>{/if}
    {/if}
  </div>
{/if}
