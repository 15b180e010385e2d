/** A write carries a key of its own; its repeat, by a second tap or after a lost answer, carries the same one. */
export const KEY_HEADER = "idempotency-key";
/** When something was done that is sent later, and when it was sent, both by this screen's clock. */
export const DONE_AT = "done-at";
export const SENT_AT = "sent-at";
const UNITS_HEADER = "x-units";
/** A server that answers a note so late is away; what takes longer is no note. */
const ANSWERED_WITHIN_MS = 12_000;
const NOTES = /\/api\/(machines|incidents)\//;
/** What every request says of this screen's units; set by them, since they need what the server says of units. */
export const unitsHeader = { said: () => "" };
/** So long a write like one whose answer was lost is taken for its repeat. */
const REPEATED_WITHIN_MS = 10 * 60_000;
const STORED = "weftonos.unanswered";

/** A write as it was sent, so that it can be sent again. */
export interface Sent {
  key: string;
  method: string;
  url: string;
  body: string;
  headers: Record<string, string>;
  /** When it was done. */
  at: string;
}

/** The server did not answer. */
export class LostRequest extends Error {
  constructor(readonly sent: Sent | null) {
    super("no answer");
  }
}

/** A key that nobody else has. A page on plain HTTP has no `crypto.randomUUID`. */
export function newKey(): string {
  return Array.from(crypto.getRandomValues(new Uint8Array(16)), (byte) => byte.toString(16).padStart(2, "0")).join("");
}

type Unanswered = Record<string, { key: string; at: number }>;
function read(): Unanswered {
  try {
    return JSON.parse(sessionStorage.getItem(STORED) ?? "{}") as Unanswered;
  } catch {
    return {};
  }
}
const unanswered = read();
const keep = () => sessionStorage.setItem(STORED, JSON.stringify(unanswered));

/** The key for a write: that of one just like it which nobody has answered yet, else a new one. */
export function keyFor(signature: string, now = Date.now()): string {
  for (const [old, { at }] of Object.entries(unanswered))
    if (now - at > REPEATED_WITHIN_MS) Reflect.deleteProperty(unanswered, old);
  const { key } = (unanswered[signature] ??= { key: newKey(), at: now });
  keep();
  return key;
}

/** A write was answered, or waits to be sent again: the next one like it is another. */
export function settle(signature: string) {
  Reflect.deleteProperty(unanswered, signature);
  keep();
}

const signatureOf = (sent: Pick<Sent, "method" | "url" | "body">) => `${sent.method} ${sent.url} ${sent.body}`;
export const settleSent = (sent: Sent) => settle(signatureOf(sent));

/** The keys of this screen's last writes: what they changed it shows already. */
export const ownKeys = new Set<string>();
const MOST_OWN = 200;

/** Where the passcode is asked for; it leads back to the page that was left. */
function askForPasscode() {
  const back = location.pathname + location.search;
  location.assign(`/passcode?next=${encodeURIComponent(back)}`);
}

/** Sends a request of this page, a write with its key. */
export async function send(request: Request): Promise<Response> {
  if (unitsHeader.said()) request.headers.set(UNITS_HEADER, unitsHeader.said());
  if (request.method === "GET") {
    let response: Response;
    try {
      response = await fetch(request);
    } catch {
      throw new LostRequest(null);
    }
    if (response.status === 401) askForPasscode();
    return response;
  }
  const at = new Date().toISOString();
  const body = await request.clone().text();
  const { method, url } = request;
  const signature = signatureOf({ method, url, body });
  const key = keyFor(signature);
  ownKeys.add(key);
  if (ownKeys.size > MOST_OWN) ownKeys.delete([...ownKeys][0] ?? "");
  request.headers.set(KEY_HEADER, key);
  const headers = Object.fromEntries(request.headers.entries());
  const sent = { key, method, url, body, headers, at };
  const patience = new AbortController();
  const timer = NOTES.test(url) ? setTimeout(() => patience.abort(), ANSWERED_WITHIN_MS) : undefined;
  let response: Response;
  try {
    response = await fetch(request, { signal: patience.signal });
  } catch {
    throw new LostRequest(sent);
  } finally {
    clearTimeout(timer);
  }
  if (response.status === 401) {
    // The session is over: it waits until the passcode was given.
    window.setTimeout(askForPasscode, 300);
    throw new LostRequest(sent);
  }
  settle(signature);
  return response;
}
