<script lang="ts">
  import { api, ask, type SetupView, type Step } from '$lib/api/client';
  import { aim } from '$lib/state/aim.svelte';
  import { pathTo } from '$lib/state/go';
  import Chance from '$lib/ui/Chance.svelte';
  import Change from '$lib/ui/Change.svelte';
  import Verdict from '$lib/ui/Verdict.svelte';
  import { units } from '$lib/units/units.svelte';

  /** After landing: the one change that is worth trying next, as far as the model and the boat's runs know. */
  let { setup }: { setup: SetupView } = $props();

  let step = $state.raw<Step | undefined>();
  let said = $state('');
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
      const found = await ask(api.POST('/api/next', { params: { query: { boat: of.boat_id } }, body }));
      if (of !== setup) return;
      step = found.steps[0];
      said = found.said[found.wanted] ?? '';
    } catch {
      // Without network there is nothing to propose, and nothing is missed: the readings come first.
    }
  }
</script>

{#if step}
  <section data-testid="next-step">
    <h2 class="mb-1">Next change</h2>
    {#if said}<p class="m-0">{said}</p>{/if}
    <p class="m-0">
      <Change {step} />: {units.change(step.gain_mps, 'speed')}
      {units.unit('speed').unit}, {step.burnt_s === null
        ? `motor case ${units.change(step.case_gain_c, 'temperature')} ${units.unit('temperature').unit}`
        : 'it burns'}, <Verdict verdict={step.verdict} />, <Chance chance={step.chance} />
      <a href={pathTo('match', setup.id)}>Try it on Match</a>
    </p>
  </section>
{/if}
