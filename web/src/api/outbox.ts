import { reactive } from "vue";
import { settleSent, type Sent } from "./keys";

/** What was noted while the server was away. It goes out in order; a refused one holds up what was noted after it. */
export interface Waiting extends Sent {
  words: string;
  at: string;
  /** Why the server refused it. */
  why?: string;
}
const STORED = "weftonos.outbox";
const TRY_EVERY_MS = 3000;

function stored(): Waiting[] {
  try {
    return JSON.parse(localStorage.getItem(STORED) ?? "[]") as Waiting[];
  } catch {
    return [];
  }
}
export const outbox = reactive<{ waiting: Waiting[] }>({ waiting: stored() });
const keep = () => localStorage.setItem(STORED, JSON.stringify(outbox.waiting));

/** The moment at which it was done goes with it, since it is noted later. */
export function dated(body: string, at: string): string {
  if (!body) return body;
  const said = JSON.parse(body) as unknown;
  const plain = typeof said === "object" && said !== null && !Array.isArray(said);
  return plain && !("at" in said && said.at) ? JSON.stringify({ ...said, at }) : body;
}

/** Keeps a write that got no answer, to be sent again. */
export function wait(sent: Sent, at = new Date().toISOString()) {
  settleSent(sent);
  outbox.waiting.push({ ...sent, body: dated(sent.body, at), words: wordsFor(sent.url), at });
  keep();
}

/** What it is about, by its address: "hand looks". */
const wordsFor = (url: string) =>
  decodeURIComponent(new URL(url).pathname)
    .replace(/^\/api\/(machines\/\d+\/)?/, "")
    .replace(/[/-]/g, " ");

export function leaveOut(key: string) {
  outbox.waiting = outbox.waiting.filter((each) => each.key !== key);
  keep();
}

/** The address up to the machine it is about: what was noted later on the same one waits for it. */
const about = (each: Sent) => /\/api\/machines\/\d+/.exec(each.url)?.[0] ?? each.url;

let sending = false;
/** Sends what waits, oldest first, until the server is away again or all is sent; says whether anything went out. */
export async function sendWaiting(fetcher: typeof fetch = fetch): Promise<boolean> {
  if (sending) return false;
  sending = true;
  const held = new Set<string>();
  let went = false;
  try {
    for (const each of [...outbox.waiting]) {
      if (each.why) held.add(about(each));
      if (held.has(about(each))) continue;
      let response: Response;
      try {
        response = await fetcher(each.url, { method: each.method, headers: each.headers, body: each.body || null });
      } catch {
        return went;
      }
      if (response.ok) {
        leaveOut(each.key);
        went = true;
      } else if (response.status >= 500) {
        return went;
      } else {
        const said = (await response.json().catch(() => null)) as { detail?: string | { msg: string }[] } | null;
        const detail = said?.detail;
        const found = outbox.waiting.find((other) => other.key === each.key);
        if (found) found.why = (typeof detail === "string" ? detail : detail?.[0]?.msg) ?? "The server refused it.";
        held.add(about(each));
        keep();
      }
    }
    return went;
  } finally {
    sending = false;
  }
}

/** Tries now and then while something waits. */
export function keepSending(sent: () => void) {
  window.setInterval(() => {
    if (outbox.waiting.some((each) => !each.why)) void sendWaiting().then((went) => went && sent());
  }, TRY_EVERY_MS);
}

export function tryAgain(key: string) {
  const found = outbox.waiting.find((each) => each.key === key);
  if (found) delete found.why;
  keep();
}
