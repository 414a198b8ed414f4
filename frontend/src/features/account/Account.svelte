<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import { onMount } from 'svelte';

  import { api, ask, askNothing, type Security } from '$lib/api/client';
  import { link } from '$lib/offline/link.svelte';
  import { account } from '$lib/state/account.svelte';
  import { Tried } from '$lib/state/tried.svelte';
  import { toasts } from '$lib/state/toasts.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from '$lib/ui/table';
  import { link as plain } from '$lib/ui/theme';
  import { grouped } from '$lib/units/units.svelte';
  import { moment } from '$lib/units/day';

  import Codes from './Codes.svelte';
  import { hasPasskeys, makePasskey } from './passkey';
  import Secret from './Secret.svelte';

  /** One's own account: where it is signed in, password, passkeys, recovery codes, what was done with it, its end. */
  type Form = 'password' | 'codes' | 'passkey' | 'take off' | 'delete' | 'sign out';
  const SAYS: Record<Form, string> = {
    password: 'Change it',
    codes: 'Make new codes',
    passkey: 'Add the passkey',
    'take off': 'Take it off',
    delete: 'Delete everything',
    'sign out': 'Sign out',
  };
  const DONE: Partial<Record<Form, string>> = {
    password: 'Your password is changed; other browsers are signed out.',
    passkey: 'This device signs you in from now on.',
    'take off': 'The passkey signs in no more.',
  };
  let seen = $state.raw<Security | undefined>();
  const asked = new Tried();
  const problem = $derived(asked.problem);
  let form = $state<Form | undefined>();
  let old = $state('');
  let fresh = $state('');
  let codes = $state.raw<string[] | undefined>();
  let key = $state(0);

  const megabytes = (bytes: number): string => grouped(bytes / 1e6, 0);

  onMount(() => void load());
  async function load(): Promise<void> {
    await tried(async () => {
      seen = await ask(api.GET('/api/account/security'));
    });
  }
  const tried = (what: () => Promise<unknown>): Promise<boolean> => asked.run(what);
  function turn(to: Form | undefined): void {
    form = form === to ? undefined : to;
    old = fresh = '';
    asked.problem = undefined;
  }
  const changes = (what: () => Promise<void>, said: string): Promise<boolean> =>
    tried(async () => {
      await what();
      if (said) toasts.say(said);
      seen = await ask(api.GET('/api/account/security'));
    });
  /** What was typed without network goes in first; what cannot waits here, and that is said. */
  async function leave(): Promise<void> {
    await link.flush();
    if (link.waiting.length && form !== 'sign out') turn('sign out');
    else await tried(() => account.signOut());
  }
  function submit(event: SubmitEvent): void {
    event.preventDefault();
    if (form === 'sign out') {
      void leave();
      return;
    }
    void changes(
      async () => {
        if (form === 'password') await askNothing(api.PUT('/api/account/password', { body: { old, new: fresh } }));
        else if (form === 'codes')
          codes = (await ask(api.POST('/api/account/codes', { body: { password: old } }))).recovery_codes;
        else if (form === 'passkey') await makePasskey(old);
        else if (form === 'take off') await dropPasskey(key, old);
        else {
          await askNothing(api.POST('/api/account/delete', { body: { password: old } }));
          account.open('/');
        }
        turn(undefined);
      },
      (form && DONE[form]) ?? '',
    );
  }
  const signOutThere = (id: number, name: string): Promise<boolean> =>
    changes(
      () => askNothing(api.DELETE('/api/account/logins/{login_id}', { params: { path: { login_id: id } } })),
      `${name} is signed out.`,
    );
  const dropPasskey = (passkey_id: number, password: string): Promise<void> =>
    askNothing(
      api.POST('/api/account/passkeys/{passkey_id}/forget', { params: { path: { passkey_id } }, body: { password } }),
    );
</script>

