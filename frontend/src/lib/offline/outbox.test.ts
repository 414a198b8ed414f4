import fc from 'fast-check';
import { describe, expect, it } from 'vitest';

import { Outbox, type Entry, type Keeper, type Made, type Reply } from './outbox';

/** A store that lives on when the page is killed; of a page that was, nothing arrives any more. */
class Disk {
  rows = new Map<number, Entry>();
  mades = new Map<string, Made>();
  count = 0;

  page(): Keeper & { dead: boolean } {
    const page = {
      dead: false,
      entries: async () => structuredClone([...this.rows.values()].sort((a, b) => a.n - b.n)),
      put: async (entry: Entry) => void (page.dead ? never() : this.rows.set(entry.n, structuredClone(entry))),
      remove: async (n: number) => void (page.dead ? never() : this.rows.delete(n)),
      made: async (key: string) => this.mades.get(key),
      make: async (key: string, made: Made) => void (page.dead ? never() : this.mades.set(key, made)),
      next: async () => (page.dead ? never() : ++this.count),
    };
    return page;
  }
}
const never = (): never => {
  throw new Error('killed');
};

/** What a network does with one request: it arrives or not, its answer comes back or not; the page may be killed. */
type Weather = 'fine' | 'lost' | 'answer lost' | 'busy' | 'killed before' | 'killed after';

/** A server that makes a thing once for a key, and lets a state be changed by whoever knows it. */
class Server {
  made = new Map<string, { id: number; words: unknown }>();
  log: string[] = [];
  states = new Map<string, { value: unknown; tag: number }>();

  take(entry: Entry, path: string, tag: string | undefined, body: unknown): Reply {
    const words = (body as { words: unknown }).words;
    if (entry.method === 'POST') {
      const known = this.made.get(entry.key);
      const id = known?.id ?? this.made.size + 1;
      if (!known) {
        this.made.set(entry.key, { id, words });
        this.log.push(`made ${String(words)}`);
        this.states.set(`/things/${id}`, { value: 'new', tag: 1 });
      }
      return { status: 201, body: { id }, tag: '1', serverTime: undefined };
    }
    const state = this.states.get(path) ?? { value: undefined, tag: 0 };
    if (state.value === words) return { status: 200, body: {}, tag: String(state.tag), serverTime: undefined };
    if (tag !== undefined && tag !== '*' && tag !== String(state.tag))
      return {
        status: 412,
        body: { detail: 'changed', current: { words: state.value }, tag: String(state.tag) },
        tag: '',
        serverTime: undefined,
      };
    this.states.set(path, { value: words, tag: state.tag + 1 });
    this.log.push(`${path} ${String(words)}`);
    return { status: 200, body: {}, tag: String(state.tag + 1), serverTime: undefined };
  }
}

class World {
  disk = new Disk();
  server = new Server();
  weather: Weather[] = [];
  keys = 0;
  page = this.disk.page();
  outbox = this.open();

  open(): Outbox {
    const page = (this.page = this.disk.page());
    return new Outbox(
      page,
      async (entry, path, tag, body) => {
        const now = this.weather.shift() ?? 'fine';
        if (now === 'lost') throw new TypeError('no network');
        if (now === 'busy') return { status: 503, body: null, tag: '', serverTime: undefined };
        if (now === 'killed before') {
          page.dead = true;
          throw new TypeError('killed');
        }
        const reply = this.server.take(entry, path, tag, body);
        if (now === 'answer lost') throw new TypeError('no network');
        if (now === 'killed after') page.dead = true;
        return reply;
      },
      () => `key-${++this.keys}`,
    );
  }

  async flush(): Promise<void> {
    await this.outbox.flush().catch(() => undefined);
    if (this.page.dead) this.outbox = this.open();
  }
}

type Model = { things: string[]; last: Map<number, string>; taps: Map<string, string> };
const weathers = fc.array(
  fc.constantFrom<Weather>('fine', 'lost', 'answer lost', 'busy', 'killed before', 'killed after'),
  { maxLength: 6 },
);

class Make implements fc.AsyncCommand<Model, World> {
  constructor(private readonly words: string) {}
  check = () => true;
  async run(model: Model, world: World): Promise<void> {
    const words = `${this.words}${model.things.length}`;
    await world.outbox.add({ method: 'POST', path: '/things', body: { words }, words });
    model.things.push(words);
  }
  toString = () => `make ${this.words}`;
}

