import { beforeEach, expect, it, vi } from "vitest";
import { keyFor, settle } from "../src/api/keys";
import { leaveOut, outbox, sendWaiting, tryAgain, wait } from "../src/api/outbox";

const sent = (key: string, machine = 1, body = "{}") => ({
  key,
  method: "POST",
  url: `http://127.0.0.1/api/machines/${machine}/looks`,
  body,
  headers: { "idempotency-key": key },
});
const answers = (...statuses: (number | "away")[]) => {
  const asked: string[] = [];
  const fetcher = vi.fn((_: unknown, init?: RequestInit) => {
    asked.push((init?.headers as Record<string, string>)["idempotency-key"] ?? "");
    const status = statuses.shift() ?? 201;
    if (status === "away") return Promise.reject(new TypeError("no answer"));
    const body = status === 422 ? { detail: [{ msg: "The scale ends at 10." }] } : {};
    return Promise.resolve(new Response(JSON.stringify(body), { status }));
  });
  return { asked, fetcher: fetcher as unknown as typeof fetch };
};
beforeEach(() => {
  outbox.waiting = [];
  localStorage.clear();
});

it("gives a repeat after a lost answer the same key, and the next one another", () => {
  const first = keyFor("POST /looks {}");
  expect(keyFor("POST /looks {}")).toBe(first);
  expect(keyFor("POST /looks {1}")).not.toBe(first);
  settle("POST /looks {}");
  expect(keyFor("POST /looks {}")).not.toBe(first);
  expect(keyFor("POST /late {}", 0)).not.toBe(keyFor("POST /late {}", 11 * 60_000));
});

it("sends what waits in order, with when it was done, and stops while the server is away", async () => {
  wait(sent("a"), "2026-11-25T10:00:00Z");
  wait(sent("b", 1, '{"at":"2026-11-25T09:00:00Z"}'), "2026-11-25T10:01:00Z");
  expect(outbox.waiting.map((each) => each.words)).toEqual(["looks", "looks"]);
  expect(JSON.parse(outbox.waiting[0]?.body ?? "")).toEqual({ at: "2026-11-25T10:00:00Z" });
  expect(JSON.parse(outbox.waiting[1]?.body ?? "")).toEqual({ at: "2026-11-25T09:00:00Z" });
  const away = answers(201, "away");
  expect(await sendWaiting(away.fetcher)).toBe(true);
  expect(outbox.waiting.map((each) => each.key)).toEqual(["b"]);
  const back = answers();
  await sendWaiting(back.fetcher);
  expect([back.asked, outbox.waiting]).toEqual([["b"], []]);
});

it("holds up what comes after a refused one on the same machine, and says why", async () => {
  for (const [key, machine] of [
    ["a", 1],
    ["b", 1],
    ["c", 2],
  ] as const)
    wait(sent(key, machine));
  await sendWaiting(answers(422).fetcher);
  expect(outbox.waiting.map((each) => [each.key, each.why])).toEqual([
    ["a", "The scale ends at 10."],
    ["b", undefined],
  ]);
  await sendWaiting(answers().fetcher);
  expect(outbox.waiting).toHaveLength(2);
  tryAgain("a");
  await sendWaiting(answers(422).fetcher);
  leaveOut("a");
  await sendWaiting(answers(208).fetcher);
  expect(outbox.waiting).toEqual([]);
});
