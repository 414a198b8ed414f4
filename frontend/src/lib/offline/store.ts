/** Where what waits is kept: the browser's database, which lives on when the page is closed or killed. */
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';

import type { Entry, Keeper, Made } from './outbox';

interface Kept extends DBSchema {
  entries: { key: number; value: Entry };
  made: { key: string; value: Made };
  counts: { key: string; value: number };
}

/** Under this name stands who used this browser last: what they typed without network waits for them, and no one else. */
export const LAST = 'kunstflug.last-racer';

function opened(): Promise<IDBPDatabase<Kept>> {
  return openDB<Kept>(boxOf(globalThis.localStorage?.getItem(LAST)), 1, {
    upgrade(db) {
      db.createObjectStore('entries', { keyPath: 'n' });
      db.createObjectStore('made');
      db.createObjectStore('counts');
    },
  });
}

/** Each racer's own box; where there are no accounts there is one. */
const boxOf = (racer: string | null | undefined): string => (racer ? `kunstflug-outbox-${racer}` : 'kunstflug-outbox');

class Database implements Keeper {
  private readonly db = opened();

  async entries(): Promise<Entry[]> {
    return (await this.db).getAll('entries');
  }
  async put(entry: Entry): Promise<void> {
    // What is told to be kept has to be on the disk, not on its way there.
    const work = (await this.db).transaction('entries', 'readwrite', { durability: 'strict' });
    await Promise.all([work.store.put(entry), work.done]);
  }
  async remove(n: number): Promise<void> {
    await (await this.db).delete('entries', n);
  }
  async made(key: string): Promise<Made | undefined> {
    return (await this.db).get('made', key);
  }
  async make(key: string, made: Made): Promise<void> {
    await (await this.db).put('made', made, key);
  }
  async next(): Promise<number> {
    const work = (await this.db).transaction('counts', 'readwrite');
    const n = ((await work.store.get('n')) ?? 0) + 1;
    await Promise.all([work.store.put(n, 'n'), work.done]);
    return n;
  }
}

/** In a browser that keeps nothing, what waits is held as long as the page is open. */
class Memory implements Keeper {
  private readonly rows = new Map<number, Entry>();
  private readonly mades = new Map<string, Made>();
  private count = 0;
  entries = async (): Promise<Entry[]> => [...this.rows.values()];
  put = async (entry: Entry): Promise<void> => void this.rows.set(entry.n, entry);
  remove = async (n: number): Promise<void> => void this.rows.delete(n);
  made = async (key: string): Promise<Made | undefined> => this.mades.get(key);
  make = async (key: string, made: Made): Promise<void> => void this.mades.set(key, made);
  next = async (): Promise<number> => ++this.count;
}

export function keeper(): Keeper {
  return typeof indexedDB === 'undefined' ? new Memory() : new Database();
}
