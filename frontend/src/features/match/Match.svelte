<script lang="ts">
  import ThrustChart from '$lib/charts/ThrustChart.svelte';
  import { boathouse } from '$lib/state/boathouse.svelte';
  import { go, pathTo } from '$lib/state/go';
  import { here } from '$lib/state/here.svelte';
  import Notice from '$lib/ui/Notice.svelte';
  import SetupPicker from '$lib/ui/SetupPicker.svelte';

  import DraftBar from './DraftBar.svelte';
  import { STATIONS, type Station as StationName } from './driveline';
  import DriveLine from './DriveLine.svelte';
  import Guesses from './Guesses.svelte';
  import Headline from './Headline.svelte';
  import { MatchState } from './match.svelte';
  import Station from './Station.svelte';
  import Swap from './Swap.svelte';

  const match = new MatchState();
  let swapKind = $state<StationName>('motor');
  let swapOpen = $state(false);

  const TITLES: Record<StationName, string> = {
    pack: 'Pack',
    controller: 'Controller',
    motor: 'Motor',
    propeller: 'Propeller',
    hull: 'Hull',
  };

  // Reaches outside: a new address asks the server for its setup.
  $effect(() => {
    const id = here.setupId;
    if (id && here.mark === 'match') void match.load(id).then(() => (here.boatId = match.setup?.boat_id));
  });

  async function adopt(): Promise<void> {
    const adopted = await match.adopt();
    if (!adopted) return;
    await boathouse.refresh();
    go(pathTo('match', adopted.id));
  }

  function onkeydown(event: KeyboardEvent): void {
    const target = event.target as HTMLElement;
    const busy =
      /^(TEXTAREA|SELECT|BUTTON|A)$/.test(target.tagName) ||
      (target instanceof HTMLInputElement && target.type !== 'range');
    if (event.key === 'z' && (event.ctrlKey || event.metaKey) && !busy) {
      match.undo();
      event.preventDefault();
    } else if (event.key === 'Enter' && match.dirty && !busy && !swapOpen) void adopt();
    else if (event.key === 'Escape' && !busy && !swapOpen) match.clear();
  }
</script>

<svelte:window {onkeydown} />
<svelte:head><title>{here.boat ? `${here.boat.name} · Match` : 'Match'} · Kunstflug</title></svelte:head>

{#if match.failed}
  <Notice kind="problem">
    {match.failed.message}
    <button class="plain" onclick={() => here.setupId && match.load(here.setupId)}>Try again</button>
  </Notice>
{:else if match.setup && match.now && match.base}
  {@const ghost = match.dirty ? match.base.forecast : undefined}
  <div class="title">
    <h1>{here.boat?.name ?? ''}</h1>
    <SetupPicker setup={match.setup} mark="match" />
  </div>
  <Headline forecast={match.now.forecast} {ghost} />
  {#if match.problem}
    <Notice kind="problem">{match.problem.message}</Notice>
  {/if}
  <DriveLine forecast={match.now.forecast} document={match.now.document} />
  <div class="stations">
    {#each STATIONS as station (station)}
      <Station
        {station}
        title={TITLES[station]}
        document={match.now.document}
        saved={match.setup.document}
        forecast={match.now.forecast}
        {ghost}
        fields={boathouse.vocabulary.fields}
        onswap={station === 'hull'
          ? undefined
          : () => {
              swapKind = station;
              swapOpen = true;
            }}
        onpull={(path, value) => match.change(path, value)}
      />
    {/each}
  </div>
  <div class="below">
    <ThrustChart forecast={match.now.forecast} {ghost} />
    <Guesses forecast={match.now.forecast} />
  </div>
  <DraftBar {match} onadopt={adopt} />
  <Swap kind={swapKind} bind:open={swapOpen} onpick={(part) => match.swap(part)} />
{:else}
  <p class="quiet">computing the drive…</p>
{/if}

<style>
  .title {
    display: flex;
    align-items: baseline;
    gap: 1rem;
    flex-wrap: wrap;
  }
  h1 {
    font-size: 1.5rem;
    margin: 0;
  }
  .stations {
    display: grid;
    grid-template-columns: repeat(5, minmax(0, 1fr));
    margin-top: 0.3rem;
  }
  .below {
    display: grid;
    grid-template-columns: minmax(0, 1.7fr) minmax(0, 1fr);
    gap: 2rem;
    margin-top: 1.2rem;
    padding-top: 0.8rem;
    border-top: 1px solid var(--ink);
  }
  @media (max-width: 760px) {
    .stations,
    .below {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
