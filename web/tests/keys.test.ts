import { afterEach, beforeEach, expect, it, vi } from "vitest";

type Keys = typeof import("../src/api/keys");
const NOTE = "http://weft/api/machines/1/runs";
let keys: Keys;
let fetched: Request[];
let answers: (request: Request, signal: AbortSignal | undefined) => Promise<Response>;
const place = { pathname: "/1/run", search: "?part=quilts", assign: vi.fn() };

beforeEach(async () => {
  vi.useFakeTimers({ now: new Date("2026-11-24T20:00:00Z") });
  sessionStorage.clear();
  fetched = [];
  answers = () => Promise.resolve(new Response("{}"));
  place.assign.mockClear();
  vi.stubGlobal("location", place);
  vi.stubGlobal("window", globalThis);
  vi.stubGlobal("fetch", (request: Request, more?: { signal?: AbortSignal }) => {
    fetched.push(request);
    return answers(request, more?.signal);
  });
  vi.resetModules();
  keys = await import("../src/api/keys");
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const write = (body = '{"minutes":12}', url = NOTE, method = "POST") => new Request(url, { method, body });
const keyOf = (request: Request | undefined) => request?.headers.get("idempotency-key");
const lost = async (request: Request) => {
  const said: unknown = await keys.send(request).catch((error: unknown) => error);
  if (!(said instanceof keys.LostRequest)) throw new Error("it was answered");
  return said;
};

it("tells the server this screen's units, once there are any", async () => {
  await keys.send(new Request("http://weft/api/machines"));
  expect(fetched[0]?.headers.has("x-units")).toBe(false);
  keys.unitsHeader.said = () => "gf,inch";
  await keys.send(new Request("http://weft/api/machines"));
  expect(fetched[1]?.headers.get("x-units")).toBe("gf,inch");
  expect(fetched[1]?.headers.has("idempotency-key")).toBe(false);
});

it("loses a question to a server that is away, and asks for the passcode where a session is over", async () => {
  answers = () => Promise.reject(new TypeError("away"));
  expect((await lost(new Request("http://weft/api/machines"))).sent).toBeNull();
  answers = () => Promise.resolve(new Response("", { status: 401 }));
  expect((await keys.send(new Request("http://weft/api/machines"))).status).toBe(401);
  expect(place.assign).toHaveBeenCalledWith("/passcode?next=%2F1%2Frun%3Fpart%3Dquilts");
});

it("sends a write with a key of its own, and its repeat after a lost answer with the same one", async () => {
  await keys.send(write());
  await keys.send(write());
  expect(keyOf(fetched[0])).toMatch(/^[0-9a-f]{32}$/);
  expect(keyOf(fetched[1])).not.toBe(keyOf(fetched[0]));
  answers = () => Promise.reject(new TypeError("away"));
  const { sent, message } = await lost(write());
  expect(message).toBe("no answer");
  expect(sent).toMatchObject({ method: "POST", url: NOTE, body: '{"minutes":12}', at: "2026-11-24T20:00:00.000Z" });
  expect(sent?.headers).toMatchObject({ "idempotency-key": sent?.key });
  await lost(write('{"minutes":13}'));
  await lost(write('{"minutes":12}', "http://weft/api/machines/2/runs"));
  await lost(write('{"minutes":12}', NOTE, "PUT"));
  await lost(write());
  const [, , first, otherBody, otherMachine, otherMethod, again] = fetched.map(keyOf);
  expect(again).toBe(first);
  expect(new Set([first, otherBody, otherMachine, otherMethod]).size).toBe(4);
  expect(keys.ownKeys.has(first ?? "")).toBe(true);
});

it("keeps the key of an unanswered write over a reload, for ten minutes", async () => {
  answers = () => Promise.reject(new TypeError("away"));
  await lost(write());
  vi.resetModules();
  keys = await import("../src/api/keys");
  vi.setSystemTime(new Date("2026-11-24T20:10:00Z"));
  await lost(write());
  vi.setSystemTime(new Date("2026-11-24T20:10:00.001Z"));
  await lost(write());
  const [first, reloaded, later] = fetched.map(keyOf);
  expect(reloaded).toBe(first);
  expect(later).not.toBe(first);
});

it("gives a write that waits a new key beside it, once it is settled", async () => {
  answers = () => Promise.reject(new TypeError("away"));
  const { sent } = await lost(write());
  if (!sent) throw new Error("it was a write");
  keys.settleSent(sent);
  await lost(write());
  expect(keyOf(fetched[1])).not.toBe(sent.key);
});

it("starts anew where what was stored can't be read", async () => {
  sessionStorage.setItem("weftonos.unanswered", "{");
  vi.resetModules();
  keys = await import("../src/api/keys");
  expect(keys.keyFor("POST x")).toHaveLength(32);
});

it("gives a note twelve seconds, and other writes the time they take", async () => {
  answers = (_, signal) =>
    new Promise((_found, refuse) => signal?.addEventListener("abort", () => refuse(new DOMException("aborted"))));
  const outcome = (request: Request) => {
    const state = { over: false };
    void keys.send(request).catch(() => (state.over = true));
    return state;
  };
  const [note, step, other] = [
    outcome(write()),
    outcome(write("{}", "http://weft/api/incidents/3/checks")),
    outcome(write("{}", "http://weft/api/exchange/import")),
  ];
  await vi.advanceTimersByTimeAsync(11_900);
  expect([note.over, step.over, other.over]).toEqual([false, false, false]);
  await vi.advanceTimersByTimeAsync(200);
  expect([note.over, step.over, other.over]).toEqual([true, true, false]);
});

it("lets a write wait for the passcode where the session is over", async () => {
  answers = () => Promise.resolve(new Response("", { status: 401 }));
  expect((await lost(write())).sent?.url).toBe(NOTE);
  expect(place.assign).not.toHaveBeenCalled();
  await vi.advanceTimersByTimeAsync(300);
  expect(place.assign).toHaveBeenCalledOnce();
});

it("remembers the keys of its last two hundred writes", async () => {
  for (let n = 0; n < 201; n++) await keys.send(write(`{"minutes":${String(n)}}`));
  expect(keys.ownKeys.size).toBe(200);
  expect(keys.ownKeys.has(keyOf(fetched[0]) ?? "")).toBe(false);
  expect(keys.ownKeys.has(keyOf(fetched[1]) ?? "")).toBe(true);
});
