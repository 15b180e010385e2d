/** So long a button that is busy is waited for, and how often it is looked at. */
const WAITS_MS = 2000;
const EVERY_MS = 25;

const lost = () => !document.activeElement || document.activeElement === document.body;

/**
 * Holds what has the focus while something is done: a button that was busy has it again, and where that is gone, the
 * answer of the page has it. Never the page itself, from where the next Tab would begin at the top.
 */
export function holdFocus(): () => void {
  // The unit tests send without a page.
  if (typeof document === "undefined") return () => undefined;
  const held = lost() ? null : (document.activeElement as HTMLElement);
  return () => {
    if (held) void giveBack(held);
  };
}

async function giveBack(held: HTMLElement) {
  for (let waited = 0; waited < WAITS_MS; waited += EVERY_MS) {
    await new Promise((resolve) => window.setTimeout(resolve, EVERY_MS));
    // It may be lost again: what is shown is asked anew after what was done.
    if (document.activeElement === held) continue;
    // The hand has gone on, or what was done led on by itself.
    if (!lost()) return;
    if (!held.isConnected) break;
    if (!(held as HTMLButtonElement).disabled) held.focus({ preventScroll: true });
  }
  const answer = ["main [data-answer]", "main .answer", "main"]
    .map((each) => document.querySelector<HTMLElement>(each))
    .find(Boolean);
  if (!answer || !lost()) return;
  answer.tabIndex = -1;
  answer.focus({ preventScroll: true });
}
