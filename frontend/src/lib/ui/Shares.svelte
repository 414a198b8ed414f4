<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Input from 'flowbite-svelte/Input.svelte';
  import Label from 'flowbite-svelte/Label.svelte';
  import Select from 'flowbite-svelte/Select.svelte';

  import { api, ask, askNothing, type Share } from '$lib/api/client';
  import { Tried } from '$lib/state/tried.svelte';
  import Notice from '$lib/ui/Notice.svelte';

  /** With whom a boat is shared: racers by name, and links. */
  let { boatId }: { boatId: number } = $props();
  let shares = $state.raw<Share[]>([]);
  let name = $state('');
  let how = $state('look');
  let made = $state('');
  const asked = new Tried();
  const problem = $derived(asked.problem);

  // Reaches outside: another boat, other shares.
  $effect(() => void load(boatId));
  const path = $derived({ boat_id: boatId });
  async function load(id: number): Promise<void> {
    await tried(async () => {
      shares = await ask(api.GET('/api/boats/{boat_id}/shares', { params: { path: { boat_id: id } } }));
    });
  }
  const tried = (what: () => Promise<unknown>): Promise<boolean> => asked.run(what);
  const share = (body: { with_name?: string; together: boolean }): Promise<boolean> =>
    tried(async () => {
      const one = await ask(api.POST('/api/boats/{boat_id}/shares', { params: { path }, body }));
      made = one.path ? `${location.origin}${one.path}` : '';
      name = '';
      shares = [...shares, one];
    });
  const back = (id: number): Promise<boolean> =>
    tried(async () => {
      await askNothing(api.DELETE('/api/shares/{share_id}', { params: { path: { share_id: id } } }));
      shares = shares.filter((one) => one.id !== id);
      made = '';
    });
</script>

{#if problem}<Notice kind="problem">{problem.message}</Notice>{/if}
{#each shares as one (one.id)}
  <p class="m-0 flex flex-wrap items-baseline gap-x-4 border-t border-hair py-1">
    <span class="flex-1"
      >{one.with_name
        ? `${one.with_name}, ${one.together ? 'together' : 'to look at'}`
        : 'Whoever has the link, to look at'}</span
    >
    <Button color="alternative" onclick={() => back(one.id)}>Take back</Button>
  </p>
{:else}
  <p class="quiet m-0 mb-2">Only you see this boat.</p>
{/each}
<form
  class="mt-2 mb-2.5 flex flex-wrap items-end gap-2.5"
  onsubmit={(e) => {
    e.preventDefault();
    void share({ with_name: name.trim(), together: how === 'together' });
  }}
>
  <Label class="grid flex-[1_1_10rem]"
    ><span>Racer of the club</span><Input bind:value={name} maxlength={40} required /></Label
  >
  <Select placeholder="" aria-label="What they may" bind:value={how}>
    <option value="look">to look at</option><option value="together">to work on together</option>
  </Select>
  <Button type="submit" color="alternative">Share</Button>
</form>
<Button color="alternative" onclick={() => share({ together: false })}>Make a link to look at</Button>
{#if made}
  <p class="m-0 mt-2" role="status">
    Shown only now: <code class="block py-1 break-all select-all" data-testid="share-link">{made}</code>
  </p>
{/if}