<section>
  <h2 class="mb-1">Your account</h2>
  {#if problem && !problem.field}<Notice kind="problem">{problem.message}</Notice>{/if}
  {#if codes}
    <Codes {codes} done={() => (codes = undefined)} />
  {:else if seen}
    <p class="max-w-[62ch]">
      Signed in as <b>{account.seen.name}</b>, {account.seen.role} of the club.
      {seen.codes_left === 0
        ? 'You have no recovery code left: make new ones.'
        : `${seen.codes_left} recovery codes are left.`}
      {#if seen.room}Tracks, logs and pictures take {megabytes(seen.room_taken)} of {megabytes(seen.room)} MB.{/if}
    </p>
    <div class="mb-3 flex flex-wrap gap-2.5">
      <Button onclick={leave}>Sign out</Button>
      <Button color="alternative" aria-expanded={form === 'password'} onclick={() => turn('password')}
        >Change password</Button
      >
      <Button color="alternative" aria-expanded={form === 'codes'} onclick={() => turn('codes')}
        >New recovery codes</Button
      >
      {#if hasPasskeys()}
        <Button color="alternative" aria-expanded={form === 'passkey'} onclick={() => turn('passkey')}
          >Add a passkey</Button
        >
      {/if}
      <Button color="alternative" aria-expanded={form === 'delete'} onclick={() => turn('delete')}
        >Delete account…</Button
      >
    </div>
    {#if form}
      <form class="mb-4 max-w-96 border-s-3 border-ink ps-4" onsubmit={submit}>
        {#if form === 'delete'}
          <p class="mt-0">
            Deletes your boats, runs, parts and everything else that is yours, at once and for good. <a
              href="/api/export.zip"
              download>Export everything</a
            > first.
          </p>
        {/if}
        {#if form === 'sign out'}
          <p class="mt-0" role="status">
            {link.waiting.length === 1 ? 'One thing' : `${link.waiting.length} things`} that you typed here could not be sent
            yet. Signed out, it waits in this browser until you sign in here again.
          </p>
        {:else}
          <Secret
            label={form === 'password' ? 'Old password' : 'Your password'}
            autocomplete="current-password"
            bind:value={old}
          />
        {/if}
        {#if form === 'password'}
          <Secret
            label="New password"
            autocomplete="new-password"
            bind:value={fresh}
            help="At least 12 characters."
            error={problem?.field === 'password' ? problem.message : ''}
          />
        {/if}
        <div class="flex gap-5">
          <Button type="submit" color={form === 'delete' ? 'red' : 'primary'}>{SAYS[form]}</Button>
          <Button class={plain} onclick={() => turn(undefined)}>Cancel</Button>
        </div>
      </form>
    {/if}
    <Table>
      <TableHead
        ><TableHeadCell>Signed in on</TableHeadCell><TableHeadCell>Since</TableHeadCell><TableHeadCell
          >Last seen</TableHeadCell
        ><TableHeadCell><span class="sr-only">Sign out</span></TableHeadCell></TableHead
      >
      <TableBody>
        {#each seen.logins as one (one.id)}
          <TableBodyRow>
            <TableBodyCell><b>{one.name}</b></TableBodyCell>
            <TableBodyCell>{moment(one.signed_in_at)}</TableBodyCell>
            <TableBodyCell>{moment(one.seen_at)}</TableBodyCell>
            <TableBodyCell>
              {#if one.this}this browser{:else}<Button
                  color="alternative"
                  onclick={() => signOutThere(one.id, one.name)}>Sign out there</Button
                >{/if}
            </TableBodyCell>
          </TableBodyRow>
        {/each}
        {#each seen.passkeys as one (one.id)}
          <TableBodyRow>
            <TableBodyCell>Passkey of <b>{one.name}</b></TableBodyCell>
            <TableBodyCell>{moment(one.made_at)}</TableBodyCell>
            <TableBodyCell>–</TableBodyCell>
            <TableBodyCell
              ><Button
                color="alternative"
                onclick={() => {
                  key = one.id;
                  turn('take off');
                }}>Take off</Button
              ></TableBodyCell
            >
          </TableBodyRow>
        {/each}
      </TableBody>
    </Table>
    <details class="mt-3">
      <summary class="cursor-pointer py-1">What was done with this account</summary>
      <ul class="m-0 mt-1 list-none p-0 text-[0.9rem]">
        {#each seen.entries as entry, k (k)}
          <li class="border-t border-hair py-1">
            <span class="text-ink-2">{moment(entry.at)}</span>
            {entry.what}{entry.words ? `: ${entry.words}` : ''}{entry.address ? `, from ${entry.address}` : ''}
          </li>
        {/each}
      </ul>
    </details>
  {/if}
</section>
