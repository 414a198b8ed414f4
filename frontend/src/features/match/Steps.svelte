<script lang="ts">
  import type { Step } from '$lib/api/client';
  import Verdict from '$lib/ui/Verdict.svelte';
  import { units } from '$lib/units/units.svelte';

  import type { PlanState } from './plan.svelte';

  /** Every single change from here, ranked; walked with [ and ], tried with a tap, adopted with Enter. */
  let { plan, onpick }: { plan: PlanState; onpick: (step: Step, index: number) => void } = $props();

  let all = $state(false);
  const shown = $derived(all ? plan.steps : plan.steps.slice(0, 9));
</script>

<section>
  <h2>Next single change</h2>
  {#if plan.stepsBusy && !plan.steps.length}
    <p class="quiet">Trying every single change…</p>
  {:else if !plan.steps.length}
    <p class="quiet">No single change from here runs.</p>
  {:else}
    <table>
      <thead
        ><tr
          ><th>change</th><th class="n">{units.unit('speed').unit}</th><th class="n"
            >case {units.unit('temperature').unit}</th
          ><th class="n">A</th><th>verdict</th></tr
        ></thead
      >
      <tbody>
        {#each shown as step, k (step.label + step.text)}
          <tr class:at={k === plan.at}>
            <td>
              <button title={step.sentence} aria-pressed={k === plan.at} onclick={() => onpick(step, k)}
                >{step.label.replace(' from the shelf', '')} <b>{step.text}</b></button
              >
              {#if step.shelf_id !== null}<span class="quiet shelf">shelf</span>{/if}
            </td>
            <td class="n">{units.change(step.gain_mps, 'speed')}</td>
            <td class="n">{units.change(step.case_gain_c, 'temperature')}</td>
            <td class="n">{Math.round(step.current_a)}</td>
            <td><Verdict verdict={step.verdict} /></td>
          </tr>
        {/each}
      </tbody>
    </table>
    {#if plan.steps.length > 9}<button class="more" onclick={() => (all = !all)}
        >{all ? 'Best only' : `all ${plan.steps.length}`}</button
      >{/if}
    <p class="quiet hint">
      <kbd>[</kbd> and <kbd>]</kbd> step through the list, Enter saves the setup. Change one thing at a time, or you cannot
      tell what helped.
    </p>
  {/if}
</section>

<style>
  th {
    white-space: nowrap;
  }
  h2 {
    margin: 0 0 0.3rem;
  }
  td button {
    display: inline-flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0 0.3rem;
    text-align: left;
    min-height: calc(var(--target) * 0.85);
    min-width: 24px;
  }
  td button:hover {
    color: var(--water);
    text-decoration: underline;
  }
  .shelf {
    font-size: 0.78rem;
    margin-left: 0.3rem;
  }
  .more {
    color: var(--water);
    text-decoration: underline;
    min-height: 30px;
  }
  .hint {
    font-size: 0.82rem;
    margin: 0.2rem 0 0;
  }
  kbd {
    border: 1px solid var(--rule);
    padding: 0 0.3rem;
    font-family: inherit;
  }
</style>