/** Changes a thing by the key of the entry that makes it, whether that is sent already or not. */
class Change implements fc.AsyncCommand<Model, World> {
  constructor(
    private readonly which: number,
    private readonly words: string,
  ) {}
  check = (model: Readonly<Model>) => model.things.length > 0;
  async run(model: Model, world: World): Promise<void> {
    const at = this.which % model.things.length;
    const key = `key-of-${at}`;
    // Keys are given in the order in which things were made; entries that change take keys too.
    const after = world.disk.mades.has(key) ? key : keyOf(world, model.things[at] ?? '');
    if (!after) return;
    const words = `${this.words}!`;
    await world.outbox.add({ method: 'PUT', path: '/things/{id}', body: { words }, words, after, slot: `thing ${at}` });
    model.last.set(at, words);
  }
  toString = () => `change ${this.which} to ${this.words}`;
}

function keyOf(world: World, words: string): string | undefined {
  for (const [key, made] of world.server.made) if (made.words === words) return key;
  for (const entry of world.disk.rows.values())
    if (entry.method === 'POST' && (entry.body as { words: string }).words === words) return entry.key;
  return undefined;
}

class Tap implements fc.AsyncCommand<Model, World> {
  constructor(
    private readonly which: string,
    private readonly done: boolean,
  ) {}
  check = () => true;
  async run(model: Model, world: World): Promise<void> {
    const path = `/ticks/${this.which}`;
    await world.outbox.add({ method: 'PUT', path, body: { words: this.done }, words: 'tick', slot: path });
    model.taps.set(path, String(this.done));
  }
  toString = () => `tap ${this.which} ${this.done}`;
}

class Flush implements fc.AsyncCommand<Model, World> {
  constructor(private readonly weather: Weather[]) {}
  check = () => true;
  async run(_: Model, world: World): Promise<void> {
    world.weather = [...this.weather];
    await world.flush();
    world.weather = [];
  }
  toString = () => `flush ${this.weather.join(', ')}`;
}

