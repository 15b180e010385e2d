import { afterEach, beforeEach, expect, it, vi } from "vitest";

type Told = { data: string };
class Source {
  static readonly CLOSED = 2;
  static readonly all: Source[] = [];
  readyState = 1;
  onopen?: () => void;
  onmessage?: (event: Told) => void;
  onerror?: () => void;
  stand?: (event: Told) => void;
  constructor(readonly address: string) {
    Source.all.push(this);
  }
  addEventListener(name: string, told: (event: Told) => void) {
    if (name === "stand") this.stand = told;
  }
  close() {
    this.readyState = Source.CLOSED;
  }
}
class Tabs {
  static all: Tabs[] = [];
  readonly said: unknown[] = [];
  onmessage?: (event: { data: unknown }) => void;
  constructor(readonly name: string) {
    Tabs.all.push(this);
  }
  postMessage(what: unknown) {
    this.said.push(what);
  }
}
const asked = vi.fn();
vi.mock("../src/api/queries", () => ({ askAnew: asked }));
let mine = true;
const lease = vi.fn<(what: string, who: string, ms: number) => Promise<boolean>>(() => Promise.resolve(mine));
const endLease = vi.fn(() => Promise.resolve());
vi.mock("../src/api/kept", () => ({ lease, endLease }));
let went = false;
const sendWaiting = vi.fn(() => Promise.resolve(went));
const keepSending = vi.fn<(sent: () => void) => void>();
vi.mock("../src/api/outbox", () => ({ sendWaiting, keepSending }));
const { ownKeys } = await import("../src/api/keys");
const { listen } = await import("../src/api/changes");

let closes: () => void;
const queries = {} as Parameters<typeof listen>[0];
const meta = { content: "opened-3" };

