<script lang="ts">
  import { api, ask, type PackLife } from '$lib/api/client';
  import Keys from '$lib/charts/Keys.svelte';
  import Asks from '$lib/ui/Asks.svelte';

  import PackCourse from './PackCourse.svelte';

  /** How a pack ages: what to do with it, then resistance and capacity by run. */
  let { id }: { id: number } = $props();

  const life: Promise<PackLife | undefined> = $derived(
    ask(api.GET('/api/parts/{part_id}/life', { params: { path: { part_id: id } } })).catch(() => undefined),
  );
</script>

{#await life then found}
  {#if found}
    <h3 class="mb-1">Health <Asks of="shelf.pack" /></h3>
    {#each found.words as words (words)}
      <p class={['my-1', found.health === 'retire' ? 'stop' : found.health === 'soon' && 'text-ochre']}>{words}</p>
    {/each}
    <div class="grid gap-x-6 gap-y-2 sm:grid-cols-2">
      {#if found.capacity_ah}
        <PackCourse name="Usable capacity" unit="mAh" course={found.capacity_ah} runs={found.runs} of="capacity_ah" />
      {/if}
      {#if found.resistance_ohm}
        <PackCourse
          name="Resistance a cell"
          unit="mΩ"
          course={found.resistance_ohm}
          runs={found.runs}
          of="resistance_ohm"
        />
      {/if}
    </div>
    {#if found.capacity_ah || found.resistance_ohm}
      <Keys
        keys={[
          { sign: 'circle', words: 'one run, with its spread' },
          { sign: 'band', words: '80 % band', tone: 'water' },
        ]}
      />
    {/if}
    <h3 class="mt-2.5 mb-1">Sizes</h3>
  {/if}
{/await}
