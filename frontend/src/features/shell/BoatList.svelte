<script lang="ts">
  import SidebarGroup from 'flowbite-svelte/SidebarGroup.svelte';
  import SidebarItem from 'flowbite-svelte/SidebarItem.svelte';

  import BoatOutline from '$lib/drawing/BoatOutline.svelte';
  import { account } from '$lib/state/account.svelte';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { pathTo } from '$lib/state/go';
  import { here } from '$lib/state/here.svelte';
  import { units } from '$lib/units/units.svelte';

  /** The boats, each by its outline, and what is across all of them; in the side bar and in the phone's drawer. */
  let { onpick }: { onpick?: () => void } = $props();

  const ACROSS = $derived([
    ['/logbook', 'Logbook'],
    ['/shelf', 'Shelf'],
    ['/ponds', 'Ponds'],
    ['/measure', 'Measure'],
    ...(account.seen.name ? [['/club', 'Club'] as const] : []),
    ['/settings', 'Settings'],
    ['/bin', 'Bin and archive'],
  ] as const);
  const row = 'border-s-4 px-4 text-ink no-underline hover:bg-paper';
  const word = 'flex min-h-[calc(var(--target)*1.1)] items-center font-medium';
</script>

<SidebarGroup class="m-0 list-none p-0">
  {#each boathouse.boats as boat (boat.id)}
    <SidebarItem
      href={pathTo(here.mark ?? 'match', boat.setup_id)}
      label={boat.name}
      active={boat.id === here.boatId}
      onclick={onpick}
      spanClass="mt-1 font-semibold"
      class="border-t border-hair"
      activeClass={`grid py-2.5 bg-paper border-water ${row}`}
      nonActiveClass={`grid py-2.5 border-transparent ${row}`}
    >
      {#snippet icon()}<BoatOutline type={boat.hull_type} lengthM={boat.length_m} wide={116} />{/snippet}
      {#snippet subtext()}
        <span class="text-[0.82rem] text-ink-2 font-stretch-[80%]">
          {boat.hull_type}
          {#if boat.best_mps}· best {units.text(boat.best_mps, 'speed', 0)}{:else}· not run yet{/if}
        </span>
      {/snippet}
    </SidebarItem>
  {/each}
  {#if boathouse.state === 'loading'}<li class="px-4 py-3 text-[0.82rem] text-ink-2">Loading boats…</li>{/if}
  {#if !account.share && !account.guest}
    <SidebarItem
      href="/new"
      label="New boat"
      active={false}
      onclick={onpick}
      spanClass=""
      class="border-t border-hair"
      nonActiveClass={`${word} border-transparent ${row} text-water!`}
    />
  {/if}
</SidebarGroup>
<SidebarGroup class="m-0 mt-auto list-none border-t border-ink p-0">
  {#each ACROSS as [href, label] (href)}
    <SidebarItem
      {href}
      {label}
      active={here.pathname === href}
      onclick={onpick}
      spanClass=""
      activeClass={`${word} border-water bg-paper ${row}`}
      nonActiveClass={`${word} border-transparent ${row}`}
    />
  {/each}
</SidebarGroup>
