<script lang="ts">
  import { api, ask, type SetupView, type Step } from '$lib/api/client';
  import { aim } from '$lib/state/aim.svelte';
  import { pathTo } from '$lib/state/go';
  import Verdict from '$lib/ui/Verdict.svelte';
  import { units } from '$lib/units/units.svelte';

  /** After landing: the one change that is worth trying next, as far as the model and the boat's runs know. */
  let { setup }: { setup: SetupView } = $props();

  let step = $state.raw<Step | undefined>();
  // Reaches outside: another setup asks the server anew.
  $effect(() => void find(setup));
  async function find(of: SetupView): Promise<void> {
    step = undefined;
    try {
      await aim.load(of.boat_id);
      const body = {
        document: of.document,
        duty: $state.snapshot(aim.duty),
        schools: $state.snapshot(aim.schools),
        ...aim.raced,
      };
      const steps = await ask(api.POST('/api/next', { params: { query: { boat: of.boat_id } }, body }));
      if (of === setup) step = steps[0];
    } catch {
      // Without network there is nothing to propose, and nothing is missed: the readings come first.
    }
  }
</script>

{#if step}
  <section data-testid="next-step">
    <h2 class="mb-1">Next single step</h2>
    <p class="m-0">
      {step.label.replace(' from the shelf', '')} <b>{step.text}</b>: {units.change(step.gain_mps, 'speed')}
      {units.unit('speed').unit}, {step.burnt_s === null
        ? `motor case ${units.change(step.case_gain_c, 'temperature')} ${units.unit('temperature').unit}`
        : 'it burns'}, <Verdict verdict={step.verdict} />.
      <a href={pathTo('match', setup.id)}>Try it on Match</a>
    </p>
  </section>
{/if}
