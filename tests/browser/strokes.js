// How well each shape of the drawings on a page stands out from what is painted under it: the contrast of the Web
// Content Accessibility Guidelines 2.2 (1.4.11), from the rendered colors. A shape counts by the better of its stroke
// and its fill, at the middle one of the points along it; one that lies on its own edge is seen by that edge.
() => {
  const rgba = (color) => {
    const parts = color.match(/[\d.]+/g);
    return parts ? [+parts[0], +parts[1], +parts[2], parts[3] === undefined ? 1 : +parts[3]] : null;
  };
  const over = (ink, ground) => [0, 1, 2].map((i) => ink[i] * ink[3] + ground[i] * (1 - ink[3])).concat(1);
  const light = (color) => {
    const [r, g, b] = color.map((part) => (part / 255 <= 0.04045 ? part / 255 / 12.92 : ((part / 255 + 0.055) / 1.055) ** 2.4));
    return 0.2126 * r + 0.7152 * g + 0.0722 * b;
  };
  const contrast = (one, other) => {
    const [low, high] = [light(one), light(other)].sort((a, b) => a - b);
    return (high + 0.05) / (low + 0.05);
  };
  /** The stroke and the fill of a shape as they are painted, or nothing. */
  const inks = (shape) => {
    const style = getComputedStyle(shape);
    let seen = 1;
    for (let each = shape; each && each.tagName !== "svg"; each = each.parentElement) seen *= +getComputedStyle(each).opacity;
    const ink = (color, share) => {
      const found = color === "none" ? null : rgba(color);
      if (found) found[3] *= seen * share;
      return found && found[3] > 0 ? found : null;
    };
    return {
      stroke: parseFloat(style.strokeWidth) > 0 ? ink(style.stroke, +style.strokeOpacity) : null,
      fill: shape.tagName === "line" ? null : ink(style.fill, +style.fillOpacity),
    };
  };
  /** What is painted under a shape at a point: the color, and the uppermost shape or box it comes from. */
  const under = (shape, x, y) => {
    const layers = [];
    for (const each of document.elementsFromPoint(x, y)) {
      if (each === shape || each instanceof SVGTextContentElement) continue;
      let color = null;
      if (each instanceof SVGGeometryElement) {
        // What comes later in the drawing is painted over it.
        if (shape.compareDocumentPosition(each) & Node.DOCUMENT_POSITION_FOLLOWING) continue;
        const at = new DOMPoint(x, y).matrixTransform(each.getScreenCTM().inverse());
        const { stroke, fill } = inks(each);
        color = stroke && each.isPointInStroke(at) ? stroke : fill && each.isPointInFill(at) ? fill : null;
      } else color = rgba(getComputedStyle(each).backgroundColor);
      if (!color || color[3] === 0) continue;
      layers.push({ color, each });
      if (color[3] === 1) break;
    }
    return { ground: layers.reduceRight((below, { color }) => over(color, below), [255, 255, 255, 1]), from: layers[0]?.each };
  };
  const found = [];
  for (const svg of document.querySelectorAll("main svg")) {
    if (!svg.checkVisibility()) continue;
    svg.scrollIntoView({ block: "center" });
    for (const shape of svg.querySelectorAll("path, line, circle, ellipse, polyline, polygon, rect")) {
      const { stroke, fill } = inks(shape);
      const long = shape.getTotalLength();
      if ((!stroke && !fill) || !long || shape.closest("defs, clipPath")) continue;
      const seen = [];
      for (const share of [0.07, 0.19, 0.31, 0.43, 0.57, 0.69, 0.83]) {
        const at = shape.getPointAtLength(long * share).matrixTransform(shape.getScreenCTM());
        if (fill) {
          // A little inside: at its rim it may touch what lies beside it.
          const box = shape.getBoundingClientRect();
          const inward = (from, to) => Math.sign(to - from) * Math.min(2, Math.abs(to - from));
          at.x += inward(at.x, box.x + box.width / 2);
          at.y += inward(at.y, box.y + box.height / 2);
        }
        if (at.x < 0 || at.y < 0 || at.x >= innerWidth || at.y >= innerHeight) continue;
        const { ground, from } = under(shape, at.x, at.y);
        const cased = from?.matches?.(".edge, .edge *, .outline, .rim, .rim *");
        seen.push(cased ? 21 : Math.max(...[stroke, fill].filter(Boolean).map((ink) => contrast(over(ink, ground), ground))));
      }
      if (!seen.length) continue;
      const middle = seen.sort((a, b) => a - b)[Math.floor(seen.length / 2)];
      const name = shape.getAttribute("class") || shape.parentElement.getAttribute("class") || shape.tagName;
      found.push({ drawing: svg.getAttribute("aria-label") ?? svg.parentElement.className, name, contrast: middle });
    }
  }
  return found;
};
