/** Takes along to the pond what the screens of a boat ask for: they are opened, as it were, and their answers kept. */
import { api, ask } from '$lib/api/client';
import { boathouse } from '$lib/state/boathouse.svelte';
import { DraftState } from '$lib/state/draft.svelte';
import { today } from '$lib/units/day';
import { units } from '$lib/units/units.svelte';
import { DayState, LaunchState } from '$features/launch/launch.svelte';
import { PlanState } from '$features/match/plan.svelte';
import { RunState } from '$features/run/run.svelte';
import { TrimState } from '$features/trim/trim.svelte';

export async function takeAlong(setupId: number): Promise<void> {
  await boathouse.load();
  const draft = new DraftState();
  await draft.load(setupId);
  if (!draft.setup) throw new Error('no setup');
  const plan = new PlanState();
  plan.follow(draft.setup.boat_id);
  plan.askHeat(draft.setup.document);
  plan.askSteps(draft.setup.document);
  const runs = new RunState(
    () => boathouse.vocabulary.gun_order,
    () => units.system,
  );
  const trim = new TrimState();
  await Promise.all([
    new LaunchState().load(setupId),
    new DayState().load(today()),
    runs.load(setupId),
    trim.load(setupId),
  ]);
  await ask(api.GET('/api/setups/{setup_id}/drives', { params: { path: { setup_id: setupId } } }));
  // At the pond one thing is seen at a time, as a rule: what each of them means, alone.
  for (const sign of trim.told?.signs ?? [])
    await ask(
      api.POST('/api/setups/{setup_id}/trim', { params: { path: { setup_id: setupId } }, body: { seen: [sign.sign] } }),
    );
}
