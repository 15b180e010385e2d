/** What stands for a color that nobody has noted. */
export const NO_COLOR = "#cfd6dc";
const TOP = "#4f6378";
const BOBBIN = "#d8c9a8";
/** Colors nearer than this look alike in a picture: the distance in red, green and blue. */
const ALIKE = 75;

const parts = (color: string) => [1, 3, 5].map((at) => parseInt(color.slice(at, at + 2), 16));
const alike = (one: string, other: string) =>
  Math.hypot(...parts(one).map((part, i) => part - (parts(other)[i] ?? 0))) < ALIKE;
const isLight = (color: string) => parts(color).reduce((sum, part) => sum + part, 0) > 384;
const own = (color: string | undefined | null, neutral: string) => (color && color !== NO_COLOR ? color : neutral);

/** The colors to draw a top and a bobbin thread in: their own, else a neutral pair; never such as look alike. */
export function drawnPair(top?: { color: string } | null, bobbin?: { color: string } | null) {
  const above = own(top?.color, TOP);
  const below = own(bobbin?.color, BOBBIN);
  if (!alike(above, below)) return { top: above, bobbin: below };
  return { top: above, bobbin: isLight(above) ? TOP : BOBBIN };
}
