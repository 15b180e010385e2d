import "fake-indexeddb/auto";
import { beforeEach, expect, it, vi } from "vitest";
import { ref } from "vue";

const error = { value: null as unknown };
const strikes = vi.fn();
vi.mock("../src/api/queries", () => ({
  useChange: (change: (input: unknown) => Promise<unknown>) => ({
    error,
    isPending: { value: false },
    reset: () => (error.value = null),
    mutateAsync: (input: unknown) =>
      change(input).catch((problem: unknown) => {
        error.value = problem;
        throw problem;
      }),
  }),
  useStrike: () => ({ mutate: strikes }),
}));
const said: { text: string; undo?: () => void; act?: string }[] = [];
const hushed = vi.fn();
vi.mock("../src/notices", () => ({
  say: (text: string, undo?: () => void, act?: string) => said.push({ text, undo, act }),
  hush: hushed,
}));
const spec = { nickname: "Wren", kind: "home" };
const known = { value: { spec, version: 2 } as { spec: object; version: number } | undefined };
vi.mock("../src/composables/machine", () => ({
  useHere: () => () => ({ params: { path: { machine_id: 7 } } }),
  useMachine: () => known,
}));
const called: { method: string; path: string; options: Record<string, unknown> }[] = [];
let answers: unknown[] = [];
vi.mock("../src/api/client", async (original) => {
  const real = await original<typeof import("../src/api/client")>();
  const call = (method: string) => (path: string, options: Record<string, unknown>) => {
    called.push({ method, path, options });
    const next = answers.shift() ?? { data: { id: 5, text: "Top thread: Tern 40" } };
    return Promise.resolve(next);
  };
  return { ...real, client: { POST: call("POST"), PUT: call("PUT") } };
});
const waited: unknown[] = [];
const sendWaiting = vi.fn(() => Promise.resolve(true));
const outbox = { waiting: [] as unknown[] };
vi.mock("../src/api/outbox", () => ({
  outbox,
  sendWaiting,
  wait: (sent: unknown) => Promise.resolve(void waited.push(sent)),
}));

const { Problem } = await import("../src/api/client");
const { useMachineChange, useNote, usePutOnTop, useSend, useStrikeRecord, useTakeBack } =
  await import("../src/composables/send");
const SENT = { key: "k", method: "POST", url: "http://weft/api/machines/1/runs", body: "{}", headers: {}, at: "" };
const lost = () => new Problem("The server doesn't answer.", {}, true, undefined, SENT);
const refused = (fields: Record<string, string>) => new Problem(Object.values(fields)[0] ?? "No.", fields);

/** The first sentence on the page and the field that it stands beside. */
const focused = vi.fn();
const beside = { querySelector: () => ({ focus: focused }) };
const sentence = { closest: (where: string) => (where.startsWith("label") ? beside : null) };
vi.stubGlobal("document", {
  activeElement: null,
  querySelector: (what: string) => (what === "main .field-error" ? sentence : null),
});
const refusal = (field: string, msg: string) => ({ error: { detail: [{ loc: ["body", field], msg }] } });

beforeEach(() => {
  focused.mockClear();
  error.value = null;
  said.length = called.length = waited.length = outbox.waiting.length = 0;
  answers = [];
  known.value = { spec, version: 2 };
  strikes.mockClear();
  hushed.mockClear();
  sendWaiting.mockClear();
});

it("says what was written down and takes it back; an undo that stood there before is gone", async () => {
  const back = vi.fn();
  const note = useSend((n: number) => Promise.resolve(n), { says: (n) => `Noted ${n}.`, undo: (n) => () => back(n) });
  expect(await note.go(3)).toBe(3);
  expect(hushed).toHaveBeenCalledOnce();
  expect(said.map((each) => each.text)).toEqual(["Noted 3."]);
  said[0]?.undo?.();
  expect(back).toHaveBeenCalledWith(3);
  // Where there is nothing to say, nothing is said.
  await useSend(() => Promise.resolve(1), { says: () => "" }).go();
  expect(said).toHaveLength(1);
});

it("leaves a refusal in the form, by its fields, until the next try; it may be sent again at once", async () => {
  let refuse = true;
  const note = useSend<string, string>(() =>
    refuse ? Promise.reject(refused({ minutes: "Say the minutes." })) : Promise.resolve("done"),
  );
  expect(await note.go("a")).toBeNull();
  expect(note.error("quilt", "minutes")).toBe("Say the minutes.");
  expect(note.error("quilt")).toBeUndefined();
  expect(said).toEqual([]);
  // The hand is led to the field.
  await vi.waitFor(() => expect(focused).toHaveBeenCalledOnce());
  refuse = false;
  expect(await note.go("a")).toBe("done");
  note.reset();
  expect(note.error("minutes")).toBeUndefined();
});

it("lets what waits go out first, and lets a write that got no answer wait, and says so", async () => {
  outbox.waiting.push({});
  const emptied = vi.fn();
  const note = useSend(() => Promise.reject(lost()), { waits: true, then: () => emptied() });
  expect(await note.go()).toBeNull();
  expect(sendWaiting).toHaveBeenCalledOnce();
  expect(waited).toEqual([SENT]);
  expect(said.map((each) => each.text)).toEqual([
    "No answer from the server. Saved in this browser, sent when it's back.",
  ]);
  expect(emptied).toHaveBeenCalledOnce();
  expect(error.value).toBeNull();
});

