import { beforeEach, expect, it, vi } from "vitest";
import { effectScope, nextTick, reactive, ref } from "vue";
import { useDraft } from "../src/composables/draft";

const listeners = new Map<string, () => void>();
vi.stubGlobal("window", {
  setTimeout: (run: () => void, after?: number) => setTimeout(run, after),
  clearTimeout: (id: number) => clearTimeout(id),
  addEventListener: (name: string, run: () => void) => listeners.set(name, run),
  removeEventListener: (name: string) => listeners.delete(name),
});
beforeEach(() => localStorage.clear());

function opened() {
  const scope = effectScope();
  const minutes = ref("");
  const form = reactive({ name: "", tests: [] as number[] });
  const draft = scope.run(() => useDraft("test", reactive({ minutes, form })));
  if (!draft) throw new Error("no scope");
  return { scope, minutes, form, draft };
}

it("keeps what was typed over a change of station, and says so", async () => {
  const first = opened();
  expect(first.draft.state.restored).toBe(false);
  first.minutes.value = "45";
  first.form.name = "Avocet";
  first.form.tests.push(3);
  await nextTick();
  first.scope.stop();
  const again = opened();
  expect([again.minutes.value, again.form.name, again.form.tests]).toEqual(["45", "Avocet", [3]]);
  expect(again.draft.state.restored).toBe(true);
});

it("keeps it when the page goes, and forgets it when it was sent", async () => {
  const first = opened();
  first.minutes.value = "45";
  await nextTick();
  listeners.get("pagehide")?.();
  expect(opened().minutes.value).toBe("45");
  first.draft.drop();
  expect(first.minutes.value).toBe("");
  first.scope.stop();
  expect(opened().draft.state.restored).toBe(false);
});

it("passes over a draft that can't be read, and fields that are gone", () => {
  localStorage.setItem("weftonos.draft.test", "{broken");
  expect(opened().minutes.value).toBe("");
  localStorage.setItem("weftonos.draft.test", '{"gone": 1, "form": {"name": "Tern", "other": 2}}');
  const { form } = opened();
  expect([form.name, "other" in form]).toEqual(["Tern", false]);
});
