import { optionalNumber, numbersIn } from "../../composables/fields";
import type { Schemas } from "../../api/client";
import { NO_COLOR } from "../../drawn";
import { begins, optionalMeters } from "../../units";

/** A label as it stands in the form: numbers as they are typed. */
export const EMPTY = {
  name: "",
  fiber: "polyester" as Schemas["Fiber"],
  construction: "multifilament" as Schemas["Construction"],
  value: "",
  system: "wt" as Schemas["WeightSystem"],
  strands: "1",
  perStrand: null as boolean | null,
  finish: "plain" as Schemas["ThreadFinish"],
  form: "cone" as Schemas["Form"],
  plies: "",
  color: NO_COLOR,
  bought: "",
  note: "",
  line: "",
  label: "",
  variegated: false,
  meters: "",
  price: "",
  rating: null as number | null,
  needle: "",
  holes: null as number | null,
  tests: [] as Schemas["HandTest"][],
};
export type LabelFields = typeof EMPTY;

const text = (n?: number | null) => (n == null ? "" : String(n));
/** Fills the form from a thread: one of the drawer, or one that a label's line names. */
export function fill(form: LabelFields, { thread, ...rest }: Schemas["DrawerThread"]) {
  Object.assign(form, {
    name: rest.name,
    color: rest.color ?? form.color,
    finish: rest.finish ?? "plain",
    form: rest.form ?? "cone",
    note: rest.note ?? "",
    line: rest.line ?? "",
    label: rest.label_text ?? "",
    variegated: rest.variegated ?? false,
    bought: rest.bought ?? "",
    plies: text(rest.plies),
    meters: rest.length_m == null ? "" : begins.stretch(rest.length_m),
    price: text(rest.price),
    rating: rest.rating ?? null,
    needle: rest.needle_named ?? "",
    holes: rest.holes ?? null,
    tests: [...(rest.hand_tests ?? [])],
    fiber: thread.fiber,
    construction: thread.construction,
    value: String(thread.value),
    system: thread.system,
    strands: String(thread.strands),
    perStrand: thread.per_strand ?? null,
  });
}

/** The weight as the label gives it. */
export const labeled = (form: LabelFields) => ({
  fiber: form.fiber,
  construction: form.construction,
  ...numbersIn({ value: form.value, strands: form.strands }),
  system: form.system,
  per_strand: form.perStrand,
});

/** The thread that a form describes. */
export const filled = (form: LabelFields): Schemas["DrawerThread"] => ({
  name: form.name,
  thread: labeled(form),
  color: form.color,
  finish: form.finish,
  form: form.form,
  note: form.note,
  line: form.line,
  plies: optionalNumber("plies", form.plies),
  bought: form.bought || null,
  hand_tests: form.tests,
  label_text: form.label,
  variegated: form.variegated,
  price: optionalNumber("price", form.price),
  length_m: optionalMeters("length_m", form.meters),
  rating: form.rating,
  needle_named: form.needle,
  holes: form.holes,
});
