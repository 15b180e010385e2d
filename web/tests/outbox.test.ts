import "fake-indexeddb/auto";
import { beforeEach, expect, it, vi } from "vitest";
import { fieldsOf, nicknames, sayWhat, withField } from "../src/api/describe";
import { allWaiting, dropWaiting, endLease, lease } from "../src/api/kept";
import { keyFor, settle } from "../src/api/keys";
import { leaveOut, outbox, sendWaiting, takeOver, tryAgain, wait } from "../src/api/outbox";

const NOON = "2026-11-25T12:00:00Z";
const sent = (key: string, machine = 1, body = "{}", at = NOON, tail = "looks") => ({
  key,
  method: "POST",
  url: `http://127.0.0.1/api/machines/${machine}/${tail}`,
  body,
  headers: { "idempotency-key": key },
  at,
});
interface Asked {
  key?: string;
  done?: string;
  body: unknown;
}
const answers = (...statuses: (number | "away")[]) => {
  const asked: Asked[] = [];
  const fetcher = vi.fn((_: unknown, init?: RequestInit) => {
    const headers = init?.headers as Record<string, string>;
    asked.push({ key: headers["idempotency-key"], done: headers["done-at"], body: init?.body });
    const status = statuses.shift() ?? 201;
    if (status === "away") return Promise.reject(new TypeError("no answer"));
    const body = status === 422 ? { detail: [{ msg: "The scale ends at 10.", loc: ["body", "setting"] }] } : {};
    return Promise.resolve(new Response(JSON.stringify(body), { status }));
  });
  return { asked, fetcher: fetcher as unknown as typeof fetch };
};
const keys = () => outbox.waiting.map((each) => each.key);
/** Another tab of the same browser: modules of its own, the same database. */
async function anotherTab() {
  vi.resetModules();
  return import("../src/api/outbox");
}
beforeEach(async () => {
  for (const { key } of await allWaiting()) await dropWaiting(key);
  localStorage.clear();
  await takeOver();
});

it("gives a repeat after a lost answer the same key, and the next one another", () => {
  const first = keyFor("POST /looks {}");
  expect(keyFor("POST /looks {}")).toBe(first);
  expect(keyFor("POST /looks {1}")).not.toBe(first);
  settle("POST /looks {}");
  expect(keyFor("POST /looks {}")).not.toBe(first);
  expect(keyFor("POST /late {}", 0)).not.toBe(keyFor("POST /late {}", 11 * 60_000));
});

it("sends what waits in order with when it was done, whatever its body says, and stops while the server is away", async () => {
  await wait(sent("a", 1, "", "2026-11-25T10:00:00Z", "clock/stop"));
  await wait(sent("b", 1, '{"name":"new","at":0}', "2026-11-25T10:01:00Z", "mark"));
  const away = answers(201, "away");
  expect(await sendWaiting(away.fetcher)).toBe(true);
  expect(keys()).toEqual(["b"]);
  const back = answers();
  await sendWaiting(back.fetcher);
  expect([away.asked[0]?.done, back.asked]).toEqual([
    "2026-11-25T10:00:00Z",
    [{ key: "b", done: "2026-11-25T10:01:00Z", body: '{"name":"new","at":0}' }],
  ]);
  expect(keys()).toEqual([]);
});

it.each([500, 503, 401, 429])("takes %i for no refusal: it waits and is sent again", async (status) => {
  await wait(sent("a"));
  await sendWaiting(answers(status).fetcher);
  expect(outbox.waiting.map((each) => [each.key, each.why])).toEqual([["a", undefined]]);
  const { asked, fetcher } = answers();
  await sendWaiting(fetcher);
  expect([asked.map((each) => each.key), keys()]).toEqual([["a"], []]);
});

