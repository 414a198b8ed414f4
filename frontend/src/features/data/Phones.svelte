<script lang="ts">
  import Button from 'flowbite-svelte/Button.svelte';
  import { onMount } from 'svelte';

  import { api, ask, askNothing, type Network, type Pairing, type Problem } from '$lib/api/client';
  import { toasts } from '$lib/state/toasts.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from '$lib/ui/table';
  import { moment, stopwatch } from '$lib/units/day';

  /** Phones of the local network: paired with a code off this screen, and taken off again. */
  let network = $state.raw<Network | undefined>();
  let pairing = $state.raw<Pairing | undefined>();
  let problem = $state.raw<Problem | undefined>();
  let elsewhere = $state(false);
  let left = $state(0);

  onMount(() => void load());
  async function load(): Promise<void> {
    try {
      network = await ask(api.GET('/api/network'));
      problem = undefined;
    } catch (error) {
      if ((error as Problem).status === 403) elsewhere = true;
      else problem = error as Problem;
    }
  }
  async function pair(): Promise<void> {
    try {
      pairing = await ask(api.POST('/api/pairing'));
      left = pairing.seconds;
    } catch (error) {
      problem = error as Problem;
    }
  }
  // Reaches outside: the clock; and whether the phone has come in meanwhile.
  $effect(() => {
    if (!pairing) return undefined;
    const before = network?.devices.length ?? 0;
    const timer = setInterval(() => {
      left -= 1;
      if (left <= 0) pairing = undefined;
      else if (left % 2 === 0) void load().then(() => (network?.devices.length ?? 0) > before && (pairing = undefined));
    }, 1000);
    return () => clearInterval(timer);
  });
  async function forget(id: number, name: string): Promise<void> {
    try {
      await askNothing(api.DELETE('/api/devices/{device_id}', { params: { path: { device_id: id } } }));
      toasts.say(`${name} is not answered any more.`);
    } catch (error) {
      problem = error as Problem;
    }
    await load();
  }
  const clock = $derived(stopwatch(left));
</script>

<section>
  <h2 class="mb-1">Phones</h2>
  {#if problem}<Notice kind="problem">{problem.message}</Notice>{/if}
  {#if elsewhere}
    <p class="max-w-[62ch]">Phones are paired and taken off at the laptop itself.</p>
  {:else if network}
    {#if !network.open}
      <p class="max-w-[62ch]">
        Kunstflug answers to this machine only. To reach it from a phone in the same network, stop it and start it with <code
          >kunstflug serve --lan</code
        >. It is then open to paired phones and nobody else.
      </p>
    {:else if pairing}
      <div class="grid items-center gap-x-6 justify-start md:grid-cols-[max-content_minmax(0,32rem)]">
        <img src={pairing.picture} alt="The address with the code, to be read by the phone's camera" width="220" />
        <div>
          <p class="m-0">Point the phone's camera here, or type at <b>{pairing.address}</b></p>
          <p class="my-2 text-[2.2rem] font-semibold tracking-widest tabular-nums" data-testid="code">{pairing.code}</p>
          <p class="quiet m-0">
            Holds for {clock}, for one phone and five tries. The phone warns of the certificate the first time; how it
            comes to trust it stands in the guide.
          </p>
        </div>
      </div>
    {:else}
      <p class="max-w-[62ch]">
        Open to the local network at {network.addresses.join(', ')}, for paired phones only.
      </p>
      <Button onclick={pair}>Pair a phone</Button>
    {/if}
    {#if network.devices.length}
      <Table class="mt-3">
        <TableHead
          ><TableHeadCell>Phone</TableHeadCell><TableHeadCell>Paired</TableHeadCell><TableHeadCell
            >Last seen</TableHeadCell
          ><TableHeadCell><span class="sr-only">Take off</span></TableHeadCell></TableHead
        >
        <TableBody>
          {#each network.devices as device (device.id)}
            <TableBodyRow>
              <TableBodyCell><b>{device.name}</b></TableBodyCell>
              <TableBodyCell>{moment(device.paired_at)}</TableBodyCell>
              <TableBodyCell>{moment(device.seen_at)}</TableBodyCell>
              <TableBodyCell>
                <Button color="alternative" onclick={() => forget(device.id, device.name)}>Take off</Button>
              </TableBodyCell>
            </TableBodyRow>
          {/each}
        </TableBody>
      </Table>
    {/if}
  {/if}
</section>
