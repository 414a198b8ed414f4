<script lang="ts">
  import CommandPalette from 'flowbite-svelte/CommandPalette.svelte';

  import { boathouse } from '$lib/state/boathouse.svelte';
  import { go, MARKS, pathTo, TROUBLES } from '$lib/state/go';
  import { here } from '$lib/state/here.svelte';
  import { theme } from '$lib/state/theme.svelte';
  import { units } from '$lib/units/units.svelte';

  /** Everything that can be done from anywhere, with its key; and every boat by its name. */
  let { open = $bindable(false) }: { open?: boolean } = $props();

  const items = $derived([
    ...(here.boat
      ? MARKS.map(({ mark, name, question, key }) => ({
          id: `mark-${mark}`,
          label: `${name}: ${question}`,
          description: `Key ${key}`,
          onselect: () => here.boat && go(pathTo(mark, here.setupId ?? here.boat.setup_id)),
        }))
      : []),
    ...(here.boat
      ? TROUBLES.map(({ key, finds, mark, wish, answer }) => ({
          id: `wish-${key}`,
          label: finds,
          description: answer,
          onselect: () => {
            here.wish = wish;
            if (here.boat) go(pathTo(mark, here.setupId ?? here.boat.setup_id));
          },
        }))
      : []),
    ...boathouse.boats.map((boat) => ({
      id: `boat-${boat.id}`,
      label: boat.name,
      description: `Open this ${boat.hull_type}`,
      onselect: () => go(pathTo(here.mark ?? 'match', boat.setup_id)),
    })),
    { id: 'logbook', label: 'Open the logbook', description: 'Key l', onselect: () => go('/logbook') },
    { id: 'ponds', label: 'Open the ponds', description: '', onselect: () => go('/ponds') },
    { id: 'shelf', label: 'Find a part on the shelf', description: 'Key /', onselect: () => go('/shelf') },
    { id: 'measure', label: 'Bench instruments', description: 'Key m', onselect: () => go('/measure') },
    {
      id: 'data',
      label: 'Settings, data in and out',
      description: 'Units, look, import, export',
      onselect: () => go('/settings'),
    },
    { id: 'new', label: 'New boat', description: 'Key b', onselect: () => go('/new') },
    { id: 'units', label: 'Switch metric or imperial', description: 'Key u', onselect: () => units.switch() },
    { id: 'look', label: 'Switch paper or bright sun', description: 'Key t', onselect: () => theme.switch() },
  ]);
</script>

<CommandPalette
  bind:open
  {items}
  aria-label="Commands"
  placeholder="What do you want to do?"
  emptyMessage="No command or boat of that name."
/>
