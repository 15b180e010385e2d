"""A thread in the drawer: what its label says, and what its owner wants to remember of it."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from functools import cached_property, lru_cache

from weftonos.core.kernel.errors import CraftError, require_between, require_text
from weftonos.core.kernel.standing import estimate
from weftonos.core.thread.guide import FULL_HOLES
from weftonos.core.thread.linear_density import SYSTEM_NAMES, WeightSystem
from weftonos.core.thread.thread import CONSTRUCTION_NAMES, FIBER_NAMES, Thread


class ThreadFinish(StrEnum):
    """How a thread was finished, or the filament it is made of."""

    PLAIN = "plain"
    MERCERIZED = "mercerized"
    GASSED = "gassed"
    GLAZED = "glazed"
    TRILOBAL = "trilobal"


class Form(StrEnum):
    """What a thread is wound on; it decides the pin it stands on."""

    CONE = "cone"
    STACKED_SPOOL = "stacked_spool"
    CROSS_WOUND_SPOOL = "cross_wound_spool"
    PRE_WOUND = "pre_wound"


class HandTestKind(StrEnum):
    """A way of judging a thread by hand."""

    EVEN = "even"
    STROKES = "strokes"
    SNAP = "snap"


@dataclass(frozen=True, kw_only=True)
class HandTest:
    """One judgment by hand: drawn through the fingers, stroked (a number of strokes), or snapped against new."""

    kind: HandTestKind
    good: bool
    on: date
    strokes: int | None = None

    def __post_init__(self) -> None:
        if self.strokes is not None:
            require_between(value=self.strokes, low=0, high=100, what="The number of strokes", field="strokes")


#: What stands for a color that nobody has noted.
NO_COLOR = "#cfd6dc"
_HEX = re.compile(r"#[0-9a-fA-F]{6}")


@dataclass(frozen=True, kw_only=True)
class DrawerThread:
    """One thread that is owned. ``color`` is ``#rrggbb``; the label as typed stays in ``thread`` and ``label_text``.

    ``line`` names what it is a color of, where several colors of one thread are owned. ``length_m`` is what was on
    the cone or spool when new, ``rating`` its owner's own (1 to 5), ``needle_named`` the needle its maker names, and
    ``holes`` the guide holes that do for it, found by trial.
    """

    name: str
    thread: Thread
    color: str = NO_COLOR
    finish: ThreadFinish = ThreadFinish.PLAIN
    plies: int | None = None
    form: Form = Form.CONE
    note: str = ""
    bought: date | None = None
    hand_tests: tuple[HandTest, ...] = ()
    line: str = ""
    label_text: str = ""
    variegated: bool = False
    length_m: float | None = None
    price: float | None = None
    rating: int | None = None
    needle_named: str = ""
    holes: int | None = None

    def __post_init__(self) -> None:
        require_text(self.name, 80, "The thread's name", "name")
        require_text(self.line, 80, "The thread's line", "line", empty=True)
        require_text(self.note, 2000, "A note", "note", empty=True)
        require_text(self.label_text, 120, "The label", "label_text", empty=True)
        require_text(self.needle_named, 60, "The needle that its maker names", "needle_named", empty=True)
        if not _HEX.fullmatch(self.color):
            raise CraftError("A color is written #rrggbb.", "color")
        if self.plies is not None:
            require_between(value=self.plies, low=1, high=12, what="The number of plies", field="plies")
        for value, low, high, what, field, unit in (
            (self.length_m, 1, 50_000, "The length on a cone or spool", "length_m", "m"),
            (self.price, 0, 10_000, "The price", "price", ""),
            (self.rating, 1, 5, "A rating", "rating", ""),
            (self.holes, 1, FULL_HOLES, "The guide holes in use", "holes", ""),
        ):
            if value is not None:
                require_between(value=value, low=low, high=high, what=what, field=field, unit=unit)
        if self.bought and self.bought.year < 1900:
            raise CraftError("That is older than any thread still on its cone.", "bought")
        if len(self.hand_tests) > 50:
            raise CraftError("Fifty hand tests of one thread are enough.", "hand_tests")

    @property
    def one_thread(self) -> tuple[object, ...]:
        """What all colors of its line have in common: they are one thread for looks, readings and recipes."""
        t = self.thread
        return self.line.casefold().strip(), t.fiber, t.construction, round(t.density.tex, 2), self.finish

    @property
    def last_tests(self) -> dict[HandTestKind, HandTest]:
        """The last hand test of each kind."""
        return {test.kind: test for test in sorted(self.hand_tests, key=lambda test: test.on)}

    @property
    def label(self) -> str:
        """The weight as its label gives it: ``"40 wt"``, ``"120 denier × 2"``."""
        t = self.thread
        strands = f" × {t.strands}" if t.strands > 1 and t.system is not WeightSystem.WT else ""
        # As the label has it, for every reader: what names a thread is remembered.
        return f"{t.value:g} {SYSTEM_NAMES[t.system]}{strands}"

    @cached_property
    def words(self) -> str:
        """The thread in short: ``"40 wt trilobal"``."""
        kind = FIBER_NAMES[self.thread.fiber]
        if self.thread.is_monofilament:
            kind = CONSTRUCTION_NAMES[self.thread.construction]
        elif self.finish is ThreadFinish.TRILOBAL:
            kind = "trilobal"
        return f"{self.label} {kind}"

    @property
    def in_full(self) -> str:
        """Its name and the thread in short: ``"Ember (40 wt trilobal)"``."""
        return f"{self.name} ({self.words})"


#: Relative luminance from which a thread counts as light; CIE lightness 57.
LIGHT_FROM = estimate(0.25)


@lru_cache(4096)
def is_light(color: str) -> bool:
    """Say whether a color is light, by its relative luminance (WCAG 2.1)."""
    parts = [int(color[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    linear = [c / 12.92 if c <= 0.03928 else ((c + 0.055) / 1.055) ** 2.4 for c in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2] > LIGHT_FROM.value