it("does not let wait what must be answered now, nor close a form that needs the answer", async () => {
  const closed = vi.fn();
  const now = useSend(() => Promise.reject(lost()), { then: () => closed() });
  await now.go();
  expect([waited, said, closed.mock.calls]).toEqual([[], [], []]);
  expect(focused).not.toHaveBeenCalled();
  expect(sendWaiting).not.toHaveBeenCalled();
  expect(error.value).toBeInstanceOf(Problem);
  const needs = useSend(() => Promise.reject(lost()), { waits: true, then: (done: never) => closed(done) });
  await needs.go();
  expect(waited).toEqual([SENT]);
  expect(closed).not.toHaveBeenCalled();
});

it("takes other words for another tap, and after a reset the same ones", async () => {
  const send = vi.fn<(words: string) => Promise<string>>(() => new Promise(() => undefined));
  const note = useSend(send);
  void note.go("one");
  expect(await note.go("one")).toBeNull();
  void note.go("two");
  expect(send).toHaveBeenCalledTimes(2);
  note.reset();
  void note.go("one");
  expect(send).toHaveBeenCalledTimes(3);
});

it("notes a record in its own words, and its undo deletes it", async () => {
  const note = useNote(() => Promise.resolve({ id: 9, text: "20 min on Avocet" } as never));
  await note.go();
  expect(said[0]?.text).toBe("Noted: 20 min on Avocet.");
  said[0]?.undo?.();
  expect(strikes).toHaveBeenCalledWith(9);
  const offline = useNote(() => Promise.reject(lost()));
  await offline.go();
  expect(waited).toEqual([SENT]);
});

it("puts threads on top of this machine", async () => {
  await usePutOnTop().go([4, 2]);
  expect(called).toEqual([
    {
      method: "POST",
      path: "/api/machines/{machine_id}/top",
      options: { params: { path: { machine_id: 7 } }, body: { top: [4, 2] } },
    },
  ]);
});

const paths = () => called.map(({ path, options }) => [path, (options.params as { path: object }).path]);

it("deletes a record and puts it back", async () => {
  const records = useStrikeRecord();
  answers = [{ data: {} }, { data: {} }];
  expect(await records.out(11, "Deleted.")).toBe(11);
  expect(said[0]?.text).toBe("Deleted.");
  said[0]?.undo?.();
  await vi.waitFor(() => expect(called).toHaveLength(2));
  expect(paths()).toEqual([
    ["/api/log/{record_id}/strike", { record_id: 11 }],
    ["/api/log/{record_id}/restore", { record_id: 11 }],
  ]);
});

it("asks before it deletes what is on a machine now, and deletes it then", async () => {
  answers = [refusal("anyway", "It is in Plover now."), { data: {} }];
  const records = useStrikeRecord();
  expect(await records.out(3, "Deleted.")).toBeNull();
  expect([said[0]?.text, said[0]?.act]).toEqual(["It is in Plover now.", "Delete anyway"]);
  said[0]?.undo?.();
  await vi.waitFor(() => expect(said).toHaveLength(2));
  expect(said[1]?.text).toBe("Deleted.");
  // What is refused for another reason stays refused.
  answers = [refusal("id", "There is no such record.")];
  await records.out(4, "Deleted.");
  expect(said).toHaveLength(2);
  expect(records.problem.value?.message).toBe("There is no such record.");
});

it("takes several records back, the last first, and leaves the list as it was", async () => {
  const list = [1, 2, 3];
  const then = vi.fn();
  await useTakeBack(then).go(list);
  expect(paths().map(([, path]) => path)).toEqual([{ record_id: 3 }, { record_id: 2 }, { record_id: 1 }]);
  expect([list, said[0]?.text, then.mock.calls.length]).toEqual([[1, 2, 3], "Taken back.", 1]);
});

it("changes part of a machine on the version that was seen", async () => {
  await useMachineChange(ref(7)).go({ nickname: "Plover" } as never);
  await useMachineChange(ref(7)).go((() => ({ nickname: "Tern" })) as never);
  expect(called.map(({ options }) => options)).toEqual(
    ["Plover", "Tern"].map((nickname) => ({
      params: { path: { machine_id: 7 }, header: { "if-match": '"2"' } },
      body: { nickname, kind: "home" },
    })),
  );
});

it("puts its part on top of what another screen has changed meanwhile", async () => {
  const now = { nickname: "Wren", kind: "longarm" };
  answers = [{ error: { detail: "Somebody changed it.", now, version: 5 } }, { data: {} }];
  await useMachineChange(ref(7)).go({ nickname: "Plover" } as never);
  expect(called[1]?.options).toEqual({
    params: { path: { machine_id: 7 }, header: { "if-match": '"5"' } },
    body: { nickname: "Plover", kind: "longarm" },
  });
  // Anything else is a refusal.
  answers = [refusal("nickname", "Say a name.")];
  const change = useMachineChange(ref(7));
  expect(await change.go({ nickname: "" } as never)).toBeNull();
  expect(change.error("nickname")).toBe("Say a name.");
  expect(called).toHaveLength(3);
});