it("holds up what comes after a refused one on the same machine only, says what it was, and lets it be mended", async () => {
  nicknames[1] = "Heron";
  for (const [key, machine] of [
    ["a", 1],
    ["b", 1],
    ["c", 2],
  ] as const)
    await wait(sent(key, machine, '{"setting":99}'));
  const refusing = answers(422);
  await sendWaiting(refusing.fetcher);
  expect(refusing.asked.map(({ key }) => key)).toEqual(["a", "c"]);
  expect(outbox.waiting.map(({ key, why, field }) => [key, why, field])).toEqual([
    ["a", "The scale ends at 10.", "setting"],
    ["b", undefined, undefined],
  ]);
  await sendWaiting(answers().fetcher);
  expect(keys()).toHaveLength(2);
  await tryAgain("a", withField('{"setting":99}', "setting", "9,5"));
  expect(outbox.waiting[0]?.words).toBe("Test line at 9.5, Heron");
  const mended = answers();
  await sendWaiting(mended.fetcher);
  expect(mended.asked.map(({ body }) => body)).toEqual(['{"setting":9.5}', '{"setting":99}']);
  await wait(sent("d"));
  await sendWaiting(answers(404).fetcher);
  await leaveOut("d");
  expect(keys()).toEqual([]);
});

it("takes a passcode that is asked for, or a server that is just opening, for no refusal", async () => {
  await wait(sent("a"));
  for (const status of [401, 429, 503]) {
    await sendWaiting(answers(status).fetcher);
    expect(outbox.waiting[0]?.why).toBeUndefined();
  }
});

it("keeps what two tabs note while the server is away, and sends each once", async () => {
  const other = await anotherTab();
  await Promise.all([wait(sent("mine")), other.wait(sent("yours")), wait(sent("mine too"))]);
  expect((await allWaiting()).map((each) => each.key).sort()).toEqual(["mine", "mine too", "yours"]);
  const { asked, fetcher } = answers();
  await Promise.all([sendWaiting(fetcher), other.sendWaiting(fetcher)]);
  await sendWaiting(fetcher);
  expect(asked.map(({ key }) => key).sort()).toEqual(["mine", "mine too", "yours"]);
  await other.takeOver();
  expect(other.outbox.waiting).toEqual([]);
});

it("lends a lease to one until it ends or is given back", async () => {
  expect(await lease("x", "a", 1000, 0)).toBe(true);
  expect(await lease("x", "b", 1000, 999)).toBe(false);
  expect(await lease("x", "a", 1000, 999)).toBe(true);
  expect(await lease("x", "b", 1000, 1500)).toBe(false);
  await endLease("x", "b");
  expect(await lease("x", "b", 1000, 1500)).toBe(false);
  await endLease("x", "a");
  expect(await lease("x", "b", 1000, 1500)).toBe(true);
  expect(await lease("x", "c", 1000, 2500)).toBe(true);
});

it("takes over what the version before had waiting: its moment out of the body, a mark's own 0 back", async () => {
  const former = (key: string, tail: string, body: object | null) => ({
    ...sent(key, 1, body ? JSON.stringify(body) : "", NOON, tail),
    words: tail,
  });
  const waited = [
    former("a", "clock/stop", null),
    former("b", "mark", { name: "new", at: NOON }),
    former("c", "bobbin/again", { emptied: true, at: NOON }),
    former("d", "runs", { minutes: 12, quilt: "Avocet", at: "2026-11-24T08:00:00Z" }),
  ];
  localStorage.setItem("weftonos.outbox", JSON.stringify(waited));
  await takeOver();
  expect(localStorage.getItem("weftonos.outbox")).toBeNull();
  expect(outbox.waiting.map((each) => [each.key, each.at, each.body])).toEqual([
    ["a", NOON, ""],
    ["b", NOON, '{"name":"new","at":0}'],
    ["c", NOON, '{"emptied":true}'],
    ["d", NOON, '{"minutes":12,"quilt":"Avocet","at":"2026-11-24T08:00:00Z"}'],
  ]);
});

it("says what each write says", () => {
  nicknames[3] = "Wren";
  const said = (tail: string, body: object) =>
    sayWhat({ url: `http://127.0.0.1/api/machines/3/${tail}`, body: JSON.stringify(body) });
  expect(said("runs", { minutes: 12, quilt: "Avocet" })).toBe("12 min on Avocet, Wren");
  expect(said("ladders", { rows: [{ steps: [1, 2] }, { steps: [3] }] })).toBe("Test strip, 3 lines, Wren");
  expect(said("something-new", {})).toBe("something new, Wren");
});

