/** One stop of the Tab key for many buttons: arrows go from one to the next, down and up by a row of `columns`. */
export function walkArrows(event: KeyboardEvent, columns = 1) {
  const step = { ArrowRight: 1, ArrowDown: columns, ArrowLeft: -1, ArrowUp: -columns }[event.key];
  const all = [...(event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>("[data-key]")];
  const at = all.indexOf(document.activeElement as HTMLElement);
  if (!step || at < 0) return;
  event.preventDefault();
  all[(at + step + all.length) % all.length]?.focus();
}
