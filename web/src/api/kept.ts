import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import type { Sent } from "./keys";

/** A write that waits for the server. */
export interface Waiting extends Sent {
  /** Its place in the line: the moment it was done, told apart where two fell into one. */
  order: number;
  /** What it says, as a person would: "12 min on Avocet". */
  words: string;
  /** The machine it is about: what was done later on the same one waits for it. */
  machine: string;
  /** Why the server refused it, and which field it named. */
  why?: string;
  field?: string;
}

interface Kept extends DBSchema {
  waiting: { key: string; value: Waiting; indexes: { order: number } };
  lease: { key: string; value: { name: string; holder: string; until: number } };
}

/** What all tabs of this browser share. Its transactions keep them from writing over each other. */
let opened: Promise<IDBPDatabase<Kept> | null> | null = null;
function database() {
  opened ??= openDB<Kept>("weftonos", 1, {
    upgrade(db) {
      db.createObjectStore("waiting", { keyPath: "key" }).createIndex("order", "order");
      db.createObjectStore("lease", { keyPath: "name" });
    },
  }).catch(() => null);
  return opened;
}

/** Where a browser keeps nothing (some private windows): this page's own memory, for as long as it is open. */
const inMemory = new Map<string, Waiting>();
/** Whether what waits outlives this page. */
export const outlives = async () => (await database()) !== null;

export async function allWaiting(): Promise<Waiting[]> {
  const db = await database();
  return db ? db.getAllFromIndex("waiting", "order") : [...inMemory.values()].sort((a, b) => a.order - b.order);
}

export async function putWaiting(...items: Waiting[]) {
  const db = await database();
  if (!db) {
    for (const item of items) inMemory.set(item.key, item);
    return;
  }
  const change = db.transaction("waiting", "readwrite");
  await Promise.all([...items.map((item) => change.store.put(item)), change.done]);
}

export async function dropWaiting(key: string) {
  const db = await database();
  if (db) await db.delete("waiting", key);
  else inMemory.delete(key);
}

/** Changes one that still waits; it is not brought back where another tab has sent or dropped it meanwhile. */
export async function changeWaiting(key: string, change: (item: Waiting) => Waiting) {
  const db = await database();
  if (!db) {
    const item = inMemory.get(key);
    if (item) inMemory.set(key, change(item));
    return;
  }
  const under = db.transaction("waiting", "readwrite");
  const item = await under.store.get(key);
  if (item) await under.store.put(change(item));
  await under.done;
}

/** Takes or renews what one tab does for all, for so long; says whether it has it. Web Locks would need HTTPS. */
export async function lease(name: string, holder: string, ms: number, now = Date.now()): Promise<boolean> {
  const db = await database();
  if (!db) return true;
  const change = db.transaction("lease", "readwrite");
  const held = await change.store.get(name);
  // A clock that was set back would keep it for ever.
  const free = !held || held.holder === holder || held.until <= now || held.until > now + 10 * ms;
  if (free) await change.store.put({ name, holder, until: now + ms });
  await change.done;
  return free;
}

export async function endLease(name: string, holder: string) {
  const db = await database();
  if (!db) return;
  const change = db.transaction("lease", "readwrite");
  if ((await change.store.get(name))?.holder === holder) await change.store.delete(name);
  await change.done;
}
