import { reactive } from "vue";
import { sayWhat } from "./describe";
import { allWaiting, changeWaiting, dropWaiting, endLease, lease, outlives, putWaiting, type Waiting } from "./kept";
import { DONE_AT, newKey, SENT_AT, settleSent, type Sent } from "./keys";

export type { Waiting } from "./kept";

/**
 * What was noted while the server was away. All tabs share it, one sends it, in the order in which it was done; what
 * the server refuses holds up what came after it on the same machine, and nothing else.
 */
export const outbox = reactive<{ waiting: Waiting[]; outlives: boolean }>({ waiting: [], outlives: true });
const TRY_EVERY_MS = 3000;
/** So long one tab sends for all; renewed with each write it sends. */
const LEASE_MS = 20_000;
const ME = newKey();
const others = typeof BroadcastChannel === "undefined" ? null : new BroadcastChannel("weftonos.outbox");
if (others) others.onmessage = () => void show();

async function show() {
  outbox.waiting = await allWaiting();
  outbox.outlives = await outlives();
}
async function changed() {
  await show();
  others?.postMessage("changed");
}

/** What the version before kept in the browser's storage, as a list that two tabs could write over. */
const FORMER = "weftonos.outbox";
interface Former {
  key: string;
  method: string;
  url: string;
  body: string;
  headers: Record<string, string>;
  words: string;
  at: string;
  why?: string;
}

/** Takes over what the version before had waiting. It put the moment into the body, and over a mark's own 0. */
export async function takeOver() {
  let former: Former[] = [];
  try {
    former = JSON.parse(localStorage.getItem(FORMER) ?? "[]") as Former[];
  } catch {
    // It can't be read, so nothing can be sent of it; it stays where it is.
  }
  if (former.length) {
    const lifted = former.map(({ words, at, body, ...sent }, place): Waiting => {
      const said = body ? (JSON.parse(body) as Record<string, unknown>) : null;
      if (said && said.at === at) {
        if (/\/mark$/.test(sent.url)) said.at = 0;
        else delete said.at;
      }
      const item = { ...sent, body: said ? JSON.stringify(said) : "", at };
      return { ...item, ...told(item), words: sayWhat(item) || words, order: Date.parse(at) + place / 1000 };
    });
    await putWaiting(...lifted);
    localStorage.removeItem(FORMER);
  }
  await show();
}

/** The machine a write is about, by its address, else by the page it was made on. */
function told(sent: Sent): { words: string; machine: string } {
  const by = /\/api\/machines\/(\d+)/.exec(sent.url) ?? /^\/(\d+)\//.exec(globalThis.location?.pathname ?? "");
  return { words: sayWhat(sent), machine: by?.[1] ?? "" };
}

/** Keeps a write that got no answer, to be sent again. */
export async function wait(sent: Sent) {
  settleSent(sent);
  const last = (await allWaiting()).at(-1)?.order ?? 0;
  const order = Math.max(Date.parse(sent.at), last + 0.001);
  await putWaiting({ ...sent, ...told(sent), order });
  await changed();
}

export async function leaveOut(key: string) {
  await dropWaiting(key);
  await changed();
}

/** Lets a refused one be tried again, with other words in its body where it was mended. */
export async function tryAgain(key: string, body?: string) {
  await changeWaiting(key, (item) => {
    const { why, field, ...free } = item;
    void [why, field];
    const mended = body === undefined ? free : { ...free, body };
    return { ...mended, words: sayWhat(mended) };
  });
  await changed();
}

interface Refusal {
  detail?: string | { msg: string; loc?: (string | number)[] }[];
}

/** Sends one; says what became of it. */
async function sendOne(item: Waiting, fetcher: typeof fetch): Promise<"sent" | "away" | "refused"> {
  const headers = { ...item.headers, [DONE_AT]: item.at, [SENT_AT]: new Date().toISOString() };
  let response: Response;
  try {
    response = await fetcher(item.url, { method: item.method, headers, body: item.body || null });
  } catch {
    return "away";
  }
  // Whoever is asked for the passcode first is no refusal, and neither is a server that is just opening.
  if (response.status >= 500 || response.status === 401 || response.status === 429) return "away";
  if (response.ok) {
    await dropWaiting(item.key);
    return "sent";
  }
  const { detail } = ((await response.json().catch(() => null)) ?? {}) as Refusal;
  const first = Array.isArray(detail) ? detail[0] : undefined;
  const why = typeof detail === "string" ? detail : first?.msg;
  const field = first?.loc?.filter((part) => typeof part === "string").at(-1);
  await changeWaiting(item.key, (kept) => ({ ...kept, why: why ?? "The server refused it.", field }));
  return "refused";
}

let sending: Promise<boolean> | null = null;
/** Sends what waits, oldest first, until the server is away again or all is sent; says whether it answered. */
export function sendWaiting(fetcher: typeof fetch = fetch): Promise<boolean> {
  sending ??= sendAll(fetcher).finally(() => (sending = null));
  return sending;
}

async function sendAll(fetcher: typeof fetch): Promise<boolean> {
  let went = false;
  const held = new Set<string>();
  const done = new Set<string>();
  for (;;) {
    // Asked for anew each time: another tab may have added one, or left one out.
    const next = (await allWaiting()).find((item) => {
      if (item.why) held.add(item.machine);
      return !item.why && !held.has(item.machine) && !done.has(item.key);
    });
    if (!next) break;
    if (!(await lease("sending", ME, LEASE_MS))) break;
    done.add(next.key);
    const became = await sendOne(next, fetcher);
    if (became === "refused") held.add(next.machine);
    if (became !== "away") went = true;
    if (became === "away") break;
    await changed();
  }
  await endLease("sending", ME);
  await show();
  return went;
}

/** Tries now and then while something waits. */
export function keepSending(sent: () => void) {
  void takeOver();
  window.setInterval(() => {
    if (outbox.waiting.some((each) => !each.why)) void sendWaiting().then((went) => went && sent());
  }, TRY_EVERY_MS);
}
