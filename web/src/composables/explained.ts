import type { components } from "../api/schema";

/** A word of the glossary with the forms in which sentences say it. */
export type Explained = components["schemas"]["Term"];

/** Where a form stands in a text: its word, and the characters from and up to. */
export interface Place {
  word: Explained;
  from: number;
  upTo: number;
}

/** What is tapped for itself, written by a person, or explained already is left alone. */
export const LEFT_ALONE = "a, button, label, summary, input, select, textarea, option, h1, h2, h3, svg, .said";

/** Return a pattern of all forms as whole words, the longest first; `null` without any. */
export function formsPattern(words: Explained[]): RegExp | null {
  const forms = words.flatMap((word) => word.forms ?? []).sort((one, other) => other.length - one.length);
  if (!forms.length) return null;
  return new RegExp(`(?<![\\p{L}\\p{N}-])(?:${forms.join("|")})(?![\\p{L}\\p{N}-])`, "gu");
}

/** Return where words that are not in `met` yet stand in a text, each once, and add them to `met`. */
export function placesIn(text: string, words: Explained[], pattern: RegExp, met: Set<string>): Place[] {
  const places: Place[] = [];
  for (const match of text.matchAll(pattern)) {
    const word = words.find((each) => each.forms?.includes(match[0]));
    if (!word || met.has(word.term)) continue;
    met.add(word.term);
    places.push({ word, from: match.index, upTo: match.index + match[0].length });
  }
  return places;
}

/** A word on the page that a tap explains. */
export interface OnPage {
  word: Explained;
  range: Range;
}

/** Return the first place of each word in the sentences shown below an element. */
export function wordsOn(page: HTMLElement, words: Explained[]): OnPage[] {
  const pattern = formsPattern(words);
  if (!pattern) return [];
  const met = new Set<string>();
  const found: OnPage[] = [];
  const texts = document.createTreeWalker(page, NodeFilter.SHOW_TEXT);
  for (let node = texts.nextNode(); node; node = texts.nextNode()) {
    if (!node.nodeValue || !pattern.test(node.nodeValue)) continue;
    pattern.lastIndex = 0;
    const around = node.parentElement;
    if (!around || around.closest(LEFT_ALONE) || !around.checkVisibility()) continue;
    for (const { word, from, upTo } of placesIn(node.nodeValue, words, pattern, met)) {
      const range = new Range();
      range.setStart(node, from);
      range.setEnd(node, upTo);
      found.push({ word, range });
    }
  }
  return found;
}

/** A fingertip's reach around a word, in pixels. */
const REACH = 10;

/** Return which word a tap is on. */
export function tappedWord(found: OnPage[], x: number, y: number): OnPage | undefined {
  return found.find(({ range }) =>
    [...range.getClientRects()].some(
      (box) => x >= box.left - REACH && x <= box.right + REACH && y >= box.top - REACH && y <= box.bottom + REACH,
    ),
  );
}
