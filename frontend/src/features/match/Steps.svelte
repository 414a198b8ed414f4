<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Kbd from 'flowbite-svelte/Kbd.svelte';

  import type { Step } from '$lib/api/client';
  import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from '$lib/ui/table';
  import { link, row } from '$lib/ui/theme';
  import Verdict from '$lib/ui/Verdict.svelte';
  import Wait from '$lib/ui/Wait.svelte';
  import { units } from '$lib/units/units.svelte';

  import type { PlanState } from './plan.svelte';

  /** Every single change from here, ranked; walked with [ and ], tried with a tap, adopted with Enter. */
  let { plan, onpick }: { plan: PlanState; onpick: (step: Step, index: number) => void } = $props();

  let all = $state(false);
  const shown = $derived(all ? plan.steps : plan.steps.slice(0, 9));
</script>

<section>
  <h2 class="mb-1">Next single change</h2>
  {#if plan.stepsBusy && !plan.steps.length}
    <Wait>Trying every single change…</Wait>
  {:else if !plan.steps.length}
    <p class="quiet">No single change from here runs.</p>
  {:else}
    <Table aria-label="Single changes">
      <TableHead
        ><TableHeadCell>Change</TableHeadCell><TableHeadCell class="n">{units.unit('speed').unit}</TableHeadCell
        ><TableHeadCell class="n">Case {units.unit('temperature').unit}</TableHeadCell><TableHeadCell class="n"
          >A</TableHeadCell
        ><TableHeadCell>Verdict</TableHeadCell></TableHead
      >
      <TableBody>
        {#each shown as step, k (step.label + step.text)}
          <TableBodyRow class={[k === plan.at && 'at']}>
            <TableBodyCell>
              <Button
                title={step.sentence}
                aria-pressed={k === plan.at}
                onclick={() => onpick(step, k)}
                class={[row, 'inline min-h-7 leading-snug']}
                >{step.label.replace(' from the shelf', '')} <b>{step.text}</b>{#if step.shelf_id !== null}
                  <span class="ms-1 text-[0.78rem] text-ink-2">shelf</span>{/if}</Button
              >
            </TableBodyCell>
            <TableBodyCell class="n">{units.change(step.gain_mps, 'speed')}</TableBodyCell>
            <TableBodyCell class="n"
              >{step.burnt_s === null ? units.change(step.case_gain_c, 'temperature') : 'burns'}</TableBodyCell
            >
            <TableBodyCell class="n">{Math.round(step.current_a)}</TableBodyCell>
            <TableBodyCell
              ><Verdict verdict={step.verdict} />{#if step.breaks}<span class="block text-[0.82rem] text-vermilion"
                  >{step.breaks}</span
                >{/if}</TableBodyCell
            >
          </TableBodyRow>
        {/each}
      </TableBody>
    </Table>
    {#if plan.steps.length > 9}<Button onclick={() => (all = !all)} class={link}
        >{all ? 'Best only' : `All ${plan.steps.length}`}</Button
      >{/if}
    <p class="quiet text-[0.82rem] mt-1">
      <Kbd>[</Kbd> and <Kbd>]</Kbd> step through the list, Enter saves the setup. Change one thing at a time, or you cannot
      tell what helped.
    </p>
  {/if}
</section>
