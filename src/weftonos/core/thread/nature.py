"""What a thread is like and how each school treats it, from the one page that says so (``knowledge/threads.toml``).

The page ships with the program and is read once, like a constant. A thread has every entry that fits it; of a single
fact the last word counts, lists add up.
"""

from __future__ import annotations

import tomllib
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache, lru_cache
from importlib.resources import files
from typing import Any

from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.feature import Feature
from weftonos.core.kernel.schools import School
from weftonos.core.thread.thread import Construction, Fiber, Thread

#: A label's rounding, in tex.
ROUNDING_TEX = 0.5
SHEENS = ("gloss", "soft", "matte", "glitter", "clear")


@dataclass(frozen=True, kw_only=True)
class Start:
    """Where the top begins by the schools: center, low and high on a dial and in turns, and a share of the bobbin.

    ``also`` is a second start on the dial that is as usual as the first, ``None`` where there is one alone.
    """

    dial: tuple[float, float, float]
    also: float | None
    turns: tuple[float, float, float]
    readout: float
    why: str


@dataclass(frozen=True, kw_only=True)
class Nature:
    """Everything the page says of one thread.

    ``needle`` are sizes by habit for each school, ``sewn`` size and point that somebody sews well; ``by_eye`` says why
    its fit is judged by the cloth. ``names`` are the entries that fit, the particular ones last; ``own_points`` where
    one of them wants points of its own.
    """

    names: tuple[str, ...]
    sheen: str
    strength: str
    lint: str
    stretch: str
    heat: str
    holes: int
    pin: str
    fill: float
    speed: str
    start: Start
    points: Mapping[School, tuple[str, ...]]
    needle: Mapping[School, tuple[str, ...]]
    needle_why: Mapping[School, str]
    speed_longarm: str = ""
    net: bool = False
    delicate: bool = False
    everyday_over: bool = False
    decorative: bool = False
    bobbin_only: bool = False
    by_eye: str = ""
    slack_below: float | None = None
    below: str = ""
    sewn: tuple[str, ...] = ()
    faults: tuple[str, ...] = ()
    #: Subject, text, and what a machine has where it is said.
    care: tuple[tuple[str, ...], ...] = ()
    cautions: tuple[str, ...] = ()
    own_points: bool = False

    @property
    def glitters(self) -> bool:
        """Whether it catches the light from every side: it blends into nothing."""
        return self.sheen == "glitter"


@dataclass(frozen=True, kw_only=True)
class _Entry:
    """One entry of the page: when it fits, and what it says."""

    id: str
    name: str
    when: Mapping[str, Any]
    says: Mapping[str, Any]

    def fits(self, thread: Thread) -> bool:
        tex, when = thread.density.tex, self.when
        return (
            ("fiber" not in when or thread.fiber.value in when["fiber"])
            and ("construction" not in when or thread.construction.value in when["construction"])
            and tex >= when.get("from_tex", 0)
            and tex <= when.get("to_tex", float("inf"))
        )


_PLAIN: tuple[str, ...] = (
    "sheen",
    "strength",
    "lint",
    "stretch",
    "heat",
    "holes",
    "pin",
    "fill",
    "speed",
    "speed_longarm",
    "net",
    "delicate",
)
_PLAIN += ("everyday_over", "decorative", "bobbin_only", "by_eye", "slack_below", "below")
_LISTS = ("care", "cautions", "sewn", "faults")
_GROUPS = ("start", "points", "needle")
_WHEN = ("fiber", "construction", "from_tex", "to_tex")


