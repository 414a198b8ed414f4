<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';

  import { api, ask, type Problem } from '$lib/api/client';
  import { account } from '$lib/state/account.svelte';
  import { here } from '$lib/state/here.svelte';
  import { toasts } from '$lib/state/toasts.svelte';

  /** Says whose boat this is, where it is not one's own, and how it becomes that. */
  async function takeOver(setupId: number): Promise<void> {
    try {
      const path = { setup_id: setupId };
      await ask(api.POST('/api/account/takeover/{setup_id}', { params: { path } }));
      account.open('/');
    } catch (error) {
      toasts.say((error as Problem).message);
    }
  }
</script>

{#if account.seen.sees}
  <div
    class="flex flex-wrap items-baseline gap-x-5 gap-y-1 border-b border-ink bg-sheet px-6 py-1.5 max-md:px-3 print:hidden"
    data-testid="share"
    role="status"
  >
    <span>
      {#if account.share === 'club'}<b>This is the club's</b>{account.seen.writes
          ? '; you keep it'
          : '. Take from it what you use'}
      {:else}<b>This is {account.seen.sees}'s boat</b>{account.seen.writes
          ? '; you work on it together'
          : '. You can look at everything; nothing is saved'}{/if}
    </span>
    {#if account.seen.name && !account.guest && here.setupId && account.share !== 'club'}
      {@const setup = here.setupId}
      <Button color="alternative" onclick={() => takeOver(setup)}>Make this setup my own boat</Button>
    {/if}
    <Button color="alternative" onclick={() => account.open('/')}
      >{account.seen.name ? 'Back to my boats' : 'Sign in'}</Button
    >
  </div>
{/if}
