<script lang="ts">
  import uPlot from 'uplot';
  import 'uplot/dist/uPlot.min.css';

  import type { Banded, RunView, TrackView } from '$lib/api/client';
  import { theme } from '$lib/state/theme.svelte';
  import { units } from '$lib/units/units.svelte';

  import Readout from './Readout.svelte';

  /** Speed against time: measured solid, passes marked by number, the forecast dashed with its band. */
  let {
    track,
    run,
    forecast,
    onpoint,
  }: { track: TrackView; run: RunView; forecast?: Banded | undefined; onpoint: (index: number | undefined) => void } =
    $props();

  let host = $state<HTMLDivElement>();
  const HEIGHT = 250;
  let width = $state(600);
  let left = $state(42);
  let right = $state(590);
  let at = $state(-1);
  const passAt = (t: number) => (run.summary?.passes ?? []).findIndex((p) => p.start_s <= t && t <= p.end_s);
  const readings = $derived.by(() => {
    const [first, last] = [track.time_s[0] ?? 0, track.time_s.at(-1) ?? 1];
    return track.time_s.map((t, k) => ({
      px: left + ((t - first) / (last - first || 1)) * (right - left),
      cells: [
        `${Math.round(t)} s`,
        units.text(track.speed_mps[k], 'speed'),
        passAt(t) >= 0 ? String(passAt(t) + 1) : '',
      ],
    }));
  });
  // Reaches outside: the map beside shows the place.
  $effect(() => onpoint(at < 0 ? undefined : at));

  function ink(name: string): string {
    return getComputedStyle(document.documentElement).getPropertyValue(name).trim();
  }

  function marks(plot: uPlot, factor: number): void {
    const { ctx, bbox } = plot;
    const ratio = devicePixelRatio;
    ctx.save();
    ctx.beginPath();
    ctx.rect(bbox.left, bbox.top, bbox.width, bbox.height);
    ctx.clip();
    if (forecast?.value && forecast.low && forecast.high) {
      const [low, middle, high] = [forecast.low, forecast.value, forecast.high].map((v) =>
        plot.valToPos(v * factor, 'y', true),
      ) as [number, number, number];
      ctx.globalAlpha = 0.13;
      ctx.fillStyle = ink('--water');
      ctx.fillRect(bbox.left, high, bbox.width, low - high);
      ctx.globalAlpha = 1;
      ctx.strokeStyle = ink('--water');
      ctx.lineWidth = 1.5 * ratio;
      ctx.setLineDash([7 * ratio, 4 * ratio]);
      ctx.beginPath();
      ctx.moveTo(bbox.left, middle);
      ctx.lineTo(bbox.left + bbox.width, middle);
      ctx.stroke();
      ctx.setLineDash([]);
    }
    ctx.font = `600 ${13 * ratio}px 'Saira Variable', sans-serif`;
    ctx.textAlign = 'center';
    for (const [k, pass] of (run.summary?.passes ?? []).entries()) {
      const [a, b] = [plot.valToPos(pass.start_s, 'x', true), plot.valToPos(pass.end_s, 'x', true)];
      ctx.fillStyle = ink('--ink');
      ctx.globalAlpha = 0.07;
      ctx.fillRect(a, bbox.top, b - a, bbox.height);
      ctx.globalAlpha = 1;
      ctx.fillText(String(k + 1), (a + b) / 2, bbox.top + bbox.height - 6 * ratio);
    }
    ctx.restore();
  }

  // Reaches outside: uPlot draws on its own canvas.
  $effect(() => {
    if (!host) return undefined;
    const unit = units.unit('speed');
    void theme.look;
    const speeds = track.speed_mps.map((v) => (v === null ? null : v * unit.factor));
    const top = Math.max(...speeds.filter((v): v is number => v !== null), (forecast?.high ?? 0) * unit.factor) * 1.06;
    const font = "12.5px 'Saira Variable', sans-serif";
    const axis = {
      stroke: ink('--ink-2'),
      grid: { stroke: ink('--hair'), width: 1 },
      ticks: { stroke: ink('--rule'), width: 1 },
      font,
    };
    const plot = new uPlot(
      {
        width,
        height: HEIGHT,
        legend: { show: false },
        scales: { x: { time: false }, y: { range: [0, top] } },
        axes: [
          { ...axis, label: 'seconds', labelFont: font, labelSize: 20, size: 34 },
          { ...axis, label: unit.unit, labelFont: font, labelSize: 18, size: 42 },
        ],
        series: [{}, { stroke: ink('--ink'), width: 1.8, spanGaps: false, points: { show: false } }],
        cursor: { show: false },
        hooks: {
          drawAxes: [(u) => marks(u, unit.factor)],
          ready: [
            (u) => (left = u.bbox.left / devicePixelRatio),
            (u) => (right = (u.bbox.left + u.bbox.width) / devicePixelRatio),
          ],
        },
      },
      [track.time_s, speeds],
      host,
    );
    return () => plot.destroy();
  });
</script>

<div class="relative min-w-0 overflow-hidden" bind:clientWidth={width}>
  <div role="img" aria-label="Speed against time, {run.summary?.passes.length ?? 0} passes marked">
    <div bind:this={host}></div>
  </div>
  <Readout label="speed against time" columns={['time', 'speed', 'pass']} {readings} height={HEIGHT - 54} bind:at />
</div>
