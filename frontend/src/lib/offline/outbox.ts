/**
 * What was typed or tapped without network: kept in order, sent when the link is back, each exactly once.
 *
 * An entry is kept before it is sent, and let go after it was answered. What makes something bears a key, under which
 * the server makes it once however often it arrives; what changes something bears the tag of what it changes.
 */

export type Sent = { method: 'PUT' | 'POST'; path: string; body: unknown; words: string };
export type Wanted = Sent & {
  /** Tag of the state that this changes. */
  tag?: string;
  /** What this replaces where it was never sent: the last notes on a run hold, not each of them. */
  slot?: string;
  /** Key of the entry that makes what this changes; its id stands as `{id}` in the path. */
  after?: string;
  /** A field of the body that says when it was, by this device's clock. */
  dated?: string;
};
export type Refusal = { status: number; words: string; current?: Record<string, unknown>; tag?: string };
export type Entry = Wanted & { n: number; key: string; at: number; tried: boolean; refused?: Refusal };
export type Made = { id: number; tag: string };
/** What the network says: an answer, or none. */
export type Reply = {
  status: number;
  body: Record<string, unknown> | null;
  tag: string;
  serverTime: number | undefined;
};

export interface Keeper {
  entries(): Promise<Entry[]>;
  put(entry: Entry): Promise<void>;
  remove(n: number): Promise<void>;
  made(key: string): Promise<Made | undefined>;
  make(key: string, made: Made): Promise<void>;
  next(): Promise<number>;
}

/** Beyond this difference the server's clock counts, not this device's. */
const CLOCK_OFF_MS = 90_000;

export class Outbox {
  constructor(
    private readonly keeper: Keeper,
    private readonly send: (entry: Entry, path: string, tag: string | undefined, body: unknown) => Promise<Reply>,
    private readonly newKey: () => string,
    private readonly changed: (entries: Entry[]) => void = () => undefined,
    private readonly now: () => number = () => Date.now(),
    /** Lets one at a time look at the entries and change them, of all pages of this device. */
    private readonly alone: <T>(work: () => Promise<T>) => Promise<T> = inTurn(),
    /** The server's clock, asked before the first thing is sent that says when it was; throws without network. */
    private readonly serverTime: () => Promise<number | undefined> = async () => undefined,
  ) {}

  /** Keeps what is wanted; gives it as it will be sent. Rejects where there is no room. */
  add(wanted: Wanted): Promise<Entry> {
    return this.alone(() => this.put(wanted));
  }

  private async put(wanted: Wanted): Promise<Entry> {
    const entries = await this.keeper.entries();
    const before = wanted.slot
      ? entries.find((e) => e.slot === wanted.slot && !e.tried && !e.refused && e.path === wanted.path)
      : undefined;
    const entry: Entry = before
      ? { ...before, body: wanted.body, words: wanted.words, at: this.now() }
      : { ...wanted, n: await this.keeper.next(), key: this.newKey(), at: this.now(), tried: false };
    await this.keeper.put(entry);
    this.changed(await this.keeper.entries());
    return entry;
  }

  /** Says what is kept, before anything is sent. */
  async look(): Promise<void> {
    this.changed(await this.keeper.entries());
  }

  private flushing: Promise<Map<number, Reply>> | undefined;

  /** Sends what waits, in order, until something is not answered; gives what was answered, by number. */
  flush(): Promise<Map<number, Reply>> {
    this.flushing ??= this.work().finally(() => (this.flushing = undefined));
    return this.flushing;
  }

  private async work(): Promise<Map<number, Reply>> {
    const answers = new Map<number, Reply>();
    for (;;) {
      const waiting = (await this.keeper.entries()).filter((e) => !e.refused && !answers.has(e.n));
      const entry = waiting.sort((a, b) => a.n - b.n)[0];
      if (!entry || !(await this.deliver(entry, answers))) break;
    }
    this.changed(await this.keeper.entries());
    return answers;
  }

