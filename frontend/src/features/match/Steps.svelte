<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import ButtonGroup from 'flowbite-svelte/ButtonGroup.svelte';
  import Checkbox from 'flowbite-svelte/Checkbox.svelte';
  import Kbd from 'flowbite-svelte/Kbd.svelte';

  import type { Step } from '$lib/api/client';
  import Chance from '$lib/ui/Chance.svelte';
  import Change from '$lib/ui/Change.svelte';
  import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from '$lib/ui/table';
  import { choice, link, row } from '$lib/ui/theme';
  import Verdict from '$lib/ui/Verdict.svelte';
  import Wait from '$lib/ui/Wait.svelte';
  import { units } from '$lib/units/units.svelte';

  import { WANTED, type PlanState } from './plan.svelte';

  /** Every change from here, ranked by what is wanted; walked with [ and ], tried with a tap, adopted with Enter. */
  let { plan, onpick }: { plan: PlanState; onpick: (step: Step, index: number) => void } = $props();

  let all = $state(false);
  const shown = $derived(all ? plan.steps : plan.steps.slice(0, 9));
</script>

<section>
  <h2 class="mb-1">Next change</h2>
  {#if plan.stepsBusy && !plan.next}
    <Wait>Trying every change…</Wait>
  {:else if !plan.next?.steps.length}
    <p class="quiet">No change from here runs.</p>
  {:else}
    <ButtonGroup aria-label="What is wanted" class="flex-wrap items-baseline">
      {#each WANTED as [intent, words] (intent)}
        <Button aria-pressed={plan.intent === intent} onclick={() => plan.want(intent)} class={[choice, 'min-h-7']}
          >{words}</Button
        >
      {/each}
    </ButtonGroup>
    {#if plan.said}<p class="mt-1 mb-1 max-w-[60ch]">{plan.said}</p>{/if}
    <Table aria-label="Changes">
      <TableHead
        ><TableHeadCell>Change</TableHeadCell><TableHeadCell class="n">{units.unit('speed').unit}</TableHeadCell
        ><TableHeadCell class="n">Case {units.unit('temperature').unit}</TableHeadCell><TableHeadCell class="n"
          >A</TableHeadCell
        ><TableHeadCell>Verdict, chance past a limit</TableHeadCell></TableHead
      >
      <TableBody>
        {#each shown as step, k (step.label + step.text + (step.then?.text ?? ''))}
          <TableBodyRow class={[k === plan.at && 'at']}>
            <TableBodyCell>
              <Button
                title={step.sentence}
                aria-pressed={k === plan.at}
                onclick={() => onpick(step, k)}
                class={[row, 'inline min-h-7 leading-snug']}><Change {step} /></Button
              >
              {#if k === plan.at && step.alone.length}
                <span class="block text-[0.82rem] text-ink-2">
                  One after the other, a run between. Alone: {step.alone.join('. ')}.
                </span>
              {/if}
            </TableBodyCell>
            <TableBodyCell class="n">{units.change(step.gain_mps, 'speed')}</TableBodyCell>
            <TableBodyCell class="n"
              >{step.burnt_s === null ? units.change(step.case_gain_c, 'temperature') : 'burns'}</TableBodyCell
            >
            <TableBodyCell class="n">{Math.round(step.current_a)}</TableBodyCell>
            <TableBodyCell
              ><Verdict verdict={step.verdict} /><Chance chance={step.chance} />{#if step.breaks}<span
                  class="block text-[0.82rem] text-vermilion">{step.breaks}</span
                >{/if}</TableBodyCell
            >
          </TableBodyRow>
        {/each}
      </TableBody>
    </Table>
    <div class="flex flex-wrap items-center gap-x-4">
      {#if plan.steps.length > 9}<Button onclick={() => (all = !all)} class={link}
          >{all ? 'Best only' : `All ${plan.steps.length}`}</Button
        >{/if}
      <Checkbox bind:checked={plan.holdingOnly}>Only what holds</Checkbox>
    </div>
    {#if plan.outings.length}
      <h3 class="mt-2 mb-1">The next outings</h3>
      <ol class="m-0 max-w-[60ch] list-decimal ps-5">
        {#each plan.outings as outing, k (k)}
          <li class="mb-1"><b>{outing.do || 'As it is'}.</b> {outing.teaches}</li>
        {/each}
      </ol>
    {/if}
    <p class="quiet text-[0.82rem] mt-1">
      <Kbd>[</Kbd> and <Kbd>]</Kbd> step through the list, Enter saves the setup. Change one thing at a time, or you cannot
      tell what helped.
    </p>
  {/if}
</section>