describe('outbox', () => {
  it('sends each thing exactly once, in order, whatever the network and the phone do', async () => {
    const commands = [
      fc.string({ minLength: 1, maxLength: 4 }).map((words) => new Make(words)),
      fc.tuple(fc.nat(9), fc.string({ minLength: 1, maxLength: 4 })).map(([which, words]) => new Change(which, words)),
      fc.tuple(fc.constantFrom('plug', 'cap'), fc.boolean()).map(([which, done]) => new Tap(which, done)),
      weathers.map((weather) => new Flush(weather)),
    ];
    await fc.assert(
      fc.asyncProperty(fc.commands(commands, { size: '+1' }), async (drawn) => {
        const model: Model = { things: [], last: new Map(), taps: new Map() };
        const world = new World();
        await fc.asyncModelRun(() => ({ model, real: world }), drawn);
        await world.flush(); // the link is back
        expect([...world.disk.rows.values()]).toEqual([]);
        expect([...world.server.made.values()].map((made) => made.words)).toEqual(model.things);
        for (const [at, words] of model.last)
          expect(world.server.states.get(`/things/${at + 1}`)?.value, `thing ${at}`).toBe(words);
        for (const [path, done] of model.taps) expect(String(world.server.states.get(path)?.value)).toBe(done);
      }),
      { numRuns: 300 },
    );
  });

  it('shows what somebody else changed meanwhile, and loses neither', async () => {
    const world = new World();
    world.server.states.set('/runs/1', { value: 'there', tag: 7 });
    const wanted = { method: 'PUT' as const, path: '/runs/1', words: 'notes', tag: '6', slot: 'notes' };
    await world.outbox.add({ ...wanted, body: { words: 'mine' } });
    await world.flush();
    const [refused] = [...world.disk.rows.values()];
    expect(refused?.refused).toEqual({ status: 412, words: 'changed', current: { words: 'there' }, tag: '7' });
    await world.outbox.decide(refused?.n ?? 0, 'mine');
    await world.flush();
    expect(world.server.states.get('/runs/1')?.value).toBe('mine');
    await world.outbox.add({ ...wanted, body: { words: 'again' } });
    await world.flush();
    const [other] = [...world.disk.rows.values()];
    await world.outbox.decide(other?.n ?? 0, 'theirs');
    expect(world.disk.rows.size).toBe(0);
    expect(world.server.states.get('/runs/1')?.value).toBe('mine');
  });

  it('keeps with what was refused whatever belongs to it, and sends both when it is tried again', async () => {
    const disk = new Disk();
    const sent: string[] = [];
    let refuses = true;
    const box = new Outbox(
      disk.page(),
      async (_entry, path) => {
        sent.push(path);
        if (refuses) return { status: 422, body: { detail: 'impossible' }, tag: '', serverTime: undefined };
        return { status: 201, body: { id: 8 }, tag: 'first', serverTime: undefined };
      },
      () => `key ${disk.count}`,
    );
    const run = await box.add({ method: 'POST', path: '/things', body: {}, words: 'a run' });
    await box.add({ method: 'PUT', path: '/things/{id}', body: {}, words: 'its notes', after: run.key });
    await box.flush();
    expect([...disk.rows.values()].map((e) => e.refused?.status)).toEqual([422, 424]);
    refuses = false;
    await box.decide(run.n, 'mine');
    await box.flush();
    expect(sent).toEqual(['/things', '/things', '/things/8']);
    expect(disk.rows.size).toBe(0);
  });

  it('sends again word for word what may have arrived, though the clocks have drifted', async () => {
    const sent: unknown[] = [];
    let server = Date.parse('2026-05-03T10:00:00Z');
    const box = new Outbox(
      new Disk().page(),
      async (_e, _p, _t, body) => {
        sent.push(body);
        server += 1000; // the clock of an answer is cut to whole seconds
        if (sent.length === 1) throw new TypeError('answer lost');
        return { status: 201, body: { id: 1 }, tag: '', serverTime: server };
      },
      () => 'key',
      undefined,
      () => Date.parse('2011-01-01T00:00:00Z'),
      undefined,
      async () => server,
    );
    await box.add({ method: 'POST', path: '/x', body: {}, words: 'x', dated: 'started_at' });
    await box.flush();
    await box.flush();
    expect(sent[1]).toEqual(sent[0]);
  });

  it('puts a wrong clock right by the server, and leaves a right one', async () => {
    const sent: unknown[] = [];
    const wrong = Date.parse('2011-01-01T00:00:00Z');
    const right = Date.parse('2026-05-03T10:00:00Z');
    let server = right;
    const box = new Outbox(
      new Disk().page(),
      async (_e, _p, _t, body) => {
        sent.push((body as { started_at: string }).started_at);
        return { status: 201, body: { id: 1 }, tag: '', serverTime: server };
      },
      () => 'key',
      undefined,
      () => wrong,
    );
    const wanted = { method: 'POST' as const, path: '/x', body: {}, words: 'x', dated: 'started_at' };
    await box.add({ ...wanted, method: 'PUT' });
    await box.flush();
    await box.add(wanted);
    await box.flush();
    expect(sent[1]).toBe('2026-05-03T10:00:00.000Z');
    server = wrong + 60_000;
    await box.add({ ...wanted, method: 'PUT' });
    await box.flush();
    await box.add(wanted);
    await box.flush();
    expect(sent[3]).toBe('2011-01-01T00:00:00.000Z');
  });

  it('asks for the time before the first thing is sent that says when it was', async () => {
    const sent: unknown[] = [];
    let network = false;
    const box = new Outbox(
      new Disk().page(),
      async (_e, _p, _t, body) => {
        sent.push((body as { started_at: string }).started_at);
        return { status: 201, body: { id: 1 }, tag: '', serverTime: undefined };
      },
      () => 'key',
      undefined,
      () => Date.parse('2011-01-01T00:00:00Z'),
      undefined,
      async () => {
        if (!network) throw new TypeError('no network');
        return Date.parse('2026-05-03T10:00:00Z');
      },
    );
    await box.add({ method: 'POST', path: '/x', body: {}, words: 'x', dated: 'started_at' });
    await box.flush();
    expect(sent).toEqual([]);
    network = true;
    await box.flush();
    expect(sent).toEqual(['2026-05-03T10:00:00.000Z']);
  });

  it('says where there is no room', async () => {
    const page = new Disk().page();
    page.put = async () => {
      throw new DOMException('full', 'QuotaExceededError');
    };
    const box = new Outbox(
      page,
      async () => ({ status: 204, body: null, tag: '', serverTime: undefined }),
      () => 'k',
    );
    await expect(box.add({ method: 'PUT', path: '/x', body: {}, words: 'x' })).rejects.toThrow('full');
  });
});
