<script lang="ts">
  import { fileAt, type Banded, type RunView } from '$lib/api/client';
  import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from '$lib/ui/table';
  import Asks from '$lib/ui/Asks.svelte';
  import Wide from '$lib/ui/Wide.svelte';
  import { units } from '$lib/units/units.svelte';

  /** The numbers of a run, the honest one largest, and each pass. */
  let { run, forecast }: { run: RunView; forecast?: Banded | undefined } = $props();

  const s = $derived(run.summary);
  /** The controller's log lies on the track. */
  const laid = $derived(run.log?.passes.some((p) => p.current_a ?? p.rpm) ?? false);
  const notSpeed = $derived(
    s?.raw_peak_mps && s.peak_mps && s.raw_peak_mps > 1.03 * s.peak_mps
      ? ` (the file's fastest sample, ${units.text(s.raw_peak_mps, 'speed', 0)}, is not speed)`
      : '',
  );
  const percent = (part: number): string =>
    Math.abs(part) < 0.005 ? 'the same' : `${Math.abs(Math.round(part * 100))}% ${part > 0 ? 'more' : 'less'}`;
  /** Half of the band that holds the truth in four of five cases. */
  const spread = (sigma: number): string => units.show(1.2816 * sigma, 'speed', 1).text;
  const COMPASS = ['N', 'NE', 'E', 'SE', 'S', 'SW', 'W', 'NW'];
  const heading = (degrees: number) => COMPASS[Math.round(degrees / 45) % 8];
</script>

