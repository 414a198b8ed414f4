import { describe, expect, it } from 'vitest';

import { answered, isAsking, KEPT, nameOf } from './answers';

const ask = (path: string, body?: string, headers: Record<string, string> = {}): Request =>
  new Request(`https://laptop${path}`, body === undefined ? { headers } : { method: 'POST', body, headers });

class Shelf {
  kept = new Map<string, Response>();
  full = false;
  match = async (name: RequestInfo | URL) => this.kept.get(String(name))?.clone();
  put = async (name: RequestInfo | URL, answer: Response) => {
    if (this.full) throw new DOMException('full', 'QuotaExceededError');
    this.kept.set(String(name), answer);
  };
}

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
      ask('/api/heat', '{"a":1}', { Units: 'metric', Boat: '3' }),
      ask('/api/draft', '{"a":1}', { Units: 'metric' }),
      ask('/api/heat?x=1', '{"a":1}', { Units: 'metric' }),
    ])
      expect(await nameOf(other)).not.toBe(one);
  });

  it('are given without network, byte by byte, with when that was', async () => {
    const shelf = new Shelf();
    const said = '{"speed_mps":21.34567890123456}';
    const at = new Date('2026-05-03T10:32:00Z');
    const fine = await answered(
      ask('/api/forecast', '{}'),
      shelf,
      async () => new Response(said),
      () => at,
    );
    expect(fine.headers.get(KEPT)).toBeNull();
    const gone = async (): Promise<Response> => {
      throw new TypeError('no network');
    };
    const kept = await answered(ask('/api/forecast', '{}'), shelf, gone);
    expect(await kept.text()).toBe(said);
    expect(kept.headers.get(KEPT)).toBe(at.toISOString());
    await expect(answered(ask('/api/forecast', '{"other":1}'), shelf, gone)).rejects.toThrow('no network');
    const restarting = await answered(ask('/api/forecast', '{}'), shelf, async () => new Response('', { status: 503 }));
    expect(await restarting.text()).toBe(said);
  });

  it('are given where the network is there and carries nothing', async () => {
    const shelf = new Shelf();
    const at = (): Date => new Date();
    await answered(ask('/api/boats'), shelf, async () => new Response('before'), at);
    const never = (): Promise<Response> => new Promise(() => undefined);
    expect(await (await answered(ask('/api/boats'), shelf, never, at, 20)).text()).toBe('before');
    const slow = (): Promise<Response> => new Promise((done) => setTimeout(() => done(new Response('late')), 60));
    expect(await (await answered(ask('/api/parts'), shelf, slow, at, 20)).text()).toBe('late');
  });

  it('are not kept of a refusal, and a full phone still shows the answer', async () => {
    const shelf = new Shelf();
    await answered(ask('/api/boats'), shelf, async () => new Response('no', { status: 404 }));
    expect(shelf.kept.size).toBe(0);
    shelf.full = true;
    const answer = await answered(ask('/api/boats'), shelf, async () => new Response('yes'));
    expect(await answer.text()).toBe('yes');
  });
});
