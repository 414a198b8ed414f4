/** How it stands with the network, and what waits for it. */
import { Problem } from '$lib/api/client';
import { units } from '$lib/units/units.svelte';

import { inTurn, Outbox, type Entry, type Reply, type Wanted } from './outbox';
import { keeper } from './store';

const AGAIN_MS = 4000;
const PATIENCE_MS = 15_000;
const LOCK = 'kunstflug.outbox';

type Outcome<T> = { sent: true; data: T } | { sent: false; entry: Entry };

/** One page of this device at a time, where the browser can say so. */
function alone(): <T>(work: () => Promise<T>) => Promise<T> {
  if (!globalThis.navigator?.locks) return inTurn();
  return <T>(work: () => Promise<T>) => navigator.locks.request(LOCK, work) as Promise<T>;
}

class Link {
  /** When what is shown was answered, where it was shown without network. */
  keptAt = $state<string | undefined>();
  waiting = $state.raw<Entry[]>([]);
  refused = $state.raw<Entry[]>([]);
  /** Counts what was sent later than it was typed: screens look again. */
  delivered = $state(0);
  /** This device has no room: what is typed without network is held only while the page is open. */
  full = $state(false);
  private timer: ReturnType<typeof setTimeout> | undefined;

  private readonly outbox = new Outbox(
    keeper(),
    (entry, path, tag, body) => this.request(entry, path, tag, body),
    () => crypto.randomUUID(),
    (entries) => this.show(entries),
    undefined,
    alone(),
    serverTime,
  );

  /** When it is known what an earlier page left here. */
  readonly known: Promise<void> = this.outbox.look().catch(() => undefined);

  /** Sends what was kept by a page that was closed. */
  begin(): void {
    globalThis.addEventListener?.('online', () => void this.flush());
    void this.flush();
  }

  /**
   * Sends what is typed or tapped; without network it is kept on this device and goes in later.
   *
   * @throws Problem where the server refuses it; then it is not kept.
   */
  async send<T>(wanted: Wanted): Promise<Outcome<T>> {
    let entry: Entry;
    try {
      // As it goes over the wire: what a screen holds its values in is not for keeping.
      entry = await this.outbox.add(JSON.parse(JSON.stringify(wanted)) as Wanted);
      this.full = false;
    } catch {
      this.full = true;
      return { sent: true, data: (await this.straight(wanted)) as T };
    }
    // Another flush may have begun before this was added.
    const answer = (await this.sendAll(entry.n)).get(entry.n) ?? (await this.sendAll(entry.n)).get(entry.n);
    if (!answer) {
      this.later();
      return { sent: false, entry };
    }
    if (answer.status >= 400) {
      await this.outbox.decide(entry.n, 'theirs');
      throw new Problem({ status: answer.status, ...(answer.body ?? {}) });
    }
    return { sent: true, data: answer.body as T };
  }

  async flush(): Promise<void> {
    clearTimeout(this.timer);
    // The browser's database may not be at hand; what is there stays there.
    await this.sendAll().catch(() => undefined);
    if (this.waiting.length) this.later();
  }

  /** Sends what waits. Screens look again when something arrives that was typed earlier than the one just sent. */
  private async sendAll(own?: number): Promise<Map<number, Reply>> {
    const answers = await this.outbox.flush();
    if ([...answers].some(([n, answer]) => n !== own && answer.status < 400)) this.delivered += 1;
    return answers;
  }

  async decide(entry: Entry, choice: 'mine' | 'theirs'): Promise<void> {
    await this.outbox.decide(entry.n, choice);
    await this.flush();
  }

  private later(): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.flush(), AGAIN_MS);
  }

  private show(entries: Entry[]): void {
    this.waiting = entries.filter((e) => !e.refused);
    this.refused = entries.filter((e) => e.refused);
  }

  private async request(entry: Entry, path: string, tag: string | undefined, body: unknown): Promise<Reply> {
    const headers: Record<string, string> = { 'content-type': 'application/json', Units: units.system };
    if (entry.method === 'POST') headers['Idempotency-Key'] = entry.key;
    if (tag !== undefined) headers['If-Match'] = tag;
    // A network that is there and carries nothing is as good as none: it goes in later, and once.
    const signal = AbortSignal.timeout(PATIENCE_MS);
    const answer = await fetch(path, { method: entry.method, headers, body: JSON.stringify(body), signal });
    const text = await answer.text();
    const date = Date.parse(answer.headers.get('date') ?? '');
    return {
      status: answer.status,
      body: text ? (JSON.parse(text) as Record<string, unknown>) : null,
      tag: answer.headers.get('etag')?.replaceAll('"', '') ?? tagIn(text),
      serverTime: Number.isFinite(date) ? date : undefined,
    };
  }

  /** Without a place to keep it, it is sent or it is not. */
  private async straight(wanted: Wanted): Promise<unknown> {
    const entry: Entry = { ...wanted, n: 0, key: crypto.randomUUID(), at: Date.now(), tried: true };
    let reply: Reply;
    try {
      reply = await this.request(entry, wanted.path, wanted.tag, wanted.body);
    } catch {
      throw new Problem({ title: 'no connection', detail: 'No network, and this phone has no room to keep it.' });
    }
    if (reply.status >= 400) throw new Problem({ status: reply.status, ...(reply.body ?? {}) });
    return reply.body;
  }
}

/** What the server's clock says, by the header of any answer. */
async function serverTime(): Promise<number | undefined> {
  const answer = await fetch('/api/health', { signal: AbortSignal.timeout(PATIENCE_MS) });
  const date = Date.parse(answer.headers.get('date') ?? '');
  return Number.isFinite(date) ? date : undefined;
}

function tagIn(text: string): string {
  try {
    return String((JSON.parse(text) as { tag?: string }).tag ?? '');
  } catch {
    return '';
  }
}

export const link = new Link();
