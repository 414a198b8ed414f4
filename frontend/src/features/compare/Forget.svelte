<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Label from 'flowbite-svelte/Label.svelte';
  import Select from 'flowbite-svelte/Select.svelte';

  import type { Knowledge } from '$lib/api/client';
  import { link } from '$lib/ui/theme';

  import { forgettable } from './forgettable';

  /** What is to be forgotten: a hull that was repaired, a motor with new bearings; and what was set aside already. */
  let { knowledge, onaside }: { knowledge: Knowledge; onaside: (runs: number[], aside: boolean) => void } = $props();

  const things = $derived(forgettable(knowledge));
  let chosen = $state('');
  const thing = $derived(things.find((t) => t.name === chosen) ?? things[0]);
  const some = (count: number) => (count === 1 ? '1 run' : `${count} runs`);
</script>

<section>
  <h2 class="mt-6.5 mb-1">Start afresh</h2>
  {#if knowledge.set_aside.length}
    <p class="mb-2" data-testid="set-aside">
      {some(knowledge.set_aside.length)}
      {knowledge.set_aside.length === 1 ? 'is' : 'are'} set aside: nothing is learnt from {knowledge.set_aside
        .length === 1
        ? 'it'
        : 'them'}.
      <Button onclick={() => onaside(knowledge.set_aside, false)} class={link}>Count again</Button>
    </p>
  {/if}
  {#if thing}
    <p class="quiet mb-1 max-w-[70ch]">
      A repaired hull or a motor with new bearings is no longer what its old runs say. Their numbers go back to what was
      typed or guessed; the runs stay in the logbook.
    </p>
    <div class="flex flex-wrap items-end gap-x-4 gap-y-2">
      <div>
        <Label for="forget">Forget what was learnt of</Label>
        <Select
          id="forget"
          placeholder=""
          value={thing.name}
          onchange={(event) => (chosen = event.currentTarget.value)}
          items={things.map((t) => ({ value: t.name, name: `${t.name} (${some(t.runs.length)})` }))}
        />
      </div>
      <Button color="alternative" onclick={() => onaside(thing.runs, true)}>Set {some(thing.runs.length)} aside</Button>
    </div>
  {/if}
</section>
