<script lang="ts">
  import type { FitStep } from '$lib/api/client';

  /** Steps in their order, each with what to look at; ticked off, printed. */
  let { steps, ontick }: { steps: FitStep[]; ontick: (key: string, done: boolean) => void } = $props();

  const left = $derived(steps.filter((s) => !s.done).length);
</script>

<p class="quiet">{left ? `${left} of ${steps.length} to do` : 'all done'}</p>
<ol>
  {#each steps as step, k (step.key)}
    <li class:done={step.done}>
      <label>
        <input type="checkbox" checked={step.done} onchange={(e) => ontick(step.key, e.currentTarget.checked)} />
        <span class="n">{k + 1}</span>
        <span class="what"><b>{step.title}</b><span class="look">{step.inspect}</span></span>
      </label>
      {#if step.caution}<p class="caution">{step.caution}</p>{/if}
    </li>
  {/each}
</ol>

<style>
  ol {
    list-style: none;
    margin: 0;
    padding: 0;
    max-width: 62rem;
  }
  li {
    border-bottom: 1px solid var(--hair);
    padding: 0.2rem 0 0.35rem;
    break-inside: avoid;
  }
  label {
    display: flex;
    gap: 0.7rem;
    align-items: flex-start;
    min-height: var(--target);
    padding-top: 0.25rem;
    cursor: pointer;
  }
  input {
    width: 1.3rem;
    height: 1.3rem;
    margin-top: 0.1rem;
    accent-color: var(--ink);
    flex: none;
  }
  .n {
    min-width: 1.4rem;
    color: var(--ink-2);
  }
  .what {
    display: grid;
  }
  .look {
    color: var(--ink-2);
    font-size: 0.92rem;
  }
  .done b {
    font-weight: 400;
    text-decoration: line-through;
    text-decoration-color: var(--rule);
  }
  .caution {
    margin: 0.1rem 0 0 3.6rem;
    padding-left: 0.6rem;
    border-left: 3px solid var(--ochre-mark);
    font-size: 0.88rem;
    max-width: 60ch;
  }
</style>
