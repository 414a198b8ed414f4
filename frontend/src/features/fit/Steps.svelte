<script lang="ts">
  import Checkbox from 'flowbite-svelte/Checkbox.svelte';

  import type { FitStep } from '$lib/api/client';

  /** Steps in their order, each with what to look at; ticked off, printed. */
  let { steps, ontick }: { steps: FitStep[]; ontick: (key: string, done: boolean) => void } = $props();

  const left = $derived(steps.filter((s) => !s.done).length);
</script>

<p class="quiet">{left ? `${left} of ${steps.length} to do` : 'All done'}</p>
<ol class="list-none m-0 p-0 max-w-248">
  {#each steps as step, k (step.key)}
    <li class="break-inside-avoid border-b border-hair pt-1 pb-1.5">
      <Checkbox
        checked={step.done}
        onchange={(e) => ontick(step.key, (e.target as HTMLInputElement).checked)}
        labelProps={{ class: 'items-start min-h-(--target) pt-1 cursor-pointer' }}
      >
        <span class="min-w-7 text-ink-2">{k + 1}</span>
        <span class="grid"
          ><b class={step.done ? 'font-normal line-through decoration-rule' : ''}>{step.title}</b><span
            class="text-[0.92rem] text-ink-2">{step.inspect}</span
          ></span
        >
      </Checkbox>
      {#if step.caution}<p class="ml-14.5 mt-0.5 pl-2.5 border-l-3 border-l-ochre-mark text-[0.88rem] max-w-[60ch]">
          {step.caution}
        </p>{/if}
    </li>
  {/each}
</ol>
