<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import ButtonGroup from 'flowbite-svelte/ButtonGroup.svelte';

  import { pathTo } from '$lib/state/go';
  import { knowing } from '$lib/state/knowing.svelte';
  import { choice } from '$lib/ui/theme';

  /** What the forecast stands on: the runs of this boat and its parts, or the boat as bought. */
  let { runs, setupId, onchange }: { runs: number; setupId: number; onchange: () => void } = $props();

  function choose(learnt: boolean): void {
    knowing.choose(learnt);
    onchange();
  }
</script>

{#if runs || !knowing.learnt}
  <div class="flex flex-wrap items-baseline gap-x-2 text-[0.88rem]">
    <ButtonGroup aria-label="What the forecast stands on" class="items-baseline">
      <span class="me-1.5 text-ink-2">Forecast</span>
      <Button aria-pressed={knowing.learnt} onclick={() => choose(true)} class={choice}>
        {runs ? `learnt from ${runs} ${runs === 1 ? 'run' : 'runs'}` : 'learnt from runs'}
      </Button>
      <Button aria-pressed={!knowing.learnt} onclick={() => choose(false)} class={choice}>as bought</Button>
    </ButtonGroup>
    <a href={pathTo('compare', setupId)} class="text-ink-2">what they taught</a>
  </div>
{/if}
