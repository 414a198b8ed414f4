<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import { api, ask, askNothing, type Problem, type Security } from '$lib/api/client';
  import Name from '$lib/ui/Name.svelte';
  import { account } from '$lib/state/account.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import { link } from '$lib/ui/theme';
  import { moment } from '$lib/units/day';

  import Codes from './Codes.svelte';
  import { hasPasskeys, signInWithPasskey } from './passkey';
  import Secret from './Secret.svelte';

  /** The way in: signing in, taking up an invitation, a forgotten password. Nothing else is shown to nobody. */
  type Way = 'sign in' | 'join' | 'recover';
  // What a link brings stands behind the #, which no server and no log ever sees.
  const token = location.hash.slice(1);
  let way = $state<Way>(
    location.pathname === '/join' ? 'join' : location.pathname === '/recover' ? 'recover' : 'sign in',
  );
  let name = $state('');
  let password = $state('');
  let code = $state(location.pathname === '/recover' ? token : '');
  let problem = $state.raw<Problem | undefined>();
  let busy = $state(false);
  let codes = $state.raw<string[] | undefined>();
  /** Passkeys that a new password leaves as they are: whoever added one goes on signing in with it. */
  let keys = $state.raw<Security['passkeys']>([]);
  const passkeys = hasPasskeys();
  const TITLES = { 'sign in': 'Sign in', join: 'Join the club', recover: 'Set a new password' };
  const PASSWORD_HELP =
    'At least 12 characters. A few words that do not belong together are easy to keep and hard to guess.';

  async function go(what: () => Promise<void>): Promise<void> {
    busy = true;
    problem = undefined;
    try {
      await what();
    } catch (error) {
      problem = error as Problem;
    } finally {
      busy = false;
    }
  }
  const here = ['/join', '/recover'].includes(location.pathname) ? '/' : location.pathname;
  const inside = (): Promise<void> => account.enter(here);
  function submit(event: SubmitEvent): void {
    event.preventDefault();
    void go(async () => {
      if (way === 'join') {
        codes = (await ask(api.POST('/api/account/join', { body: { token, name, password } }))).recovery_codes;
      } else if (way === 'recover') {
        await askNothing(api.POST('/api/account/recover', { body: { name, code, password } }));
        keys = (await ask(api.GET('/api/account/security'))).passkeys;
        if (!keys.length) await inside();
      } else {
        await askNothing(api.POST('/api/account/sign-in', { body: { name, password } }));
        await inside();
      }
    });
  }
  async function takeOff(): Promise<void> {
    for (const { id: passkey_id } of keys) {
      const params = { path: { passkey_id } };
      await askNothing(api.POST('/api/account/passkeys/{passkey_id}/forget', { params, body: { password } }));
    }
    await inside();
  }
  function turn(to: Way): void {
    way = to;
    problem = undefined;
    password = '';
  }
</script>

<svelte:head><title>{TITLES[way]} · Kunstflug</title></svelte:head>

<main class="mx-auto grid min-h-dvh max-w-112 content-center px-5 py-10">
  <div class="-ms-4"><Name /></div>
  {#if codes}
    <h1 class="mb-3">Your recovery codes</h1>
    <Codes {codes} done={() => go(inside)} />
  {:else if keys.length}
    <h1 class="mb-3">Passkeys still sign in</h1>
    <p class="mb-3">
      Your new password is set, and all browsers are signed out. Whoever has one of these devices still comes in:
    </p>
    <ul class="mb-4 list-none p-0">
      {#each keys as key (key.id)}<li class="border-t border-hair py-1">
          <b>{key.name}</b>, since {moment(key.made_at)}
        </li>{/each}
    </ul>
    {#if problem}<Notice kind="problem">{problem.message}</Notice>{/if}
    <div class="flex flex-wrap items-baseline gap-x-5 gap-y-2">
      <Button disabled={busy} onclick={() => go(takeOff)}>Take them all off</Button>
      <Button class={link} onclick={() => go(inside)}>Keep them: they are mine</Button>
    </div>
  {:else}
    <h1 class="mb-3">{TITLES[way]}</h1>
    {#if way === 'join' && !token}
      <p class="mb-3">
        A club's keeper invites by a link. This address is not a whole one: open the link as you got it.
      </p>
    {/if}
    <form onsubmit={submit}>
      <Secret
        label="Name"
        type="text"
        autocomplete="username"
        bind:value={name}
        help={way === 'join' ? 'How the others of the club know you.' : ''}
        error={problem?.field === 'name' ? problem.message : ''}
      />
      {#if way === 'recover'}
        <Secret label="Recovery code" type="text" autocomplete="one-time-code" bind:value={code} />
      {/if}
      <Secret
        label={way === 'recover' ? 'New password' : 'Password'}
        autocomplete={way === 'sign in' ? 'current-password' : 'new-password'}
        bind:value={password}
        help={way === 'sign in' ? '' : PASSWORD_HELP}
        error={problem?.field === 'password' ? problem.message : ''}
      />
      {#if problem && !problem.field}<Notice kind="problem">{problem.message}</Notice>{/if}
      <div class="mt-4 flex flex-wrap items-baseline gap-x-5 gap-y-2">
        <Button type="submit" disabled={busy || (way === 'join' && !token)}
          >{way === 'sign in' ? 'Sign in' : way === 'join' ? 'Join' : 'Set and sign in'}</Button
        >
        {#if way === 'sign in'}
          {#if passkeys}
            <Button
              class={link}
              onclick={() =>
                go(async () => {
                  await signInWithPasskey();
                  await inside();
                })}>Use a passkey</Button
            >
          {/if}
          <Button class={link} onclick={() => turn('recover')}>Password forgotten</Button>
        {:else}
          <Button class={link} onclick={() => turn('sign in')}>I have an account</Button>
        {/if}
      </div>
    </form>
  {/if}
</main>
