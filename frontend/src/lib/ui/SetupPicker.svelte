<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Label from 'flowbite-svelte/Label.svelte';
  import Select from 'flowbite-svelte/Select.svelte';

  import { api, ask, fileAt, type RunView, type SetupItem, type SetupView } from '$lib/api/client';
  import { allPages } from '$lib/api/pages';
  import { account } from '$lib/state/account.svelte';
  import { units } from '$lib/units/units.svelte';
  import { go, pathTo, type Mark } from '$lib/state/go';
  import { manage } from '$lib/state/manage.svelte';
  import { link } from '$lib/ui/theme';

  /** Which setup of the boat is on the sheet, and a way to the others. */
  let {
    setup,
    mark,
    run,
    onchanged,
  }: {
    setup: SetupView;
    mark: Mark;
    /** The run on the sheet, where there is one. */
    run?: RunView | undefined;
    /** Loads the sheet again after something was renamed, moved or taken out. */
    onchanged: () => Promise<void> | void;
  } = $props();

  let others = $state<SetupItem[]>([]);
  // Reaches outside: another setup may be of another boat, or have another name by now.
  $effect(() => {
    const boatId = setup.boat_id;
    void allPages((after) =>
      ask(
        api.GET('/api/boats/{boat_id}/setups', {
          params: { path: { boat_id: boatId }, query: { after: Number(after ?? 0) } },
        }),
      ),
    )
      .then((found) => (others = found))
      .catch(() => (others = []));
  });
</script>

{#if others.length > 1}
  <Label class="inline-flex items-baseline gap-1.5">
    <span class="quiet">setup</span>
    <Select placeholder="" value={String(setup.id)} onchange={(e) => go(pathTo(mark, Number(e.currentTarget.value)))}>
      {#each others as other, k (other.id)}
        <option value={String(other.id)}>{k + 1} · {other.name}{k === others.length - 1 ? ' (newest)' : ''}</option>
      {/each}
    </Select>
  </Label>
{:else}
  <span class="quiet">setup 1 · {setup.name}</span>
{/if}
<a class="export text-[0.86rem]" href={fileAt(`/api/setups/${setup.id}/document`)} download>Download</a>
<a class="export text-[0.86rem]" href={fileAt(`/api/setups/${setup.id}/sheet.pdf?units=${units.system}`)} download
  >Sheet</a
>
{#if account.seen.writes}<Button
    onclick={() => manage.open(setup, () => run, onchanged)}
    class={[link, 'export text-[0.86rem]']}>Manage…</Button
  >{/if}
