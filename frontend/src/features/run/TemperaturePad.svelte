<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Input from 'flowbite-svelte/Input.svelte';
  import Label from 'flowbite-svelte/Label.svelte';

  import { unitLabel } from '$lib/units/units.svelte';

  import { numberOf, type NotesDraft } from './run.svelte';

  /** The gun in its order, straight after landing; the soak clock fills in the minutes. */
  let { notes, ontouch }: { notes: NotesDraft; ontouch: () => void } = $props();

  let landed = $state<number | undefined>();
  let now = $state(Date.now());

  // Reaches outside: the clock.
  $effect(() => {
    if (landed === undefined) return undefined;
    const timer = setInterval(() => (now = Date.now()), 500);
    return () => clearInterval(timer);
  });
  const seconds = $derived(landed === undefined ? 0 : Math.max((now - landed) / 1000, 0));
  const clock = $derived(`${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`);

  function typed(index: number): void {
    const row = notes.readings[index];
    if (row && landed !== undefined && row.minutes === '' && numberOf(row.value) !== undefined) {
      row.minutes = ((Date.now() - landed) / 60000).toFixed(1);
    }
    ontouch();
  }
</script>

<section>
  <h2 class="mb-1">Temperatures, in gun order</h2>
  <div class="flex items-center gap-3 min-h-[calc(var(--target)+4px)] text-sm">
    {#if landed === undefined}
      <Button color="alternative" onclick={() => (landed = now = Date.now())}>Landed now</Button>
      <span class="quiet">starts the clock: the case keeps warming after you stop</span>
    {:else}
      <span class="text-[2rem] font-light font-stretch-[75%]" role="timer">{clock}</span>
      <span class="quiet">since landing</span>
      <Button color="alternative" onclick={() => (landed = undefined)}>Stop</Button>
    {/if}
  </div>
  <ol class="list-none m-0 p-0">
    {#each notes.readings as row, k (row.place)}
      <li
        class="grid grid-cols-[minmax(6rem,1fr)_auto_auto] gap-3 items-center border-b border-b-hair min-h-[calc(var(--target)+2px)]"
      >
        <Label for="t{k}" class="text-base text-ink">{row.place}</Label>
        <span class="flex items-baseline">
          <Input
            id="t{k}"
            inputmode="decimal"
            bind:value={row.value}
            oninput={() => typed(k)}
            aria-label="{row.place}, {unitLabel(row.unit)}"
            class="w-17! bg-transparent text-right text-[1.15rem] font-semibold"
          />
          <span class="unit">{unitLabel(row.unit)}</span>
        </span>
        <span class="flex items-baseline">
          <Input
            inputmode="decimal"
            bind:value={row.minutes}
            oninput={ontouch}
            aria-label="{row.place}, minutes after landing"
            class="w-13! bg-transparent text-right font-normal"
          />
          <span class="unit">min after</span>
        </span>
      </li>
    {/each}
  </ol>
</section>
