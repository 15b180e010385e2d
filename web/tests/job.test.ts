import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { effectScope } from "vue";
import { client, type Schemas } from "../src/api/client";
import { useJob } from "../src/composables/job";

type Job = Schemas["JobState"];
const state = (part: Partial<Job>): Job => ({
  id: "1",
  doing: "Counting",
  state: "running",
  done: 0,
  total: 3,
  problem: "",
  ...part,
});

vi.stubGlobal("window", {
  setTimeout: (run: () => void, after?: number) => setTimeout(run, after),
  clearTimeout: (id: number) => clearTimeout(id),
});

function within<T>(use: () => T): { found: T; leave: () => void } {
  const scope = effectScope();
  return { found: scope.run(use) as T, leave: () => scope.stop() };
}

describe("long work on the server", () => {
  beforeEach(() => vi.useFakeTimers());
  afterEach(() => {
    vi.useRealTimers();
    vi.restoreAllMocks();
  });

  it("is asked after until it is done, and tells what came of it", async () => {
    const asked = vi
      .spyOn(client, "GET")
      .mockResolvedValueOnce({ data: state({ done: 2 }), response: new Response() } as never)
      .mockResolvedValueOnce({ data: state({ state: "done", done: 3 }), response: new Response() } as never);
    const done = vi.fn();
    const { found, leave } = within(() => useJob(done));
    await found.start(() => Promise.resolve(state({})));
    expect(found.job.value?.done).toBe(0);
    await vi.advanceTimersByTimeAsync(260);
    expect(found.job.value?.done).toBe(2);
    await vi.advanceTimersByTimeAsync(260);
    expect(done).toHaveBeenCalledOnce();
    await vi.advanceTimersByTimeAsync(2000);
    expect(asked).toHaveBeenCalledTimes(2);
    leave();
  });

  it("says why it was refused", async () => {
    const { found, leave } = within(() => useJob(vi.fn()));
    await found.start(() => Promise.resolve(state({ state: "refused", problem: "That table has no rows." })));
    expect(found.problem.value).toBe("That table has no rows.");
    leave();
  });

  it("is broken off, and is not asked after again", async () => {
    const asked = vi.spyOn(client, "GET");
    vi.spyOn(client, "DELETE").mockResolvedValueOnce({
      data: state({ state: "broken_off" }),
      response: new Response(),
    } as never);
    const { found, leave } = within(() => useJob(vi.fn()));
    await found.start(() => Promise.resolve(state({})));
    await found.breakOff();
    expect(found.problem.value).toContain("Nothing was changed");
    await vi.advanceTimersByTimeAsync(2000);
    expect(asked).not.toHaveBeenCalled();
    leave();
  });

  it("is let go of with the page", async () => {
    const asked = vi.spyOn(client, "GET");
    const { found, leave } = within(() => useJob(vi.fn()));
    await found.start(() => Promise.resolve(state({})));
    leave();
    await vi.advanceTimersByTimeAsync(2000);
    expect(asked).not.toHaveBeenCalled();
  });
});
