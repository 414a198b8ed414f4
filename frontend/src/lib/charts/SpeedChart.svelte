<script lang="ts">
  import uPlot from 'uplot';
  import 'uplot/dist/uPlot.min.css';

  import type { Banded, RunView, TrackView } from '$lib/api/client';
  import { theme } from '$lib/state/theme.svelte';
  import { units } from '$lib/units/units.svelte';

  /** Speed against time: measured solid, passes marked by number, the forecast dashed with its band. */
  let {
    track,
    run,
    forecast,
    onpoint,
  }: { track: TrackView; run: RunView; forecast?: Banded | undefined; onpoint: (index: number | undefined) => void } =
    $props();

  let host = $state<HTMLDivElement>();
  let width = $state(600);

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
        height: 250,
        legend: { show: false },
        scales: { x: { time: false }, y: { range: [0, top] } },
        axes: [
          { ...axis, label: 'seconds', labelFont: font, labelSize: 20, size: 34 },
          { ...axis, label: unit.unit, labelFont: font, labelSize: 18, size: 42 },
        ],
        series: [{}, { stroke: ink('--ink'), width: 1.8, spanGaps: false, points: { show: false } }],
        cursor: { drag: { x: true, y: false }, points: { size: 9 } },
        hooks: {
          drawAxes: [(u) => marks(u, unit.factor)],
          setCursor: [(u) => onpoint(u.cursor.idx ?? undefined)],
        },
      },
      [track.time_s, speeds],
      host,
    );
    return () => plot.destroy();
  });
</script>

<div
  class="chart"
  bind:clientWidth={width}
  role="img"
  aria-label="Speed against time, {run.summary?.passes.length ?? 0} passes marked"
>
  <div bind:this={host}></div>
</div>

<style>
  .chart {
    min-width: 0;
    overflow: hidden;
  }
</style>