  /** Whether to go on with the next. */
  private async deliver(entry: Entry, answers: Map<number, Reply>): Promise<boolean> {
    let path = entry.path;
    let tag = entry.tag;
    if (entry.after) {
      const made = await this.keeper.made(entry.after);
      if (!made) {
        // What would have made it was refused: this cannot be sent either, and is shown with it.
        await this.keeper.put({ ...entry, refused: { status: 424, words: 'what it belongs to was not saved' } });
        return true;
      }
      path = path.replace('{id}', String(made.id));
      tag ??= made.tag;
    }
    let reply: Reply;
    try {
      if (entry.dated && !this.asked) {
        const time = await this.serverTime();
        if (time !== undefined) this.offset = time - this.now();
        this.asked = true;
      }
      entry = await this.alone(() => this.tries(entry));
      reply = await this.send(entry, path, tag, entry.body);
    } catch {
      return false; // no network: later
    }
    if (reply.serverTime !== undefined) this.offset = reply.serverTime - this.now();
    if (reply.status === 401 || reply.status === 408 || reply.status === 429 || reply.status >= 500) return false;
    answers.set(entry.n, reply);
    await this.alone(async () => {
      if (reply.status >= 200 && reply.status < 300) await this.arrived(entry, reply);
      else await this.keeper.put({ ...entry, refused: refusalOf(reply) });
    });
    return true;
  }

  /** From here on it may have arrived: it stays as it is, and what is typed later is an entry of its own. */
  private async tries(entry: Entry): Promise<Entry> {
    const now = (await this.keeper.entries()).find((e) => e.n === entry.n) ?? entry;
    if (now.tried) return now;
    const tried = { ...now, body: this.dated(now), tried: true };
    await this.keeper.put(tried);
    return tried;
  }

  private async arrived(entry: Entry, reply: Reply): Promise<void> {
    if (entry.method === 'POST' && typeof reply.body?.id === 'number')
      await this.keeper.make(entry.key, { id: reply.body.id, tag: reply.tag });
    if (entry.after && reply.tag) {
      const made = await this.keeper.made(entry.after);
      if (made) await this.keeper.make(entry.after, { ...made, tag: reply.tag });
    }
    // What was written after it was written upon it.
    if (entry.slot && reply.tag)
      for (const later of await this.keeper.entries())
        if (later.slot === entry.slot && later.n > entry.n) await this.keeper.put({ ...later, tag: reply.tag });
    await this.keeper.remove(entry.n);
  }

  /** How far this device's clock is off the server's [ms]. */
  private offset = 0;
  private asked = false;

  private dated(entry: Entry): unknown {
    if (!entry.dated) return entry.body;
    const off = Math.abs(this.offset) > CLOCK_OFF_MS ? this.offset : 0;
    return { ...(entry.body as object), [entry.dated]: new Date(entry.at + off).toISOString() };
  }

  /** A refused entry once more, upon the state that stands there now; or given up. */
  async decide(n: number, choice: 'mine' | 'theirs'): Promise<void> {
    const entries = await this.keeper.entries();
    const entry = entries.find((e) => e.n === n);
    if (!entry?.refused) return;
    // What belongs to it goes with it, one way or the other. Its key stays: under it nothing was made.
    for (const one of entries.filter((e) => e.refused && (e.n === n || e.after === entry.key))) {
      if (choice === 'theirs') await this.keeper.remove(one.n);
      else {
        const { refused, ...again } = one;
        if (refused?.tag) again.tag = refused.tag;
        await this.keeper.put(again);
      }
    }
    this.changed(await this.keeper.entries());
  }
}

function refusalOf(reply: Reply): Refusal {
  const body = reply.body ?? {};
  const refusal: Refusal = { status: reply.status, words: String(body.detail ?? 'it was refused') };
  if (body.current) refusal.current = body.current as Record<string, unknown>;
  if (body.tag) refusal.tag = String(body.tag);
  return refusal;
}

/** One work after the other. */
export function inTurn(): <T>(work: () => Promise<T>) => Promise<T> {
  let last: Promise<unknown> = Promise.resolve();
  return <T>(work: () => Promise<T>): Promise<T> => {
    const next = last.then(work, work);
    last = next.catch(() => undefined);
    return next;
  };
}
