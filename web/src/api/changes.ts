import type { QueryClient } from "@tanstack/vue-query";
import { endLease, lease } from "./kept";
import { newKey, ownKeys } from "./keys";
import { keepSending, sendWaiting } from "./outbox";
import { askAnew } from "./queries";

/** Several writes in a row are shown once. */
const TOGETHER_MS = 150;
/** One tab listens for all tabs of this browser, since it may hold six connections in all; renewed in time. */
const LEASE_MS = 6_000;
const RENEW_EVERY_MS = 2_000;
const ME = newKey();
/** How the workshop stood when this page was served; what was asked since is at least as new. */
const served = () => document.querySelector<HTMLMetaElement>("meta[name=stand]")?.content;

/** What tabs tell each other: something was written, the server was found again, or another tab listens now. */
type Told = { key: string } | { found: true } | { listens: string };

/** Hears of what other screens write, and shows it; sends what waits as soon as the server is there again. */
export function listen(queries: QueryClient) {
  let timer = 0;
  const show = () => {
    window.clearTimeout(timer);
    timer = window.setTimeout(() => void askAnew(queries), TOGETHER_MS);
  };
  const tabs = typeof BroadcastChannel === "undefined" ? null : new BroadcastChannel("weftonos.changes");
  const wrote = (key: string) => {
    if (!key || !ownKeys.has(key)) show();
  };
  const found = () => {
    void sendWaiting().then((went) => went && show());
    show();
  };

  let source: EventSource | null = null;
  function hear() {
    let first = true;
    const mine = new EventSource("/api/changes");
    mine.onopen = () => {
      // What happened while nobody listened is not told.
      if (first) void sendWaiting().then((went) => went && show());
      else {
        found();
        tabs?.postMessage({ found: true } satisfies Told);
      }
      first = false;
    };
    mine.addEventListener("stand", (event: MessageEvent<string>) => {
      const { stand } = JSON.parse(event.data) as { stand: string };
      // Between this page, or the last tab's end, and now somebody may have written.
      if (stand !== served()) show();
    });
    mine.onmessage = (event: MessageEvent<string>) => {
      const { key } = JSON.parse(event.data) as { key?: string };
      wrote(key ?? "");
      tabs?.postMessage({ key: key ?? "" } satisfies Told);
    };
    mine.onerror = () => {
      // A refusal ends it for good: it is tried anew with the next turn, and until then what is shown is asked for.
      if (mine.readyState !== EventSource.CLOSED || source !== mine) return;
      source = null;
      show();
    };
    return mine;
  }
  function hush() {
    source?.close();
    source = null;
  }
  async function turn() {
    const mine = await lease("listening", ME, LEASE_MS);
    if (!mine) hush();
    else if (!source) {
      source = hear();
      tabs?.postMessage({ listens: ME } satisfies Told);
    }
  }
  if (tabs) {
    tabs.onmessage = ({ data }: MessageEvent<Told>) => {
      if ("listens" in data) hush();
      else if ("found" in data) found();
      else wrote(data.key);
    };
  }
  window.addEventListener("pagehide", () => {
    if (source) void endLease("listening", ME);
    hush();
  });
  window.setInterval(() => void turn(), RENEW_EVERY_MS);
  void turn();
  keepSending(show);
}
