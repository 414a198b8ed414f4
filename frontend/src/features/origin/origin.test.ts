import { describe, expect, it } from 'vitest';

import type { Forecast, Origin, SetupDocument } from '$lib/api/client';
import { units } from '$lib/units/units.svelte';

import { causes, found, here, shown } from './origin';

const guess = (parameter: string, share: number, source = 'guessed') => ({
  parameter, label: parameter, value: 0.0123456, unit: 'ohm', spread: 0.1, source, reason: 'from its size', share,
  shares: { speed_mps: share, current_a: share / 2 },
}); // prettier-ignore
const forecast = {
  point: { speed_mps: { value: 20, low: 18, high: 22 }, slip: { value: 0.2, low: 0.2, high: 0.2 } },
  margins: [{ key: 'pack_current', load: 112.4, unit: 'A', reason: 'The pack gives 112 A.' }],
  guesses: [
    guess('hull', 0.3),
    guess('winding_resistance_ohm', 0.5),
    guess('tiny', 0.001),
    guess('known', 0.1, 'measured'),
  ],
} as unknown as Forecast;
const origin = (key: string, of = 'point', dimension = 'speed') =>
  ({
    key,
    of,
    title: key,
    dimension,
    how: 'Somehow.',
    sources: [],
    weak: '',
    narrow: '',
    marks: [] as string[],
  }) satisfies Origin;
const document = { pack: { cells: 4 } } as SetupDocument;

describe('where a number comes from', () => {
  it('is what widens its band, the widest first, and what would narrow that', () => {
    const seen = causes(forecast, origin('speed_mps'), document);
    expect(seen.map((c) => c.parameter)).toEqual(['winding_resistance_ohm', 'hull', 'known']);
    expect(seen[0]).toMatchObject({ text: '0.0123 Ω', narrow: 'between two motor leads, cold', share: 0.5 });
    expect(seen[1]?.narrow).toBe(''); // nobody measures that at a bench
    expect(seen[2]?.narrow).toBe(''); // measured already
  });

  it('follows another where its own band is not taken apart', () => {
    expect(causes(forecast, origin('pack_current', 'limit'), document)[0]?.share).toBe(0.25);
    expect(causes(forecast, origin('side_force_n'), document)).toEqual([]);
  });

  it('says the number as the sheet does', () => {
    expect(shown(forecast, origin('speed_mps'), units)).toEqual({
      text: '72.0 km/h', band: '80 % between 64.8 km/h and 79.2 km/h', reason: '',
    }); // prettier-ignore
    expect(shown(forecast, origin('slip', 'point', 'percent'), units).band).toBe(''); // without a band there is none
    expect(shown(forecast, origin('pack_current', 'limit'), units).text).toBe('112 A');
    expect(shown(forecast, origin('wire_current', 'limit'), units).text).toBe('–');
  });

  it('is found by any of its words', () => {
    const all = [origin('speed_mps'), origin('slip')];
    expect(found(all, ' SLIP ').map((o) => o.key)).toEqual(['slip']);
    expect(found(all, '')).toHaveLength(2);
  });

  it('is what stands on the screen first, and the forecast only where there is one', () => {
    const gun = { ...origin('gun', 'run', 'temperature'), marks: ['run', 'compare'] };
    const all = [origin('speed_mps'), gun, origin('wire_current', 'limit')];
    expect(here(all, 'run', true).map((o) => o.key)).toEqual(['gun', 'speed_mps', 'wire_current']);
    expect(here(all, 'run', false)).toEqual([gun]);
    expect(here(all, 'fit', false)).toEqual([]);
    expect(here(all, undefined, true)).toHaveLength(2);
  });
});
