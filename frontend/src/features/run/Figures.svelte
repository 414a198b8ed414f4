<script lang="ts">
  import type { RunView } from '$lib/api/client';
  import { units } from '$lib/units/units.svelte';

  /** The numbers of a run, the honest one largest, and each pass. */
  let { run }: { run: RunView } = $props();

  const s = $derived(run.summary);
  const notSpeed = $derived(
    s?.raw_peak_mps && s.peak_mps && s.raw_peak_mps > 1.03 * s.peak_mps
      ? ` (the file's fastest sample, ${units.text(s.raw_peak_mps, 'speed', 0)}, is not speed)`
      : '',
  );
  const COMPASS = ['N', 'NE', 'E', 'SE', 'S', 'SW', 'W', 'NW'];
  const heading = (degrees: number) => COMPASS[Math.round(degrees / 45) % 8];
</script>

{#if s}
  <div class="figures">
    <dl>
      <div class="main">
        <dt>both ways</dt>
        <dd data-testid="both-ways">
          {units.show(s.both_ways_mps, 'speed').text}<span class="unit">{units.unit('speed').unit}</span>
        </dd>
      </div>
      <div>
        <dt>best 2 s</dt>
        <dd>{units.text(s.best_2s_mps, 'speed')}</dd>
      </div>
      <div>
        <dt>best 1 s</dt>
        <dd>{units.text(s.best_1s_mps, 'speed')}</dd>
      </div>
      <div>
        <dt>peak</dt>
        <dd>{units.text(s.peak_mps, 'speed')}</dd>
      </div>
      {#if run.log}
        <div>
          <dt>current</dt>
          <dd>{units.text(run.log.current_a, 'current')}</dd>
        </div>
        <div>
          <dt>rpm</dt>
          <dd>{units.text(run.log.rpm, 'rotation')}</dd>
        </div>
        <div>
          <dt>pack under load</dt>
          <dd>{units.text(run.log.voltage_v, 'voltage')}</dd>
        </div>
        <div>
          <dt>used</dt>
          <dd>{run.log.mah ?? '–'} mAh</dd>
        </div>
      {/if}
    </dl>
    <p class="read">
      {units.text(s.distance_m, 'distance')} in {Math.round(s.duration_s)} s at {s.rate_hz} Hz, speed from the {s.speed_source ===
      'receiver'
        ? "receiver's own"
        : 'positions only'}{#if s.spikes}; {s.spikes}
        {s.spikes === 1 ? 'spike' : 'spikes'} left out{notSpeed}{/if}{#if s.gaps_s.length}; {s.gaps_s.length}
        {s.gaps_s.length === 1 ? 'gap' : 'gaps'} kept open{/if}.
      {#if run.damages.length}<span class="short">Read in part: broken at line {run.damages[0]?.line}.</span>{/if}
      {#if run.setup_name}Setup: {run.setup_name}.{/if}
      <a href="/api/runs/{run.id}/track.gpx" download>GPX</a>
    </p>
    {#if s.passes.length}
      <div class="scroll">
        <table>
          <thead
            ><tr><th>pass</th><th>heading</th><th>seconds</th><th>length</th><th>best 2 s</th><th>peak</th></tr></thead
          >
          <tbody>
            {#each s.passes as pass, k (pass.start_s)}
              <tr>
                <td>{k + 1}</td>
                <td>{heading(pass.heading_deg)} {Math.round(pass.heading_deg)}°</td>
                <td>{(pass.end_s - pass.start_s).toFixed(1)}</td>
                <td>{units.text(pass.distance_m, 'distance')}</td>
                <td>{units.text(pass.best_2s_mps, 'speed')}</td>
                <td>{units.text(pass.peak_mps, 'speed')}</td>
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
    {:else}
      <p class="quiet">No passes found: no straight was held long enough at speed.</p>
    {/if}
  </div>
{/if}

<style>
  th,
  td {
    white-space: nowrap;
  }
  .scroll {
    overflow-x: auto;
  }
  dl {
    display: flex;
    flex-wrap: wrap;
    align-items: flex-end;
    gap: 0.3rem 1.4rem;
    margin: 0 0 0.4rem;
  }
  dt {
    font-size: 0.84rem;
    color: var(--ink-2);
    font-stretch: 80%;
  }
  dd {
    margin: 0;
    font-size: 1.15rem;
    font-weight: 500;
    white-space: nowrap;
  }
  .main dd {
    font-size: 3.6rem;
    line-height: 0.95;
    font-weight: 300;
    font-stretch: 72%;
  }
  .main .unit {
    font-size: 1.1rem;
  }
  .read {
    font-size: 0.9rem;
    color: var(--ink-2);
    margin: 0.3rem 0;
    max-width: 75ch;
  }
</style>
