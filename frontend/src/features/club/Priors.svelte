<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import { onMount } from 'svelte';

  import { api, ask, askNothing, type Priors } from '$lib/api/client';
  import { account } from '$lib/state/account.svelte';
  import { toasts } from '$lib/state/toasts.svelte';
  import { Tried } from '$lib/state/tried.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from '$lib/ui/table';
  import { moment } from '$lib/units/day';

  /** What the club's boats have in common: who shares, what leaves an account, and how to stop. */
  let seen = $state.raw<Priors | undefined>();
  let busy = $state(false);
  const asked = new Tried();
  const guest = $derived(account.seen.role === 'guest');

  onMount(() => void after(async () => {}));
  async function after(what: () => Promise<unknown>, said = ''): Promise<void> {
    busy = true;
    await asked.run(async () => {
      await what();
      seen = await ask(api.GET('/api/club/priors'));
      if (said) toasts.say(said);
    });
    busy = false;
  }
  const agree = (): Promise<void> =>
    after(() => askNothing(api.POST('/api/club/priors')), "Shared. Your boats now help everybody's first forecast.");
  const stop = (): Promise<void> =>
    after(
      () => askNothing(api.DELETE('/api/club/priors')),
      "Stopped. Your boats no longer count in others' forecasts.",
    );
  const recalculate = (): Promise<void> =>
    after(() => ask(api.POST('/api/club/priors/anew')), 'Recalculated from all runs up to now.');
</script>

<section>
  <h2 class="mb-1">What boats here have in common</h2>
  {#if asked.problem}<Notice kind="problem">{asked.problem.message}</Notice>{/if}
  <p class="m-0 max-w-[62ch]">
    If the runs of several racers agree about a kind of hull, motor or propeller, everybody's first forecast starts from
    that instead of a general guess. It is closer, and its band is narrower.
  </p>
  {#if seen}
    {#if guest}
      <p class="quiet">Guests have no boats to share.</p>
    {:else if seen.agreed_at}
      <p class="max-w-[62ch]">
        You have shared this since {moment(seen.agreed_at)}{seen.told.length
          ? `: ${seen.told.join('; ')}.`
          : '. Your boats have no runs yet.'}
      </p>
      <Button color="alternative" disabled={busy} onclick={stop}>Stop sharing</Button>
    {:else}
      <div class="my-3 max-w-[62ch] border-s-3 border-ink ps-4">
        <p class="m-0">
          <b>If you share, this leaves your account:</b> for each kind of hull and part you run, how far its numbers are from
          the general guess, and how certain that is. No runs, dates, places, names, setups or parts.
        </p>
        <p class="mt-1.5 mb-0">
          A kind counts once {seen.least} racers share it. You can stop at any time; your share is then removed at once.
        </p>
      </div>
      <Button disabled={busy} onclick={agree}>Share what my boats show</Button>
    {/if}
    {#if seen.families.length}
      <Table class="mt-4 max-w-160">
        <TableHead
          ><TableHeadCell>Kind</TableHeadCell><TableHeadCell>Racers sharing</TableHeadCell><TableHeadCell
            >Used in forecasts</TableHeadCell
          ></TableHead
        >
        <TableBody>
          {#each seen.families as family (family.words)}
            <TableBodyRow>
              <TableBodyCell><b>{family.words}</b></TableBodyCell>
              <TableBodyCell>{family.racers}</TableBodyCell>
              <TableBodyCell>{family.used ? 'yes' : `needs ${seen.least} racers`}</TableBodyCell>
            </TableBodyRow>
          {/each}
        </TableBody>
      </Table>
    {/if}
    {#if account.keeper && seen.racers}
      <p class="mt-3 mb-0 flex flex-wrap items-baseline gap-x-3">
        <Button color="alternative" disabled={busy} onclick={recalculate}>{busy ? 'Working…' : 'Recalculate'}</Button>
        <span class="quiet">
          Adds all runs since{seen.made_at ? ` ${moment(seen.made_at)}` : ' then'}, for everybody who shares.
        </span>
      </p>
    {/if}
  {/if}
</section>
