"""Pages with a head, numbers and sections: a quilt, a plan, a thread's card, the evidence, a sheet for the technician.

Each is set on the paper that is asked for. No entry is parted by the end of a page, and a heading stands over
something.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import accumulate, pairwise

from weftonos.exchange.lettering import fitted, wrapped
from weftonos.exchange.marks import Sheet, Stroke, Text
from weftonos.exchange.strip import PAPERS, Paper, box

_LEFT, _TOP, _BELOW = 18.0, 43.0, 35.0
_SIZE, _STEP = 3.6, 5.0
_INDENT, _BOX, _RULE = 5.0, 3.0, 9.0
#: A section that takes at most this share of a page is not parted.
_WHOLE = 0.4
_CURVES, _CURVE_TALL, _APART = 3, 24.0, 8.0


@dataclass(frozen=True, kw_only=True)
class Curve:
    """A falling curve of steps: where each begins and how high it is, 0 to 1; ``unit`` is that of its foot."""

    name: str
    steps: Sequence[tuple[float, float]]
    unit: str


@dataclass(frozen=True, kw_only=True)
class Section:
    """A part of a report under its heading: lines, curves, and a table whose first row names its columns.

    ``boxes`` puts a box to tick before each line, ``rules`` so many ruled lines to write on after each. ``shares`` are
    the widths of the table's columns, of the whole; ``apart`` is the room between its rows, in mm. Of two ``narrow``
    sections that follow each other the second stands beside the first.
    """

    head: str
    lines: Sequence[str] = ()
    boxes: bool = False
    rules: int = 0
    table: Sequence[Sequence[str]] = ()
    shares: Sequence[float] = ()
    apart: float = 1.0
    narrow: bool = False
    curves: Sequence[Curve] = ()

    @property
    def empty(self) -> bool:
        """Whether nothing stands under its heading."""
        return not (self.lines or self.table or self.curves)


@dataclass(frozen=True)
class _Block:
    """What stands together: strokes and words from its own top, and how tall it is; ``with_next`` ends no page."""

    tall: float
    words: Sequence[Text] = ()
    strokes: Sequence[Stroke] = ()
    with_next: bool = False

    def moved(self, right: float = 0.0, down: float = 0.0) -> _Block:
        """Return it elsewhere."""
        words = [replace(word, x=word.x + right, y=word.y + down) for word in self.words]
        strokes = [replace(s, x1=s.x1 + right, x2=s.x2 + right, y1=s.y1 + down, y2=s.y2 + down) for s in self.strokes]
        return replace(self, words=words, strokes=strokes)


def report(
    title: str,
    date: str,
    *,
    numbers: Sequence[tuple[str, str]] = (),
    sections: Sequence[Section] = (),
    foot: str = "",
    paper: Paper = Paper.A4,
) -> list[Sheet]:
    """Lay out a head and numbers, then the sections that hold something, over as many pages as they need."""
    width, height = PAPERS[paper]
    wide = width - 2 * _LEFT
    blocks = [_number(label, says, wide) for label, says in numbers if says]
    shown = [section for section in sections if not section.empty]
    while shown:
        if len(shown) > 1 and shown[0].narrow and shown[1].narrow:
            blocks.append(_side_by_side(shown.pop(0), shown.pop(0), wide))
        else:
            blocks += _together(_blocks(shown.pop(0), wide), _WHOLE * (height - _TOP - _BELOW))
    pages: list[list[_Block]] = [[]]
    y = _TOP
    for block, needs in zip(blocks, _needs(blocks), strict=True):
        if y + needs > height - _BELOW and pages[-1]:
            pages.append([])
            y = _TOP - 2
        pages[-1].append(block.moved(down=y))
        y += block.tall
    rule = Stroke(x1=_LEFT, y1=35, x2=width - _LEFT, y2=35, width=0.4)
    sheets = []
    for number, page in enumerate(pages, 1):
        words = fitted(Text(x=_LEFT, y=24, text=title, size_mm=7 if number == 1 else 4.6, bold=True), wide)
        words += fitted(Text(x=_LEFT, y=31, text=date, size_mm=_SIZE), wide)
        words += [word for block in page for word in block.words]
        if foot:
            words += fitted(Text(x=_LEFT, y=height - 21, text=foot, size_mm=3.2), wide, tall=9)
        if len(pages) > 1:
            words.append(Text(x=width - _LEFT - 20, y=height - 7, text=f"page {number} of {len(pages)}", size_mm=3))
        strokes = [stroke for block in page for stroke in block.strokes]
        sheets.append(Sheet(width=width, height=height, strokes=(rule, *strokes), words=tuple(words)))
    return sheets


def _together(blocks: list[_Block], most: float) -> list[_Block]:
    """Return the blocks of a section so that a short one stays whole, and of a long one no last block stands alone."""
    bound = 0 if sum(block.tall for block in blocks) <= most else len(blocks) - 2
    *others, last = blocks
    return [*(replace(block, with_next=block.with_next or n >= bound) for n, block in enumerate(others)), last]


def _needs(blocks: Sequence[_Block]) -> list[float]:
    """Return how much room each block needs where it stands, with what must follow it on the same page."""
    needs: list[float] = []
    for block in reversed(blocks):
        needs.append(block.tall + (needs[-1] if block.with_next and needs else 0))
    return needs[::-1]


def _number(label: str, says: str, wide: float) -> _Block:
    lines = fitted(Text(x=_LEFT + 40, y=0, text=says, size_mm=3.8, bold=True), wide - 40, tall=5)
    return _Block(lines[-1].y + 6, [Text(x=_LEFT, y=0, text=label, size_mm=_SIZE), *lines])


def _side_by_side(left: Section, right: Section, wide: float) -> _Block:
    half = (wide - _APART) / 2
    one, two = (_stacked(_blocks(section, half)) for section in (left, right))
    two = two.moved(right=half + _APART)
    return _Block(max(one.tall, two.tall), [*one.words, *two.words], [*one.strokes, *two.strokes])


def _stacked(blocks: Sequence[_Block]) -> _Block:
    tops = accumulate((block.tall for block in blocks), initial=0.0)
    placed = [block.moved(down=top) for block, top in zip(blocks, tops, strict=False)]
    return _Block(
        sum(block.tall for block in blocks),
        [word for block in placed for word in block.words],
        [stroke for block in placed for stroke in block.strokes],
    )


def _blocks(section: Section, wide: float) -> list[_Block]:
    head = Text(x=_LEFT, y=5, text=section.head, size_mm=4.6, bold=True)
    blocks = [_Block(11, [head], with_next=True)]
    if section.curves:
        blocks += [
            _curves(section.curves[first : first + _CURVES], wide) for first in range(0, len(section.curves), _CURVES)
        ]
    for said in section.lines:
        blocks.append(_line(said, section, wide))
        blocks += [_rule(wide, last=n == section.rules) for n in range(1, section.rules + 1)]
    return [*blocks, *(_table(section, wide) if section.table else ())]


def _line(said: str, section: Section, wide: float) -> _Block:
    begins = _INDENT if section.boxes else 0.0
    parts = wrapped(said, wide - begins - 3, _SIZE)
    words = [
        Text(x=_LEFT + begins + (0 if n == 0 or section.boxes else 3), y=n * _STEP, text=part, size_mm=_SIZE)
        for n, part in enumerate(parts)
    ]
    strokes = box(_LEFT, 0.3 - _BOX, _BOX, _BOX, 0.25) if section.boxes else []
    return _Block(len(parts) * _STEP + (0.5 if section.boxes else 0), words, strokes, with_next=bool(section.rules))


def _rule(wide: float, *, last: bool) -> _Block:
    line = Stroke(x1=_LEFT, y1=_RULE - 5, x2=_LEFT + wide, y2=_RULE - 5, width=0.2)
    return _Block(_RULE + (3 if last else 0), strokes=[line], with_next=not last)


def _table(section: Section, wide: float) -> list[_Block]:
    """Lay out a table: the names of its columns small, a rule under them, each row whole."""
    shares = section.shares or [1 / len(section.table[0])] * len(section.table[0])
    lefts = [_LEFT + wide * sum(shares[:n]) for n in range(len(shares))]
    rows = []
    for n, row in enumerate(section.table):
        words: list[Text] = []
        deepest = 0
        for left, share, said in zip(lefts, shares, row, strict=True):
            size = 3.0 if n == 0 else _SIZE
            parts = wrapped(said, wide * share - 3, size)
            words += [Text(x=left, y=i * _STEP, text=part, size_mm=size) for i, part in enumerate(parts)]
            deepest = max(deepest, len(parts))
        under = Stroke(x1=_LEFT, y1=1.6, x2=_LEFT + wide, y2=1.6, width=0.25)
        rows.append(
            _Block(
                deepest * _STEP + (1 + section.apart if n == 0 else section.apart),
                words,
                [under] if n == 0 else (),
                with_next=n == 0,
            )
        )
    return rows


def _curves(curves: Sequence[Curve], wide: float) -> _Block:
    """Draw curves side by side, each over its name, its foot from 0 to its end and its height from none to all."""
    each = (wide - (_CURVES - 1) * _APART) / _CURVES
    words, strokes = [], []
    for n, curve in enumerate(curves):
        x, foot = _LEFT + n * (each + _APART) + 9, _CURVE_TALL
        far = max(at for at, _ in curve.steps) or 1.0
        across, high = each - 9, _CURVE_TALL - 2
        strokes += [
            Stroke(x1=x, y1=foot, x2=x + across, y2=foot, width=0.25),
            Stroke(x1=x, y1=foot, x2=x, y2=foot - high, width=0.25),
        ]
        points = [(0.0, 1.0), *curve.steps]
        for (at, share), (after, below) in pairwise(points):
            begin, end = x + across * at / far, x + across * after / far
            strokes.append(Stroke(x1=begin, y1=foot - high * share, x2=end, y2=foot - high * share, width=0.6))
            strokes.append(Stroke(x1=end, y1=foot - high * share, x2=end, y2=foot - high * below, width=0.6))
        words += [
            Text(x=x - 8, y=foot - high + 2.4, text="100%", size_mm=2.6),
            Text(x=x - 4, y=foot, text="0", size_mm=2.6),
            Text(x=x, y=foot + 4, text="0", size_mm=2.6),
            *fitted(Text(x=x + across - 14, y=foot + 4, text=f"{far:.0f} {curve.unit}", size_mm=2.6), 14),
            *fitted(Text(x=x, y=foot + 9, text=curve.name, size_mm=3.2, bold=True), across, tall=4.5),
        ]
    return _Block(_CURVE_TALL + 20, words, strokes)
