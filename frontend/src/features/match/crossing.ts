/** Geometry of the small crossing: both curves and the ghost's in one frame of 170 x 76. */
import type { Forecast } from '$lib/api/client';

type Crossing = { thrust: string; resistance: string; ghosts: string[]; x: number; y: number };

export function crossing(forecast: Forecast, ghost?: Forecast): Crossing {
  const all = ghost ? [forecast, ghost] : [forecast];
  const end = Math.max(...all.flatMap((f) => f.curves.speed_mps), 1);
  const top = Math.max(...all.map((f) => f.curves.thrust_n[0] ?? 1), 1);
  const x = (v: number) => 2 + (v / end) * 166;
  const y = (n: number) => 74 - (Math.min(Math.max(n, 0), top) / top) * 70;
  const path = (f: Forecast, name: 'thrust_n' | 'resistance_n') =>
    f.curves.speed_mps
      .map((v, k) => [v, f.curves[name][k]] as const)
      .filter((p): p is readonly [number, number] => p[1] !== null && p[1] !== undefined && p[1] <= top * 1.001)
      .map(([v, n], k) => `${k ? 'L' : 'M'}${x(v).toFixed(1)} ${y(n).toFixed(1)}`)
      .join(' ');
  return {
    thrust: path(forecast, 'thrust_n'),
    resistance: path(forecast, 'resistance_n'),
    ghosts: ghost ? [path(ghost, 'thrust_n'), path(ghost, 'resistance_n')] : [],
    x: x(forecast.point.speed_mps.value ?? 0),
    y: y(forecast.point.thrust_n.value ?? 0),
  };
}