beforeEach(() => {
  vi.useFakeTimers();
  mine = true;
  went = false;
  Source.all.length = Tabs.all.length = 0;
  for (const each of [asked, lease, endLease, sendWaiting, keepSending]) each.mockClear();
  vi.stubGlobal("EventSource", Source);
  vi.stubGlobal("BroadcastChannel", Tabs);
  vi.stubGlobal("document", { querySelector: (what: string) => (what === "meta[name=stand]" ? meta : null) });
  vi.stubGlobal("window", {
    setTimeout: (run: () => void, after?: number) => setTimeout(run, after),
    clearTimeout: (id: number) => clearTimeout(id),
    setInterval: (run: () => void, every: number) => setInterval(run, every),
    addEventListener: (name: string, run: () => void) => name === "pagehide" && (closes = run),
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const soon = () => vi.advanceTimersByTimeAsync(200);
async function listening() {
  listen(queries);
  await vi.advanceTimersByTimeAsync(0);
  return { source: Source.all[0] as Source, tabs: Tabs.all[0] as Tabs };
}

it("listens for all tabs of this browser, and says so, while its turn lasts", async () => {
  const { source, tabs } = await listening();
  const me = lease.mock.calls[0]?.[1];
  expect([source.address, tabs.name, lease.mock.calls[0]]).toEqual([
    "/api/changes",
    "weftonos.changes",
    ["listening", me, 6000],
  ]);
  expect(tabs.said).toEqual([{ listens: me }]);
  await vi.advanceTimersByTimeAsync(2000);
  expect([lease.mock.calls.length, Source.all.length]).toEqual([2, 1]);
  // Another tab has the turn now.
  mine = false;
  await vi.advanceTimersByTimeAsync(2000);
  expect(source.readyState).toBe(Source.CLOSED);
  mine = true;
  await vi.advanceTimersByTimeAsync(2000);
  expect(Source.all).toHaveLength(2);
});

it("leaves listening to the tab whose turn it is, and hears from it", async () => {
  mine = false;
  listen(queries);
  await vi.advanceTimersByTimeAsync(0);
  expect(Source.all).toHaveLength(0);
  const tabs = Tabs.all[0] as Tabs;
  ownKeys.add("my-own");
  tabs.onmessage?.({ data: { key: "my-own" } });
  await soon();
  expect(asked).not.toHaveBeenCalled();
  tabs.onmessage?.({ data: { key: "theirs" } });
  await soon();
  expect(asked).toHaveBeenCalledExactlyOnceWith(queries);
  tabs.onmessage?.({ data: { key: "" } });
  await soon();
  expect(asked).toHaveBeenCalledTimes(2);
  expect(sendWaiting).not.toHaveBeenCalled();
  // The server is there again: what waits goes out, and what is shown is asked anew.
  tabs.onmessage?.({ data: { found: true } });
  await soon();
  expect(sendWaiting).toHaveBeenCalledOnce();
  expect(asked).toHaveBeenCalledTimes(3);
});

it("closes its own ear when another tab begins to listen", async () => {
  const { source, tabs } = await listening();
  tabs.onmessage?.({ data: { listens: "another" } });
  expect(source.readyState).toBe(Source.CLOSED);
});

it("tells the others what it hears, and shows several writes in a row once", async () => {
  const { source, tabs } = await listening();
  for (const key of ["a", "b", "c"]) source.onmessage?.({ data: JSON.stringify({ key }) });
  source.onmessage?.({ data: "{}" });
  await soon();
  expect(asked).toHaveBeenCalledOnce();
  expect(tabs.said.slice(1)).toEqual([{ key: "a" }, { key: "b" }, { key: "c" }, { key: "" }]);
});

it("asks anew where somebody wrote between the page and the ear, and not where nobody did", async () => {
  const { source } = await listening();
  source.stand?.({ data: '{"stand":"opened-3"}' });
  await soon();
  expect(asked).not.toHaveBeenCalled();
  source.stand?.({ data: '{"stand":"opened-4"}' });
  await soon();
  expect(asked).toHaveBeenCalledOnce();
});

it("sends what waits when it is first heard, and tells everybody when the server is found again", async () => {
  const { source, tabs } = await listening();
  source.onopen?.();
  await soon();
  // Nothing went out, and nothing has to be shown.
  expect([sendWaiting.mock.calls.length, asked.mock.calls.length]).toEqual([1, 0]);
  expect(tabs.said).toHaveLength(1);
  went = true;
  source.onopen?.();
  await soon();
  expect(tabs.said.at(-1)).toEqual({ found: true });
  expect(sendWaiting).toHaveBeenCalledTimes(2);
  expect(asked).toHaveBeenCalled();
});

it("shows what went out when it was first heard", async () => {
  went = true;
  const { source } = await listening();
  source.onopen?.();
  await soon();
  expect(asked).toHaveBeenCalledOnce();
});

it("tries a refused ear anew with the next turn, and leaves one alone that only broke off", async () => {
  const { source } = await listening();
  source.onerror?.();
  await soon();
  expect(asked).not.toHaveBeenCalled();
  source.readyState = Source.CLOSED;
  source.onerror?.();
  await soon();
  expect(asked).toHaveBeenCalledOnce();
  await vi.advanceTimersByTimeAsync(2000);
  expect(Source.all).toHaveLength(2);
  // The old one says it again: it is nobody's any more.
  source.onerror?.();
  await soon();
  expect(asked).toHaveBeenCalledOnce();
});

it("gives its turn back when the page is left, if it had it", async () => {
  const { source } = await listening();
  const me = lease.mock.calls[0]?.[1];
  closes();
  expect(endLease).toHaveBeenCalledExactlyOnceWith("listening", me);
  expect(source.readyState).toBe(Source.CLOSED);
  closes();
  expect(endLease).toHaveBeenCalledOnce();
});

it("shows what goes out later, and listens alone where tabs can't speak to each other", async () => {
  vi.stubGlobal("BroadcastChannel", undefined);
  listen(queries);
  await vi.advanceTimersByTimeAsync(0);
  Source.all[0]?.onmessage?.({ data: '{"key":"theirs"}' });
  await soon();
  expect(asked).toHaveBeenCalledOnce();
  keepSending.mock.calls[0]?.[0]();
  await soon();
  expect(asked).toHaveBeenCalledTimes(2);
});
