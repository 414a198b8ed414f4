<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import { api, ask, askNothing, type ClassRule, type Club } from '$lib/api/client';
  import { account } from '$lib/state/account.svelte';
  import Entry from '$lib/ui/Entry.svelte';
  import { Tried } from '$lib/state/tried.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import { link } from '$lib/ui/theme';
  import { units } from '$lib/units/units.svelte';

  import { fields, said } from './classes';

  /** What the club's classes allow; keepers write them. */
  let { classes, changed }: { classes: Club['classes']; changed: () => Promise<void> } = $props();
  let name = $state('');
  let typed = $state<Record<string, string>>({});
  let open = $state(false);
  const asked = new Tried();
  const problem = $derived(asked.problem);
  const shown = $derived(fields(units));

  function edit(of?: Club['classes'][number]): void {
    open = true;
    asked.problem = undefined;
    name = of?.name ?? '';
    typed = Object.fromEntries(
      shown.map((f) => [f.key, of?.rule[f.key] == null ? '' : f.text(of.rule[f.key] as number)]),
    );
  }
  async function tried(what: () => Promise<unknown>): Promise<void> {
    if (!(await asked.run(what))) return;
    open = false;
    await changed();
  }
  function keep(event: SubmitEvent): void {
    event.preventDefault();
    const body: ClassRule = Object.fromEntries(
      shown.filter((f) => typed[f.key]?.trim()).map((f) => [f.key, f.si(typed[f.key] ?? '')]),
    );
    void tried(() => ask(api.PUT('/api/club/classes/{name}', { params: { path: { name: name.trim() } }, body })));
  }
  const forget = (gone: string): Promise<void> =>
    tried(() => askNothing(api.DELETE('/api/club/classes/{name}', { params: { path: { name: gone } } })));
</script>

<section>
  <h2 class="mb-1">Classes</h2>
  {#if problem && !problem.field}<Notice kind="problem">{problem.message}</Notice>{/if}
  {#each classes as one (one.name)}
    <p class="m-0 flex flex-wrap items-baseline gap-x-4 border-t border-hair py-1.5 last:border-b">
      <b class="min-w-40">{one.name}</b>
      <span class="flex-1">{said(one.rule, units)}</span>
      {#if account.keeper}
        <Button class={link} onclick={() => edit(one)}>Change</Button>
        <Button class={link} onclick={() => forget(one.name)}>Take away</Button>
      {/if}
    </p>
  {:else}
    <p class="quiet m-0">
      None yet. {account.keeper ? '' : 'A keeper writes them. '}A boat's class is chosen on Aim; then no change is
      proposed that the class forbids.
    </p>
  {/each}
  {#if account.keeper}
    {#if open}
      <form class="mt-3 max-w-160" onsubmit={keep}>
        <Entry
          label="Class"
          wide
          required
          value={name}
          error={problem?.field === 'name' ? problem.message : undefined}
          oninput={(t) => (name = t)}
        />
        <div class="grid grid-cols-2 gap-x-6 md:grid-cols-3">
          {#each shown as field (field.key)}
            <Entry
              label={field.label}
              unit={field.unit}
              estimated={false}
              empty="free"
              value={typed[field.key] ?? ''}
              error={problem?.field === field.key ? problem.message : undefined}
              oninput={(t) => (typed[field.key] = t)}
            />
          {/each}
        </div>
        <div class="flex gap-5">
          <Button type="submit" disabled={!name.trim()}>Keep the class</Button>
          <Button class={link} onclick={() => (open = false)}>Cancel</Button>
        </div>
      </form>
    {:else}
      <Button color="alternative" class="mt-3" onclick={() => edit()}>New class</Button>
    {/if}
  {/if}
</section>