it.each([
  ["runs", { minutes: 12 }, "12 min"],
  ["clock/start", { quilt: "Avocet" }, "Clock started on Avocet"],
  ["clock/start", {}, "Clock started"],
  ["clock/stop", {}, "Clock stopped"],
  ["breaks", { symptom: "clean_snap_of_the_top" }, "Thread broke, kept going: clean snap of the top"],
  ["bobbin/again", { emptied: true }, "New bobbin, old one empty"],
  ["bobbin/again", {}, "New bobbin"],
  ["bobbin/put-back", {}, "Case put back"],
  ["bobbin", {}, "Bobbin loaded"],
  ["top", {}, "Top thread changed"],
  ["needle/retire", {}, "Needle taken out"],
  ["needle", { metric: 90, american: 14 }, "Needle 90/14 fitted"],
  ["sandwich", {}, "Layers changed"],
  ["readings", { pulls: [1] }, "Bobbin reading, 1 pull"],
  ["readings", { pulls: [1, 2] }, "Bobbin reading, 2 pulls"],
  ["readings", {}, "Bobbin reading, 0 pulls"],
  ["hang-test", { grams: 20 }, "Hang test, 20 g"],
  ["hand-looks", {}, "Bobbin tested by hand"],
  ["purpose", {}, "What the bobbin is set for"],
  ["screw", { minutes: -5 }, "Screw turned -5 min"],
  ["marks", {}, "Case or bobbin marked"],
  ["looks", { setting: 4.5 }, "Test line at 4.5"],
  ["ladders", {}, "Test strip, 0 lines"],
  ["ladders", { rows: [{}] }, "Test strip, 0 lines"],
  ["knob", { setting: null }, "Top tension on automatic"],
  ["knob", { setting: 4 }, "Top tension at 4"],
  ["mark", { name: "Blue dot" }, "Mark reset: Blue dot"],
  ["mark", {}, "Mark reset"],
  ["good-enough", {}, "Good enough as it is"],
  ["recipes/12/use", {}, "Recipe begun"],
  ["recipe-in-use/done", {}, "Recipe: all moves done"],
  ["recipe-in-use/drop", {}, "Recipe left off"],
  ["recipes", { name: "Avocet" }, "Recipe saved: Avocet"],
  ["quilt", { quilt: "Knot" }, "Quilt: Knot"],
  ["preflight", { done: ["a", "b"] }, "Checklist, 2 checks"],
  ["upkeep", { what: "part_changed" }, "Upkeep: part changed"],
  ["checks", { cause: "hook_dry" }, "Checked: hook dry"],
  ["answers", {}, "Question answered"],
  ["outcome", {}, "Trouble closed"],
])("says what %s says of %o: %s", (tail, body, says) => {
  nicknames[12] = "Plover";
  const url = (machine: string) => `http://127.0.0.1/api/${machine}/${tail}`;
  expect(sayWhat({ url: url("machines/12"), body: JSON.stringify(body) })).toBe(`${says}, Plover`);
  expect(sayWhat({ url: url("incidents/12"), body: JSON.stringify(body) })).toBe(says);
  // Only the end of an address says what was written.
  expect(sayWhat({ url: `${url("machines/12")}/more-of-it`, body: "{}" })).toBe("more of it, Plover");
});

it("says what a write without a body, or with one nobody can read, says by its address alone", () => {
  const url = "http://127.0.0.1/api/incidents/12/answers";
  for (const body of ["", "null", "{"]) expect(sayWhat({ url, body })).toBe("Question answered");
  expect(sayWhat({ url: "http://127.0.0.1/api/machines/12/runs", body: '{"minutes":[1]}' })).toBe(" min, Plover");
});

it("offers the fields of a body that can be typed anew", () => {
  expect(fieldsOf('{"kind":"run","minutes":12,"quilt":"Avocet","done":["a"],"emptied":true,"note":null}')).toEqual([
    ["minutes", 12],
    ["quilt", "Avocet"],
  ]);
  expect([fieldsOf(""), fieldsOf("{")]).toEqual([[], []]);
});

it("leaves a number a number where it still is one", () => {
  expect(withField('{"minutes":12,"quilt":"A"}', "minutes", "7,5")).toBe('{"minutes":7.5,"quilt":"A"}');
  expect(withField('{"minutes":12}', "minutes", "seven")).toBe('{"minutes":"seven"}');
  expect(withField('{"minutes":12}', "minutes", " ")).toBe('{"minutes":" "}');
  expect(withField('{"quilt":"A"}', "quilt", "7")).toBe('{"quilt":"7"}');
});
