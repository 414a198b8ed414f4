/** Geometry of a drawn track: metres to pixels with one scale both ways, coloured by speed in classes. */
import type { TrackView } from '$lib/api/client';

export const CLASSES = 8;

type TrackDrawing = {
  paths: string[];
  point: (index: number) => { x: number; y: number } | undefined;
  pxPerMetre: number;
  low: number;
  high: number;
};

export function drawTrack(track: TrackView, width: number, height: number, pad = 22): TrackDrawing {
  const east = track.east_m.filter((v): v is number => v !== null);
  const north = track.north_m.filter((v): v is number => v !== null);
  const speeds = track.speed_mps.filter((v): v is number => v !== null);
  const [e0, e1, n0, n1] = [Math.min(...east), Math.max(...east), Math.min(...north), Math.max(...north)];
  const scale = Math.min((width - 2 * pad) / Math.max(e1 - e0, 1), (height - 2 * pad) / Math.max(n1 - n0, 1));
  const left = (width - (e1 - e0) * scale) / 2;
  const top = (height - (n1 - n0) * scale) / 2;
  const high = Math.max(...speeds, 0.1);
  const low = 0;
  const x = (e: number) => left + (e - e0) * scale;
  const y = (n: number) => top + (n1 - n) * scale;
  const paths = Array.from({ length: CLASSES }, () => '');
  let previous = -1;
  for (let k = 1; k < track.time_s.length; k += 1) {
    const [a, b] = [track.east_m[k - 1], track.east_m[k]];
    const [c, d] = [track.north_m[k - 1], track.north_m[k]];
    const v = track.speed_mps[k];
    if (a == null || b == null || c == null || d == null || v == null) {
      previous = -1;
      continue;
    }
    const group = Math.min(Math.floor((v / high) * CLASSES), CLASSES - 1);
    // A new stroke where the colour changes or a gap lies between.
    if (group !== previous) paths[group] += `M${x(a).toFixed(1)} ${y(c).toFixed(1)}`;
    paths[group] += `L${x(b).toFixed(1)} ${y(d).toFixed(1)}`;
    previous = group;
  }
  return {
    paths,
    pxPerMetre: scale,
    low,
    high,
    point: (index) => {
      const [e, n] = [track.east_m[index], track.north_m[index]];
      return e == null || n == null ? undefined : { x: x(e), y: y(n) };
    },
  };
}

/** Index of the sample nearest a time. */
export function indexAt(times: number[], at: number): number {
  let low = 0;
  let high = times.length - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if ((times[middle] ?? 0) < at) low = middle;
    else high = middle;
  }
  return at - (times[low] ?? 0) <= (times[high] ?? 0) - at ? low : high;
}

/** A round length for the scale bar, about a fifth of the width. */
export function scaleLength(pxPerUnit: number, width: number): number {
  const wanted = width / 5 / pxPerUnit;
  const power = 10 ** Math.floor(Math.log10(wanted));
  return [5, 2, 1].map((m) => m * power).find((length) => length <= wanted) ?? power;
}
