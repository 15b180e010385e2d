import { onScopeDispose, reactive, readonly, watch } from "vue";

/**
 * What is being typed into a form stays when the station is changed, the page is loaded anew or the server is away. It
 * is kept in this browser, and dropped when it was sent or on purpose only.
 */
const PLACE = "weftonos.draft.";
/** Typing is kept at most so often. */
const KEPT_EVERY_MS = 300;

const isPlain = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);
/** Puts values into the fields a form has (or into any), and into those of a form within it. */
function put(form: object, values: object, any: boolean) {
  const fields = form as Record<string, unknown>;
  for (const [field, value] of Object.entries(values)) {
    if (!any && !(field in fields)) continue;
    const within = fields[field];
    if (isPlain(within) && isPlain(value)) put(within, value, false);
    else fields[field] = value;
  }
}

export function useDraft<T extends object>(name: string, form: T) {
  const place = PLACE + name;
  const empty = JSON.stringify(form);
  const state = reactive({ restored: false });
  try {
    const kept = localStorage.getItem(place);
    if (kept) {
      put(form, JSON.parse(kept) as object, empty === "{}");
      state.restored = JSON.stringify(form) !== empty;
    }
  } catch {
    localStorage.removeItem(place);
  }
  let timer = 0;
  const keep = () => {
    const now = JSON.stringify(form);
    if (now === empty) localStorage.removeItem(place);
    else localStorage.setItem(place, now);
  };
  watch(form, () => {
    window.clearTimeout(timer);
    timer = window.setTimeout(keep, KEPT_EVERY_MS);
  });
  window.addEventListener("pagehide", keep);
  onScopeDispose(() => {
    window.clearTimeout(timer);
    window.removeEventListener("pagehide", keep);
    if (!dropped) keep();
  });
  let dropped = false;
  /** Empties the form and forgets the draft: it was sent, or is not wanted. */
  function drop() {
    window.clearTimeout(timer);
    put(form, JSON.parse(empty) as object, false);
    localStorage.removeItem(place);
    state.restored = false;
    dropped = true;
    // What is typed after that is a draft again.
    window.setTimeout(() => (dropped = false));
  }
  return { drop, state: readonly(state) };
}
