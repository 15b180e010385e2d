import { expect, it } from "vitest";
import { answer, asFile, Problem, type Conflict } from "../src/api/client";
import { LostRequest, type Sent } from "../src/api/keys";

type Call = { data?: unknown; error?: unknown; response?: Response };
const answered = (call: Call) => Promise.resolve(call);

/** What a call that is refused, or lost, leaves to be said. */
async function problem(call: Promise<Call>): Promise<Problem> {
  const said: unknown = await answer(call).catch((error: unknown) => error);
  if (!(said instanceof Problem)) throw new Error("it was taken");
  return said;
}

it("gives what was answered, also where that is nothing much", async () => {
  for (const data of [{ id: 3 }, [], 0, "", false, null]) expect(await answer(answered({ data }))).toEqual(data);
});

it("puts each sentence beside its field: the last name of its place, and the first sentence of several", async () => {
  const detail = [
    { loc: ["body", "pulls", 2, "value"], msg: "“abc” isn't a number." },
    { loc: ["body", "unit"], msg: "Say the unit." },
    { loc: ["body", "unit"], msg: "It is said twice." },
    { loc: [4], msg: "Nowhere in particular." },
  ];
  const said = await problem(answered({ error: { detail } }));
  expect(said.message).toBe("“abc” isn't a number.");
  expect(said.fields).toEqual({
    value: "“abc” isn't a number.",
    unit: "Say the unit.",
    body: "Nowhere in particular.",
  });
  expect([said.lost, said.conflict, said.sent]).toEqual([false, undefined, null]);
  expect(said).toBeInstanceOf(Error);
});

it.each<[string, unknown, string]>([
  ["a sentence alone", { detail: "Case A is in already." }, "Case A is in already."],
  ["no words", { detail: 3 }, "That didn't work."],
  ["an empty list", { detail: [] }, "That didn't work."],
  ["nothing", null, "That didn't work."],
  ["neither data nor error", undefined, "That didn't work."],
])("says what it can of %s", async (_what, error, says) => {
  const said = await problem(answered({ error }));
  expect([said.message, said.fields, said.conflict]).toEqual([says, {}, undefined]);
});

it("hands over what a row says now where somebody else has changed it, and only there", async () => {
  const now: Conflict & { detail: string } = { detail: "Somebody changed it.", now: { nickname: "Wren" }, version: 4 };
  const said = await problem(answered({ error: now }));
  expect([said.message, said.conflict?.version, said.conflict?.now]).toEqual([
    "Somebody changed it.",
    4,
    { nickname: "Wren" },
  ]);
  expect((await problem(answered({ error: { detail: "No." } }))).conflict).toBeUndefined();
});

it("keeps what got no answer, to be sent again; a question is only lost", async () => {
  const sent = { url: "http://weft/api/machines/1/runs", body: "{}", key: "k" } as unknown as Sent;
  const write = await problem(Promise.reject(new LostRequest(sent)));
  expect([write.lost, write.sent, write.fields]).toEqual([true, sent, {}]);
  expect(write.message).toBe("The server doesn't answer. What you typed is still here. Try again.");
  expect((await problem(Promise.reject(new TypeError("away")))).sent).toBeNull();
});

it("says that a write was made before, whatever its answer holds", async () => {
  const response = new Response("{}", { status: 208 });
  const said = await problem(answered({ data: { id: 1 }, response }));
  expect([said.message, said.lost]).toEqual(["This was noted already. It's in the log once.", false]);
  expect(await answer(answered({ data: 1, response: new Response("{}", { status: 201 }) }))).toBe(1);
});

it("sends a file as it is, by its type", () => {
  const { headers, bodySerializer } = asFile("text/csv");
  expect(headers).toEqual({ "content-type": "text/csv" });
  const file = new Blob(["a;b"]);
  expect(bodySerializer(file)).toBe(file);
});