{#if s}
  <div>
    <dl class="flex flex-wrap items-end gap-x-5.5 gap-y-1 mb-1.5">
      <div>
        <dt class="text-[0.84rem] text-ink-2 font-stretch-[80%]">Both ways <Asks of="run.best" /></dt>
        <dd
          data-testid="both-ways"
          class="text-[3.6rem] leading-[0.95] font-light whitespace-nowrap font-stretch-[72%]"
        >
          {units.show(s.both_ways_mps, 'speed').text}<span class="unit text-lg">{units.unit('speed').unit}</span>
        </dd>
      </div>
      <div>
        <dt class="text-[0.84rem] text-ink-2 font-stretch-[80%]">Best 2 s</dt>
        <dd class="m-0 text-[1.15rem] font-medium whitespace-nowrap">{units.text(s.best_2s_mps, 'speed')}</dd>
      </div>
      <div>
        <dt class="text-[0.84rem] text-ink-2 font-stretch-[80%]">Best 1 s</dt>
        <dd class="m-0 text-[1.15rem] font-medium whitespace-nowrap">
          {units.text(s.best_1s_mps, 'speed')}{#if s.best_1s_spread_mps}<span
              class="ms-1 text-sm font-normal text-ink-2">± {spread(s.best_1s_spread_mps)}</span
            >{/if}
        </dd>
      </div>
      <div>
        <dt class="text-[0.84rem] text-ink-2 font-stretch-[80%]">Peak</dt>
        <dd class="m-0 text-[1.15rem] font-medium whitespace-nowrap">{units.text(s.peak_mps, 'speed')}</dd>
      </div>
      {#if run.log}
        <div>
          <dt class="text-[0.84rem] text-ink-2 font-stretch-[80%]">Current</dt>
          <dd class="m-0 text-[1.15rem] font-medium whitespace-nowrap">{units.text(run.log.current_a, 'current')}</dd>
        </div>
        <div>
          <dt class="text-[0.84rem] text-ink-2 font-stretch-[80%]">rpm</dt>
          <dd class="m-0 text-[1.15rem] font-medium whitespace-nowrap">{units.text(run.log.rpm, 'rotation')}</dd>
        </div>
        <div>
          <dt class="text-[0.84rem] text-ink-2 font-stretch-[80%]">Pack under load</dt>
          <dd class="m-0 text-[1.15rem] font-medium whitespace-nowrap">{units.text(run.log.voltage_v, 'voltage')}</dd>
        </div>
        <div>
          <dt class="text-[0.84rem] text-ink-2 font-stretch-[80%]">Used</dt>
          <dd class="m-0 text-[1.15rem] font-medium whitespace-nowrap">{run.log.mah ?? '–'} mAh</dd>
        </div>
      {/if}
    </dl>
    <p class="text-sm text-ink-2 my-1 max-w-[75ch]">
      {units.text(s.distance_m, 'distance')} in {Math.round(s.duration_s)} s at {s.rate_hz} Hz, speed from the {s.speed_source ===
      'receiver'
        ? "receiver's own"
        : 'positions only'}{#if s.spikes}; {s.spikes}
        {s.spikes === 1 ? 'spike' : 'spikes'} left out{notSpeed}{/if}{#if s.gaps_s.length}; {s.gaps_s.length}
        {s.gaps_s.length === 1 ? 'gap' : 'gaps'} kept open{/if}.
      {#if run.damages.length}<span class="short">Read in part: broken at line {run.damages[0]?.line}.</span>{/if}
      {#if run.setup_name}Setup: {run.setup_name}.{/if}
      {#if run.log && run.log.begins_s !== null}The controller's log begins
        {Math.abs(run.log.begins_s ?? 0).toFixed(1)} s {(run.log.begins_s ?? 0) < 0 ? 'before' : 'after'} the track.{/if}
      {#each ['gpx', 'geojson', 'csv'] as kind (kind)}
        <a class="mr-1.5" href={fileAt(`/api/runs/${run.id}/track.${kind}`)} download
          >{kind === 'geojson' ? 'GeoJSON' : kind.toUpperCase()}</a
        >
      {/each}
      {#if run.log}<a class="mr-1.5" href={fileAt(`/api/runs/${run.id}/controller.csv`)} download>Controller's log</a
        >{/if}
      <a href={fileAt(`/api/runs/${run.id}/picture.png?units=${units.system}`)} download>Picture to show around</a>
    </p>
    {#if s.passes.length}
      <Wide label="Passes">
        <Table>
          <TableHead
            ><TableHeadCell>Pass</TableHeadCell><TableHeadCell>Heading</TableHeadCell><TableHeadCell
              >Seconds</TableHeadCell
            ><TableHeadCell>Length</TableHeadCell><TableHeadCell>Best 2 s</TableHeadCell><TableHeadCell
              >Peak</TableHeadCell
            >{#if laid}<TableHeadCell>Current</TableHeadCell><TableHeadCell>rpm</TableHeadCell>{/if}</TableHead
          >
          <TableBody>
            {#each s.passes as pass, k (pass.start_s)}
              <TableBodyRow>
                <TableBodyCell>{k + 1}</TableBodyCell>
                <TableBodyCell>{heading(pass.heading_deg)} {Math.round(pass.heading_deg)}°</TableBodyCell>
                <TableBodyCell>{(pass.end_s - pass.start_s).toFixed(1)}</TableBodyCell>
                <TableBodyCell>{units.text(pass.distance_m, 'distance')}</TableBodyCell>
                <TableBodyCell>{units.text(pass.best_2s_mps, 'speed')}</TableBodyCell>
                <TableBodyCell>{units.text(pass.peak_mps, 'speed')}</TableBodyCell>
                {#if laid}
                  <TableBodyCell>{units.text(run.log?.passes[k]?.current_a, 'current')}</TableBodyCell>
                  <TableBodyCell>{units.text(run.log?.passes[k]?.rpm, 'rotation')}</TableBodyCell>
                {/if}
              </TableBodyRow>
            {/each}
          </TableBody>
        </Table>
      </Wide>
    {:else}
      <p class="quiet">No passes found: no straight was held long enough at speed.</p>
    {/if}
  </div>
{:else if run.held}
  <div>
    <dl class="m-0">
      <dt class="text-[0.84rem] text-ink-2 font-stretch-[80%]">{run.held.both_ways ? 'Held, both ways' : 'Held'}</dt>
      <dd data-testid="held" class="text-[3.6rem] leading-[0.95] font-light whitespace-nowrap font-stretch-[72%]">
        {units.show(run.held.speed_mps, 'speed', 0).text}<span class="unit text-lg">{units.unit('speed').unit}</span>
      </dd>
    </dl>
    <p class="my-1 max-w-[60ch] text-sm text-ink-2">
      {units.show(run.held.low_mps, 'speed', 0).text} to {units.text(run.held.high_mps, 'speed', 0)}: a display shows
      its fastest sample, 1 to 4% above what was held (common practice, no source).
      {#if run.held.lone}<span class="short">The best peak stands alone: it may be a false one.</span>{/if}
      Setup: {run.setup_name}.
    </p>
    {#if forecast?.value && run.held.speed_mps}
      <p class="my-1 text-base">
        Forecast {units.text(forecast.value, 'speed', 0)} ({units.show(forecast.low, 'speed', 0).text} to
        {units.text(forecast.high, 'speed', 0)}): you held {percent(run.held.speed_mps / forecast.value - 1)}.
      </p>
    {/if}
  </div>
{:else}
  <p class="quiet max-w-[40ch]">
    No track. Type in what the display showed, and the speed that was held is worked out. Setup: {run.setup_name}.
  </p>
{/if}
