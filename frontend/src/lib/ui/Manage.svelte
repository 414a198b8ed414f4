<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Input from 'flowbite-svelte/Input.svelte';
  import Label from 'flowbite-svelte/Label.svelte';
  import Modal from 'flowbite-svelte/Modal.svelte';
  import Select from 'flowbite-svelte/Select.svelte';
  import { untrack } from 'svelte';

  import { api, ask, type SetupItem } from '$lib/api/client';
  import { allPages } from '$lib/api/pages';
  import { account } from '$lib/state/account.svelte';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { manage } from '$lib/state/manage.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import Shares from '$lib/ui/Shares.svelte';

  const subject = $derived(manage.subject);
  const boat = $derived(boathouse.boats.find((b) => b.id === subject?.setup.boat_id));
  let boatName = $state('');
  let setupName = $state('');
  let setups = $state.raw<SetupItem[]>([]);

  // Reaches outside: an opened dialog asks for the setups that a run could belong to.
  $effect(() => {
    if (!subject) return;
    boatName = untrack(() => boat?.name ?? ''); // another name in the boathouse must not undo what is typed
    setupName = subject.setup.name;
    const boatId = subject.setup.boat_id;
    void allPages((after) =>
      ask(
        api.GET('/api/boats/{boat_id}/setups', {
          params: { path: { boat_id: boatId }, query: { after: Number(after ?? 0) } },
        }),
      ),
    )
      .then((found) => (setups = found))
      .catch(() => (setups = []));
  });
</script>

<Modal
  open={subject !== undefined}
  onclose={() => manage.close()}
  title="Manage boat, setup and run"
  aria-label="Manage boat, setup and run"
  size="md"
>
  {#if subject && boat}
    {#if manage.problem}<Notice kind="problem">{manage.problem}</Notice>{/if}
    <section class="border-t border-hair pt-3 first:border-0 first:pt-0">
      <h3 class="m-0 mb-1.5">Boat</h3>
      <form
        class="mb-2.5 flex flex-wrap items-end gap-2.5"
        onsubmit={(e) => {
          e.preventDefault();
          void manage.renameBoat(boat.id, boatName);
        }}
      >
        <Label class="grid flex-[1_1_14rem]"
          ><span>Name</span><Input bind:value={boatName} maxlength={120} required /></Label
        >
        <Button type="submit" color="alternative">Rename boat</Button>
      </form>
      <div class="mb-2.5 flex flex-wrap items-center gap-2.5">
        <Button color="alternative" onclick={() => manage.archive(boat.id)}>Archive boat</Button>
        <Button color="alternative" onclick={() => manage.binBoat(boat.id)}>Move boat to bin</Button>
      </div>
    </section>
    {#if account.seen.name && !account.share}
      <section class="border-t border-hair pt-3">
        <h3 class="m-0 mb-1.5">Shared with</h3>
        <Shares boatId={boat.id} />
      </section>
    {/if}
    <section class="border-t border-hair pt-3 first:border-0 first:pt-0">
      <h3 class="m-0 mb-1.5">Setup</h3>
      <form
        class="mb-2.5 flex flex-wrap items-end gap-2.5"
        onsubmit={(e) => {
          e.preventDefault();
          void manage.renameSetup(subject.setup, setupName);
        }}
      >
        <Label class="grid flex-[1_1_14rem]"
          ><span>Name</span><Input bind:value={setupName} maxlength={120} required /></Label
        >
        <Button type="submit" color="alternative">Rename setup</Button>
      </form>
      {#if boat.setups > 1}
        <div class="mb-2.5 flex flex-wrap items-center gap-2.5">
          <Button color="alternative" onclick={() => manage.binSetup(subject.setup)}>Move setup to bin</Button>
          <span class="quiet">Its runs go with it.</span>
        </div>
      {/if}
    </section>
    {@const run = subject.run()}
    {#if run}
      <section class="border-t border-hair pt-3 first:border-0 first:pt-0">
        <h3 class="m-0 mb-1.5">Run</h3>
        {#if setups.length > 1}
          <Label class="grid flex-[1_1_14rem]"
            ><span>Belongs to setup</span>
            <Select
              placeholder=""
              value={String(run.setup_id)}
              onchange={(e) => void manage.moveRun(run, Number(e.currentTarget.value))}
            >
              {#each setups as one, k (one.id)}<option value={String(one.id)}>{k + 1} · {one.name}</option>{/each}
            </Select></Label
          >
        {/if}
        <div class="mb-2.5 flex flex-wrap items-center gap-2.5">
          <Button color="alternative" onclick={() => manage.binRun(run)}>Move run to bin</Button>
          {#if run.log}<Button color="alternative" onclick={() => manage.binLog(run)}
              >Move its controller log to bin</Button
            >{/if}
        </div>
      </section>
    {/if}
  {/if}
</Modal>
