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

  /** What the club's boats have in common: who teaches it, what leaves an account for it, and the way back. */
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
    after(() => askNothing(api.POST('/api/club/priors')), 'Your boats teach the club from now on.');
  const takeBack = (): Promise<void> =>
    after(() => askNothing(api.DELETE('/api/club/priors')), 'Taken back. The club knows only what the others taught.');
  const anew = (): Promise<void> =>
    after(() => ask(api.POST('/api/club/priors/anew')), 'Worked out anew, with all runs since.');
</script>

<section>
  <h2 class="mb-1">What boats here have in common</h2>
  {#if asked.problem}<Notice kind="problem">{asked.problem.message}</Notice>{/if}
  <p class="m-0 max-w-[62ch]">
    Where runs of many racers say the same of a kind of hull, motor or propeller, everybody's first forecast starts from
    that instead of a general guess: nearer, and with a narrower band.
  </p>
  {#if seen}
    {#if guest}
      <p class="quiet">Guests have no boats that could teach it.</p>
    {:else if seen.agreed_at}
      <p class="max-w-[62ch]">
        Your boats have taught it since {moment(seen.agreed_at)}{seen.told.length
          ? `: ${seen.told.join('; ')}.`
          : '. None of them has run yet.'}
      </p>
      <Button color="alternative" disabled={busy} onclick={takeBack}>Take it back</Button>
    {:else}
      <div class="my-3 max-w-[62ch] border-s-3 border-ink ps-4">
        <p class="m-0">
          <b>What leaves your account, if you agree:</b> for each kind of thing that you run, how far its numbers lie from
          the general guess, and how sure that is. No run, no date, no place, no name, no setup, no part.
        </p>
        <p class="mt-1.5 mb-0">
          A kind that fewer than {seen.least} racers teach counts for nobody. You can take it back whenever you like; from
          then on it is as if you had never been there.
        </p>
      </div>
      <Button disabled={busy} onclick={agree}>Let my boats teach it</Button>
    {/if}
    {#if seen.families.length}
      <Table class="mt-4 max-w-160">
        <TableHead
          ><TableHeadCell>Kind</TableHeadCell><TableHeadCell>Racers who teach it</TableHeadCell><TableHeadCell
            >Counts in forecasts</TableHeadCell
          ></TableHead
        >
        <TableBody>
          {#each seen.families as family (family.words)}
            <TableBodyRow>
              <TableBodyCell><b>{family.words}</b></TableBodyCell>
              <TableBodyCell>{family.racers}</TableBodyCell>
              <TableBodyCell>{family.used ? 'yes' : `from ${seen.least} racers on`}</TableBodyCell>
            </TableBodyRow>
          {/each}
        </TableBody>
      </Table>
    {/if}
    {#if account.keeper && seen.racers}
      <p class="mt-3 mb-0 flex flex-wrap items-baseline gap-x-3">
        <Button color="alternative" disabled={busy} onclick={anew}>{busy ? 'Working…' : 'Work out anew'}</Button>
        <span class="quiet">
          Takes in all runs since{seen.made_at ? ` ${moment(seen.made_at)}` : ' then'}. Until then each racer's part
          stays as it was.
        </span>
      </p>
    {/if}
  {/if}
</section>
