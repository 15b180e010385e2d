import { nextTick, ref } from "vue";
import { answer, client, Problem, type Schemas } from "../api/client";
import { outbox, sendWaiting, wait } from "../api/outbox";
import type { Ref } from "vue";
import { useChange, useStrike } from "../api/queries";
import { hush, say } from "../notices";
import { holdFocus } from "./focus";
import { useHere, useMachine } from "./machine";
import { ifMatch } from "./seen";

/** Brings the hand to the first field that a sentence stands beside. */
async function toFirstWrong() {
  await nextTick();
  const said = document.querySelector("main .field-error");
  const field = said
    ?.closest("label, .field-group, form")
    ?.querySelector<HTMLElement>("input, textarea, [role=combobox]");
  field?.focus();
}

interface Options<Output> {
  /** What is said at the foot of the screen once it is written down. */
  says?: (done: Output) => string;
  /** Takes it back; offered beside what is said. */
  undo?: (done: Output) => () => void;
  /** Whether it waits for a server that is away, and is sent later. */
  waits?: boolean;
  /** What the form does afterwards: empty its fields, close. */
  then?: (done: Output) => void;
}

/** Sends something, says so, offers to take it back. What the server refuses stays in the form, with its sentences. */
export function useSend<Output, Input = void>(send: (input: Input) => Promise<Output>, options: Options<Output> = {}) {
  /** What is on its way: a second tap on the same thing is the same tap. */
  const underWay = new Set<string>();
  // It is said, and the form is done with it, as soon as it is written down; the button stays busy until what is shown
  // was asked anew.
  const change = useChange(async (input: Input) => {
    const done = await send(input);
    const says = options.says?.(done);
    if (says) say(says, options.undo?.(done));
    if (options.then) {
      options.then(done);
      // The form is at its next thing: the same words may well be said again. What has no form waits for what is shown.
      underWay.delete(JSON.stringify(input ?? null));
    }
    return done;
  });
  async function go(input: Input): Promise<Output | null> {
    const same = JSON.stringify(input ?? null);
    if (underWay.has(same)) return null;
    underWay.add(same);
    const giveBack = holdFocus();
    // An undo that is still in sight would take back something older than what is being done.
    hush();
    let done: Output;
    let written = false;
    try {
      // What was done before goes out before.
      if (options.waits && outbox.waiting.length) await sendWaiting();
      done = await change.mutateAsync(input);
      written = true;
    } catch (problem) {
      const sent = problem instanceof Problem ? problem.sent : null;
      if (problem instanceof Problem && Object.keys(problem.fields).length) void toFirstWrong();
      if (sent && options.waits) {
        await wait(sent);
        change.reset();
        say("No answer from the server. Saved in this browser, sent when it's back.");
        // A form that does not ask for the answer is done with it.
        if (options.then?.length === 0) (options.then as () => void)();
      }
      return null;
    } finally {
      // A form that was written down was let go of then: the next thing of these words may be on its way already.
      if (!written || !options.then) underWay.delete(same);
      giveBack();
    }
    return done;
  }
  /** The sentence that belongs to one of these fields, if the last try had one. */
  const error = (...fields: string[]) => fields.map((field) => change.error.value?.fields[field]).find(Boolean);
  /** Forgets the last try: what is sent after it is another thing, also where that try is still on its way. */
  function reset() {
    underWay.clear();
    change.reset();
  }
  return { go, error, problem: change.error, pending: change.isPending, reset };
}

type Entry = Schemas["Noted"];

/** Writes a record: says what it reads, and Undo strikes it out. */
export function useNote<Input = void>(
  send: (input: Input) => Promise<Entry>,
  options: Omit<Options<Entry>, "undo"> = {},
) {
  const strike = useStrike();
  return useSend(send, {
    says: (entry) => `Noted: ${entry.text}.`,
    undo: (entry) => () => strike.mutate(entry.id),
    waits: true,
    ...options,
  });
}

/** Puts threads of the drawer on top of this machine, by their ids. */
export function usePutOnTop(options: Omit<Options<Entry>, "undo"> = {}) {
  const here = useHere();
  return useNote(
    (top: number[]) => answer(client.POST("/api/machines/{machine_id}/top", { ...here(), body: { top } })),
    options,
  );
}

/**
 * Deletes a thing and puts it back: a thread, a packet, a case, a bobbin, a record. What is on a machine now is deleted
 * only after that was asked.
 */
export function useStriking(
  strike: (id: number, anyway: boolean) => Promise<unknown>,
  restore: (id: number) => Promise<unknown>,
) {
  const words = ref("");
  const back = useSend(restore);
  const away = useSend(async ([id, anyway]: [number, boolean]) => (await strike(id, anyway), id), {
    says: () => words.value,
    undo: (id) => () => void back.go(id),
  });
  async function out(id: number, says: string, anyway = false) {
    words.value = says;
    const done = await away.go([id, anyway]);
    const inUse = away.error("anyway");
    if (done === null && inUse) {
      away.reset();
      say(inUse, () => void out(id, says, true), "Delete anyway");
    }
    return done;
  }
  return { out, restore: back.go, problem: away.problem };
}

/** Strikes a record of the log out, and restores it. */
export const useStrikeRecord = () =>
  useStriking(
    (id) => answer(client.POST("/api/log/{record_id}/strike", { params: { path: { record_id: id } } })),
    (id) => answer(client.POST("/api/log/{record_id}/restore", { params: { path: { record_id: id } } })),
  );

/** Takes several records back at once, the last first: each then stands on what it was noted on. */
export const useTakeBack = (then?: () => void) =>
  useSend(
    async (records: number[]) => {
      for (const id of [...records].reverse())
        await answer(client.POST("/api/log/{record_id}/strike", { params: { path: { record_id: id } } }));
    },
    { says: () => "Taken back.", then },
  );

type Part = Partial<Schemas["Machine"]>;

/** Changes part of what is on record about a machine: its schools, its path; a typed part is read when it is sent. */
export function useMachineChange(machine: Ref<number>, options: Options<Schemas["MachineItem"]> = {}) {
  const known = useMachine(machine);
  return useSend(async (given: Part | (() => Part)) => {
    const part = typeof given === "function" ? given() : given;
    if (!known.value) throw new Error("the machine is not loaded");
    const put = (spec: Schemas["Machine"], version: number) => {
      const params = { path: { machine_id: machine.value }, header: ifMatch(version) };
      return answer(client.PUT("/api/machines/{machine_id}", { params, body: { ...spec, ...part } }));
    };
    try {
      return await put(known.value.spec, known.value.version);
    } catch (problem) {
      const conflict = problem instanceof Problem ? problem.conflict : undefined;
      // Another part was changed meanwhile, on another screen: this part goes on top of it.
      if (!conflict) throw problem;
      return put(conflict.now as Schemas["Machine"], conflict.version);
    }
  }, options);
}
