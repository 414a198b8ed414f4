<script lang="ts">
  import Modal from 'flowbite-svelte/Modal.svelte';
  import { untrack } from 'svelte';

  import { api, ask, type SetupItem } from '$lib/api/client';
  import { allPages } from '$lib/api/pages';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { manage } from '$lib/state/manage.svelte';
  import Notice from '$lib/ui/Notice.svelte';

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
  class="sheet-modal"
>
  {#if subject && boat}
    {#if manage.problem}<Notice kind="problem">{manage.problem}</Notice>{/if}
    <section>
      <h3>Boat</h3>
      <form
        onsubmit={(e) => {
          e.preventDefault();
          void manage.renameBoat(boat.id, boatName);
        }}
      >
        <label class="field"><span>Name</span><input bind:value={boatName} maxlength="120" required /></label>
        <button class="plain">Rename boat</button>
      </form>
      <div class="row">
        <button class="plain" onclick={() => manage.archive(boat.id)}>Archive boat</button>
        <button class="plain" onclick={() => manage.binBoat(boat.id)}>Move boat to bin</button>
      </div>
    </section>
    <section>
      <h3>Setup</h3>
      <form
        onsubmit={(e) => {
          e.preventDefault();
          void manage.renameSetup(subject.setup, setupName);
        }}
      >
        <label class="field"><span>Name</span><input bind:value={setupName} maxlength="120" required /></label>
        <button class="plain">Rename setup</button>
      </form>
      {#if boat.setups > 1}
        <div class="row">
          <button class="plain" onclick={() => manage.binSetup(subject.setup)}>Move setup to bin</button>
          <span class="quiet">Its runs go with it.</span>
        </div>
      {/if}
    </section>
    {@const run = subject.run()}
    {#if run}
      <section>
        <h3>Run</h3>
        {#if setups.length > 1}
          <label class="field"
            ><span>Belongs to setup</span>
            <select
              value={String(run.setup_id)}
              onchange={(e) => void manage.moveRun(run, Number(e.currentTarget.value))}
            >
              {#each setups as one, k (one.id)}<option value={String(one.id)}>{k + 1} · {one.name}</option>{/each}
            </select></label
          >
        {/if}
        <div class="row">
          <button class="plain" onclick={() => manage.binRun(run)}>Move run to bin</button>
          {#if run.log}<button class="plain" onclick={() => manage.binLog(run)}>Move its controller log to bin</button
            >{/if}
        </div>
      </section>
    {/if}
  {/if}
</Modal>

<style>
  section + section {
    border-top: 1px solid var(--hair);
    margin-top: 1rem;
    padding-top: 0.8rem;
  }
  h3 {
    margin: 0 0 0.4rem;
  }
  form,
  .row {
    display: flex;
    flex-wrap: wrap;
    align-items: end;
    gap: 0.6rem;
    margin-bottom: 0.6rem;
  }
  .row {
    align-items: center;
  }
  .field {
    display: grid;
    flex: 1 1 14rem;
  }
  .field span {
    font-size: 0.86rem;
    color: var(--ink-2);
  }
  .field input {
    min-height: var(--target);
    border: 0;
    border-bottom: 1px solid var(--ink);
    background: transparent;
    color: var(--ink);
  }
</style>