class Natures:
    """The page of threads, read and checked."""

    def __init__(self, page: str) -> None:
        try:
            document = tomllib.loads(page)
        except tomllib.TOMLDecodeError as error:
            raise CraftError(f"The page of threads is not TOML: {error}.") from None
        self.standing: str = document.get("standing", "")
        self.bundle: Mapping[str, Any] = document.get("bundle", {})
        self.entries = [_entry(raw) for raw in document.get("nature", [])]
        _check([entry.id for entry in self.entries])

    def of(self, thread: Thread) -> Nature:
        """Return everything the page says of a thread."""
        says: dict[str, Any] = dict.fromkeys(_LISTS, ())
        groups: dict[str, dict[str, Any]] = {name: {} for name in _GROUPS}
        fitting = [entry for entry in self.entries if entry.fits(thread)]
        for entry in fitting:
            for name, value in entry.says.items():
                if name in _LISTS:
                    # The particular comes first: it is what one came for.
                    says[name] = (*(tuple(v) if isinstance(v, list) else v for v in value), *says[name])
                elif name in _GROUPS:
                    groups[name] |= value
                else:
                    says[name] = value
        start, needle = groups["start"], groups["needle"]
        return Nature(
            names=tuple(entry.name for entry in fitting),
            start=Start(
                dial=tuple(start["dial"]),
                also=start["also"] or None,
                turns=tuple(start["turns"]),
                readout=start["readout"],
                why=start["why"],
            ),
            points={s: tuple(groups["points"][s.value]) for s in School},
            needle={s: tuple(needle.get(s.value, ())) for s in School},
            own_points=groups["points"] != self.entries[0].says["points"],
            needle_why={s: needle.get(f"why_{s.value}", needle.get("why", "")) for s in School},
            **says,
        )


def _entry(raw: Mapping[str, Any]) -> _Entry:
    where = f"In the page of threads, {raw.get('id', 'an entry without id')}"
    says = {name: value for name, value in raw.items() if name not in ("id", "name", "when")}
    when = raw.get("when", {})
    for name in says:
        if name not in (*_PLAIN, *_LISTS, *_GROUPS):
            raise CraftError(f"{where}: “{name}” is not known.")
    for name in when:
        if name not in _WHEN:
            raise CraftError(f"{where}: “when.{name}” is not known.")
    for kind, known in (("fiber", Fiber), ("construction", Construction)):
        for value in when.get(kind, ()):
            if value not in {member.value for member in known}:
                raise CraftError(f"{where}: there is no {kind} “{value}”.")
    features = {member.value for member in Feature}
    for _, text, *needs in says.get("care", ()):
        if unknown := set(needs) - features:
            raise CraftError(f"{where}: “{text}” is said where a machine has “{sorted(unknown)[0]}”, which none has.")
    if says.get("sheen", SHEENS[0]) not in SHEENS:
        raise CraftError(f"{where}: the sheen is one of {', '.join(SHEENS)}.")
    if "id" not in raw or "name" not in raw:
        raise CraftError(f"{where}: it needs an id and a name.")
    return _Entry(id=raw["id"], name=raw["name"], when=when, says=says)


def _check(ids: Sequence[str]) -> None:
    twice = {name for name in ids if ids.count(name) > 1}
    if twice:
        raise CraftError(f"In the page of threads, {sorted(twice)[0]}: there are two of it.")


@cache
def natures() -> Natures:
    """Return the page of threads that ships with the program."""
    return Natures((files("weftonos") / "knowledge" / "threads.toml").read_text(encoding="utf-8"))


@lru_cache(2048)
def nature_of(thread: Thread) -> Nature:
    """Return what the page says of a thread."""
    return natures().of(thread)


def together(threads: Iterable[Thread]) -> Nature:
    """Return what the page says of what runs through one needle: of one thread itself, of several the most delicate.

    The number of holes is the bundle's own, unless one of them takes a single one.
    """
    several = [nature_of(thread) for thread in threads]
    if len(several) == 1:
        return several[0]
    # A metallic among them decides; else the one that wants least loosening.
    glitters = [n for n in several if n.glitters]
    most = min(glitters, key=lambda n: n.start.readout) if glitters else max(several, key=lambda n: n.start.dial[0])
    page = natures().bundle
    holes = min(page["holes"], *(1 if n.pin == "horizontal" else 3 for n in several))
    metallic = most if glitters else None
    return replace(
        most,
        holes=holes,
        net=any(n.net for n in several),
        own_points=True,
        points=metallic.points if metallic else {s: tuple(page["points"][s.value]) for s in School},
        needle=metallic.needle if metallic else dict.fromkeys(School, ()),
        by_eye=metallic.by_eye if metallic else "",
        sewn=(*page["sewn"], *(pair for n in several for pair in n.sewn)),
        everyday_over=False,
        slack_below=None,
    )
