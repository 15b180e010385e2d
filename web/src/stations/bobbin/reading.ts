import { computed, inject, provide, reactive, ref, watch, type InjectionKey } from "vue";
import { answer, client, type Problem, type Schemas } from "../../api/client";
import { useDraft } from "../../composables/draft";
import { allTyped, pullTyped } from "../../units";
import { useHere, useMachineId } from "../../composables/machine";
import { useNote } from "../../composables/send";

export type Unit = Schemas["ForceUnit"];
export const VERDICTS: Record<Schemas["Verdict"], string> = {
  on_target: "On target",
  low: "Low",
  high: "High",
  fluttering: "It flutters",
  check_unit: "Check the unit",
  no_target: "No target yet",
};

/** A reading on its way: pulls taken one after another, judged while they come, kept as one. */
function begin(station: () => Schemas["BobbinStation"]) {
  const machine = useMachineId();
  /** What the gauge is marked in; `null` until the first pull shows it. */
  const unit = ref<Unit | null>(station().unit);
  const caseId = ref(station().setup.case?.id ?? 0);
  watch(
    () => station().setup.case?.id,
    (id) => (caseId.value = id ?? caseId.value),
  );
  const conditions = reactive<Schemas["ReadingConditions"]>({ full_bobbin: null, lying_flat: null, phase: null });
  /** The number that the unit was told by, while nobody has said it. */
  const guessed = ref("");
  const both = ref(false);
  const entry = ref("");
  const low = ref("");
  const taking = ref<Schemas["Pull"][]>([]);
  const draft = useDraft(`reading ${machine.value}`, reactive({ entry, low, taking }));
  const field = ref<HTMLInputElement>();
  const refused = ref("");
  // Ready for the first number, without pulling the answer out of sight.
  watch(field, (input) => input?.focus({ preventScroll: true }));

  const body = computed(() => ({
    unit: unit.value,
    pulls: taking.value,
    case: caseId.value || null,
    conditions: { ...conditions },
  }));
  const judged = ref<Schemas["GaugeAnswer"] | null>(null);
  const here = useHere();
  const judge = (question: typeof body.value) =>
    answer(client.POST("/api/machines/{machine_id}/readings/judge", { ...here(), body: question }));
  watch(body, async (question) => {
    refused.value = "";
    judged.value = question.pulls.length ? await judge(question).catch(() => null) : null;
  });

  /** Pulls are taken one after another; who keeps the reading waits for the last of them. */
  let taken: Promise<void> = Promise.resolve();
  /** Adds the typed pull once the server has taken it as one; what it refuses goes back into the field. */
  function add() {
    if (both.value && !low.value) {
      [low.value, entry.value] = [entry.value, ""];
      return taken;
    }
    // The field is free at once: a quick hand types the next pull before this one is answered.
    const typed = { low: low.value, high: entry.value };
    entry.value = low.value = "";
    field.value?.focus({ preventScroll: true });
    return (taken = taken.then(() => take(typed)));
  }
  async function take(typed: { low: string; high: string }) {
    refused.value = "";
    try {
      const one = both.value
        ? allTyped({
            low: () => pullTyped("low", typed.low, unit.value),
            high: () => pullTyped("high", typed.high, unit.value),
          })
        : { value: pullTyped("value", typed.high, unit.value) };
      judged.value = await judge({ ...body.value, pulls: [...taking.value, one] });
      if (!unit.value) [unit.value, guessed.value] = [judged.value.unit, typed.high];
      taking.value = [...taking.value, one];
    } catch (problem) {
      refused.value = (problem as Problem).message;
      if (!entry.value) [low.value, entry.value] = [typed.low, typed.high];
    }
  }
  const keep = useNote(
    () => answer(client.POST("/api/machines/{machine_id}/readings", { ...here(), body: body.value })),
    { says: (kept) => `Saved: ${kept.text}.`, then: () => draft.drop() },
  );
  async function submit() {
    refused.value = "";
    // A number that still stands in the field counts.
    if (entry.value) await add();
    await taken;
    // What was refused is in the field again.
    if (entry.value) return;
    await keep.go();
    refused.value = keep.problem.value?.message ?? "";
  }

  return reactive({
    unit,
    guessed,
    caseId,
    conditions,
    both,
    entry,
    low,
    taking,
    draft,
    field,
    refused,
    judged,
    keep,
    add,
    submit,
  });
}

const READING: InjectionKey<ReturnType<typeof begin>> = Symbol("reading");

/** Begins a reading for a panel and what stands in it. */
export function beginReading(station: () => Schemas["BobbinStation"]) {
  const reading = begin(station);
  provide(READING, reading);
  return reading;
}

/** Returns the reading of the panel around. */
export function useReading() {
  const reading = inject(READING);
  if (!reading) throw new Error("There is no reading around.");
  return reading;
}
