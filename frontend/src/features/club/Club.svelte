<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import Select from 'flowbite-svelte/Select.svelte';
  import { onMount } from 'svelte';

  import { api, ask, askNothing, type Club, type Member } from '$lib/api/client';
  import { account } from '$lib/state/account.svelte';
  import { Tried } from '$lib/state/tried.svelte';
  import { toasts } from '$lib/state/toasts.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from '$lib/ui/table';
  import { link } from '$lib/ui/theme';
  import { moment } from '$lib/units/day';

  import Classes from './Classes.svelte';
  import Priors from './Priors.svelte';

  /** The club: boats that others show, its shelf and ponds, its classes, who is in it. */
  let club = $state.raw<Club | undefined>();
  const asked = new Tried();
  const problem = $derived(asked.problem);
  let role = $state<Member['role']>('racer');
  let invited = $state('');

  onMount(() => void load());
  async function load(): Promise<void> {
    await tried(async () => {
      club = await ask(api.GET('/api/club'));
    });
  }
  const tried = (what: () => Promise<unknown>): Promise<boolean> => asked.run(what);
  const invite = (): Promise<boolean> =>
    tried(async () => {
      const made = await ask(api.POST('/api/club/invitations', { body: { role } }));
      invited = `${location.origin}${made.path}`;
    });
  const change = (
    member: Member,
    body: { role?: Member['role']; disabled?: boolean },
    said: string,
  ): Promise<boolean> =>
    tried(async () => {
      const path = { member_id: member.id };
      await askNothing(api.PATCH('/api/club/members/{member_id}', { params: { path }, body }));
      toasts.say(said);
      club = await ask(api.GET('/api/club'));
    });
</script>

<svelte:head><title>Club · Kunstflug</title></svelte:head>

<h1>Club</h1>
{#if problem}<Notice kind="problem">{problem.message}</Notice>{/if}
{#if club}
  <div class="mt-3 grid max-w-256 gap-8">
    <section>
      <h2 class="mb-1">Boats that others show you</h2>
      {#each club.shared as boat (boat.share_id)}
        <p class="m-0 flex flex-wrap items-baseline gap-x-4 border-t border-hair py-1.5 last:border-b">
          <b class="min-w-40">{boat.boat}</b>
          <span class="min-w-40 text-ink-2">{boat.owner}{boat.together ? ', together' : ''}</span>
          <Button class={link} onclick={() => account.open('/', String(boat.share_id))}>Open {boat.boat}</Button>
        </p>
      {:else}
        <p class="quiet m-0">
          None yet. Whoever wants to show you a boat opens it, then Manage, and shares it with
          <b>{account.seen.name}</b>.
        </p>
      {/each}
    </section>
    <section>
      <h2 class="mb-1">The club's own</h2>
      <p class="m-0 max-w-[62ch]">
        Parts that anybody may use, and the ponds with their shores and their water through the year.
        <Button class={link} onclick={() => account.open('/shelf', 'club')}>Open the club's shelf</Button>
        <Button class={link} onclick={() => account.open('/ponds', 'club')}>Open the club's ponds</Button>
      </p>
    </section>
    <Classes classes={club.classes} changed={load} />
    <Priors />
    <section>
      <h2 class="mb-1">Members</h2>
      <Table>
        <TableHead
          ><TableHeadCell>Name</TableHeadCell><TableHeadCell>Role</TableHeadCell>{#if account.keeper}<TableHeadCell
              >Last seen</TableHeadCell
            ><TableHeadCell><span class="sr-only">Change</span></TableHeadCell>{/if}</TableHead
        >
        <TableBody>
          {#each club.members as member (member.id)}
            <TableBodyRow>
              <TableBodyCell><b class={member.disabled ? 'text-ghost' : ''}>{member.name}</b></TableBodyCell>
              <TableBodyCell>
                {#if account.keeper && member.name !== account.seen.name}
                  <Select
                    placeholder=""
                    aria-label="What {member.name} may"
                    value={member.role}
                    onchange={(e) => {
                      const to = e.currentTarget.value as Member['role'];
                      void change(member, { role: to }, `${member.name} is a ${to} now.`);
                    }}
                  >
                    <option value="keeper">keeper</option><option value="racer">racer</option><option value="guest"
                      >guest</option
                    >
                  </Select>
                {:else}{member.role}{/if}
              </TableBodyCell>
              {#if account.keeper}
                <TableBodyCell>{member.seen_at ? moment(member.seen_at) : '–'}</TableBodyCell>
                <TableBodyCell>
                  {#if member.name !== account.seen.name}
                    <Button
                      color="alternative"
                      onclick={() =>
                        change(
                          member,
                          { disabled: !member.disabled },
                          `${member.name}'s account is ${member.disabled ? 'open again' : 'closed'}.`,
                        )}>{member.disabled ? 'Open again' : 'Close'}</Button
                    >
                  {/if}
                </TableBodyCell>
              {/if}
            </TableBodyRow>
          {/each}
        </TableBody>
      </Table>
      {#if account.keeper}
        <div class="mt-3 flex flex-wrap items-baseline gap-2.5">
          <Button color="alternative" onclick={invite}>Invite a</Button>
          <Select placeholder="" aria-label="Invited as" bind:value={role}>
            <option value="racer">racer</option><option value="guest">guest, who looks only</option><option
              value="keeper">keeper</option
            >
          </Select>
        </div>
        {#if invited}
          <Notice>
            Send this link to whom you invite. It makes one account, within a week, and is shown only now:
            <code class="block py-1 break-all select-all" data-testid="invitation">{invited}</code>
          </Notice>
        {/if}
      {/if}
    </section>
  </div>
{/if}
