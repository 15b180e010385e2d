import "fake-indexeddb/auto";
import { beforeEach, expect, it, vi } from "vitest";

const asked = vi.fn();
vi.mock("@tanstack/vue-query", () => ({
  useQueryClient: () => ({ invalidateQueries: asked, cancelQueries: () => Promise.resolve() }),
  useMutation: (options: {
    mutationFn: (input: unknown) => Promise<unknown>;
    onSuccess: () => unknown;
    onError: (problem: unknown) => void;
  }) => ({
    error: { value: null },
    isPending: { value: false },
    reset: () => undefined,
    async mutateAsync(input: unknown) {
      let done: unknown;
      try {
        done = await options.mutationFn(input);
      } catch (problem) {
        options.onError(problem);
        throw problem;
      }
      await options.onSuccess();
      return done;
    },
  }),
  useQuery: () => ({ data: { value: null } }),
  keepPreviousData: undefined,
}));
const said = vi.fn();
vi.mock("../src/notices", () => ({ say: said, hush: () => undefined }));

const { Problem } = await import("../src/api/client");
const { useSend } = await import("../src/composables/send");

beforeEach(() => {
  asked.mockReset().mockResolvedValue(undefined);
  said.mockReset();
});

/** What is sent, answered when the test says so. */
function held() {
  const answers: ((value: string) => void)[] = [];
  const send = vi.fn(() => new Promise<string>((answer) => answers.push(answer)));
  return { send, answer: (value = "done") => answers.shift()?.(value) };
}

it("takes a second tap on the same thing for the same tap, until it was answered and shown", async () => {
  const { send, answer } = held();
  const note = useSend(send, { says: (done) => done });
  const first = note.go();
  expect(await note.go()).toBeNull();
  answer();
  await first;
  expect(send).toHaveBeenCalledTimes(1);
  void note.go();
  expect(send).toHaveBeenCalledTimes(2);
});

it("says it as soon as it is written down, before what is shown was asked anew, and takes the form's next thing", async () => {
  let shown: (() => void) | undefined;
  asked.mockReturnValue(new Promise<void>((resolve) => (shown = resolve)));
  const { send, answer } = held();
  const emptied = vi.fn();
  const note = useSend(send, { says: (done) => done, then: emptied });
  const first = note.go();
  answer("Noted: 12 min.");
  await vi.waitFor(() => expect(said).toHaveBeenCalledWith("Noted: 12 min.", undefined));
  expect(emptied).toHaveBeenCalledOnce();
  void note.go();
  expect(send).toHaveBeenCalledTimes(2);
  shown?.();
  await first;
});

it("asks anew after a refusal, since another screen may be the reason, and not where there was no answer", async () => {
  const refused = useSend(() => Promise.reject(new Problem("Case A is in already.")));
  expect(await refused.go()).toBeNull();
  expect(asked).toHaveBeenCalled();
  asked.mockClear();
  const lost = useSend(() => Promise.reject(new Problem("No answer.", {}, true)));
  await lost.go();
  expect(asked).not.toHaveBeenCalled();
});
