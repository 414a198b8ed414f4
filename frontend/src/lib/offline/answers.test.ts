import { describe, expect, it } from 'vitest';

import { isAsking, nameOf } from './answers';

const ask = (path: string, body?: string, headers: Record<string, string> = {}): Request =>
  new Request(`https://laptop${path}`, body === undefined ? { headers } : { method: 'POST', body, headers });

describe('answers that are kept', () => {
  it('are those that ask and change nothing', () => {
    expect(isAsking('GET', '/api/boats')).toBe(true);
    expect(isAsking('POST', '/api/heat')).toBe(true);
    expect(isAsking('POST', '/api/setups/12/launch')).toBe(true);
    for (const path of ['/api/setups/12/runs/typed', '/api/boats', '/api/drives/3/end', '/api/pairing'])
      expect(isAsking('POST', path), path).toBe(false);
    for (const path of ['/api/drives/3/live', '/api/export.zip', '/api/network', '/assets/x.js', '/api/health'])
      expect(isAsking('GET', path), path).toBe(false);
    expect(isAsking('PUT', '/api/days/2026-05-03')).toBe(false);
  });

  it('have one name for one question in one set of units', async () => {
    const one = await nameOf(ask('/api/heat', '{"a":1}', { Units: 'metric' }));
    expect(await nameOf(ask('/api/heat', '{"a":1}', { Units: 'metric' }))).toBe(one);
    for (const other of [
      ask('/api/heat', '{"a":2}', { Units: 'metric' }),
      ask('/api/heat', '{"a":1}', { Units: 'imperial' }),
      ask('/api/heat', '{"a":1}', { Units: 'metric', Lessons: 'bought' }),
      ask('/api/draft', '{"a":1}', { Units: 'metric' }),
      ask('/api/heat?x=1', '{"a":1}', { Units: 'metric' }),
    ])
      expect(await nameOf(other)).not.toBe(one);
  });
});
