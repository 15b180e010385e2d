import type { QueryClient } from "@tanstack/vue-query";
import { ownKeys } from "./keys";
import { keepSending, sendWaiting } from "./outbox";
import { askAnew } from "./queries";

/** Several writes in a row are shown once. */
const TOGETHER_MS = 150;

/** Hears of what other screens write, and shows it; sends what waits as soon as the server is there again. */
export function listen(queries: QueryClient) {
  let timer = 0;
  const show = () => {
    window.clearTimeout(timer);
    timer = window.setTimeout(() => void askAnew(queries), TOGETHER_MS);
  };
  const told = new EventSource("/api/changes");
  let first = true;
  told.onopen = () => {
    void sendWaiting().then((went) => went && show());
    // What happened while nobody listened is not told.
    if (!first) show();
    first = false;
  };
  told.onmessage = (event: MessageEvent<string>) => {
    const { key } = JSON.parse(event.data) as { key?: string };
    if (!key || !ownKeys.has(key)) show();
  };
  keepSending(show);
}
