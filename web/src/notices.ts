import { reactive } from "vue";

interface Notice {
  text: string;
  undo?: () => void;
  /** What the button beside it says, where it is another thing than to take it back. */
  act?: string;
}

/** One line at the foot of the screen: what was just written down, with its undo. */
export const notice = reactive<{ now: Notice | null }>({ now: null });
let timer = 0;

/** Something else is being done: what was said, and its undo, is over. */
export function hush() {
  window.clearTimeout(timer);
  notice.now = null;
}

export function say(text: string, undo?: () => void, act?: string) {
  notice.now = { text, undo, act };
  window.clearTimeout(timer);
  timer = window.setTimeout(() => (notice.now = null), undo ? 12_000 : 6_000);
}
