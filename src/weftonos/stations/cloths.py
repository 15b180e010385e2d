"""Test cloths, found again by the number on them: what each was stitched with, its lines, and what its rows found."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta

from sqlalchemy import select

from weftonos.core.balance.cloth import (
    Cloth,
    ClothLine,
    RowFound,
    RowMoved,
    check_not_twice,
    judged_before,
    row_found,
    row_seen,
    rows_moved,
    rows_of,
)
from weftonos.core.balance.recipe import Recipe
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.sandwich import Motion, Sandwich
from weftonos.core.kernel.scale import TopScale
from weftonos.core.kernel.spoken import pull, so_many
from weftonos.core.needle.needle import NeedleSize, Point
from weftonos.core.setup.differences import Difference, differences
from weftonos.core.setup.events import StitchedLook
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.setup import Setup
from weftonos.learned.cloth import LineOnCloth, OnCloth, cloth_on, cloth_row, next_number, on_cloth, on_cloths
from weftonos.learned.entries import Noted, nickname, noted
from weftonos.store.models import RecordRow
from weftonos.store.reading import LogSearch
from weftonos.store.workshop import Workshop

#: How many cloths are read at a time while a search goes through them.
READ_AT_A_TIME = 100
#: What says what a row of a cloth found.
Find = Callable[[TopScale, Motion, Sequence[ClothLine]], RowFound]


@dataclass(frozen=True, kw_only=True)
class NewCloth:
    """A cloth to begin; left out, its number is the next.

    With ``gather`` the lines of this combination that are on no cloth are lines of it. One from the box says when it
    was stitched (``at``) and carries what is written on it: the threads by their numbers in the drawer, and the rest.
    """

    number: int | None = None
    note: str = ""
    gather: bool = False
    at: datetime | None = None
    on_top: tuple[int, ...] = ()
    below: int | None = None
    metric: int | None = None
    american: int | None = None
    point: Point | None = None
    batting: str = ""
    bobbin_mn: float | None = None


def begin_cloth(workshop: Workshop, machine_id: int, new: NewCloth, now: datetime) -> Noted:
    """Begin a cloth, or note one from the box."""
    workshop.machine(machine_id)
    if not new.on_top and not workshop.setup(machine_id).top:
        raise CraftError("Choose the thread first: a test cloth is one of a combination.", "number")
    needle = NeedleSize(new.metric, new.american) if new.metric and new.american else None
    cloth = Cloth(
        number=next_number(workshop) if new.number is None else new.number,
        note=new.note,
        on_top=new.on_top,
        below=new.below,
        needle=needle,
        point=new.point,
        batting=new.batting,
        bobbin_mn=new.bobbin_mn,
    )
    loose = _loose_lines(workshop, machine_id) if new.gather else []
    # A cloth is older than its lines.
    at = new.at or (loose[0].at if loose else now)
    row = workshop.note(machine_id, cloth, at, now)
    for line in loose:
        assert isinstance(line.payload, StitchedLook)
        workshop.correct(line.id, replace(line.payload, cloth=row.id), line.at, now)
    return noted(workshop, row)


def _loose_lines(workshop: Workshop, machine_id: int) -> list[RecordRow]:
    """Return the lines of the combination that is on which belong to no cloth, oldest first."""
    rows = [row for motion in Motion for row in workshop.looks_since_change(machine_id, motion)]
    loose = [row for row in rows if isinstance(row.payload, StitchedLook) and row.payload.cloth is None]
    return sorted(loose, key=lambda row: (row.at, row.id))


@dataclass(frozen=True, kw_only=True)
class LineItem:
    """A line of a cloth as it reads; ``record`` is its test line in the log, none where the cloth carries it."""

    record: int | None
    setting: float
    setting_words: str
    grade: int
    doubtful: bool


@dataclass(frozen=True, kw_only=True)
class ClothRowItem:
    """A row of a cloth: one motion, its lines from loose to tight, and what it found."""

    motion: Motion
    lines: Sequence[LineItem]
    found: RowFound


@dataclass(frozen=True, kw_only=True)
class ClothItem:
    """A cloth as one thing: its number, where and when, what it was stitched with, and its rows.

    ``on`` says that it is the one being stitched; ``scale_says`` what of it the machine's scale no longer has;
    ``recipes`` are those saved from it.
    """

    id: int
    version: int
    number: int
    machine_id: int
    machine: str
    at: datetime
    note: str
    quilt: str
    on: bool
    from_the_box: bool
    struck: bool
    retired: bool
    top: str
    bobbin: str
    bobbin_reads: str
    needle: str
    batting: str
    face_down: str
    top_color: str
    bobbin_color: str
    rows: Sequence[ClothRowItem]
    recipes: Sequence[str]
    scale_says: str


def cloth_item(workshop: Workshop, cloth_id: int) -> ClothItem:
    """Return one cloth."""
    row, _ = cloth_row(workshop, cloth_id)
    return _items(workshop, [row])[0]


def _items(workshop: Workshop, rows: Sequence[RecordRow], find: Find = row_found) -> list[ClothItem]:
    """Return cloths as they are shown; ``find`` says what a row found."""
    held, saved = on_cloths(workshop, rows), _recipes_of(workshop, rows)
    on = {row.id for machine in {row.machine_id for row in rows} if (row := cloth_on(workshop, machine)) is not None}
    return [
        replace(
            _item(row, row.payload, held[row.id], find),
            on=row.id in on,
            recipes=saved.get(row.id, []),
        )
        for row in rows
        if isinstance(row.payload, Cloth)
    ]


def _item(row: RecordRow, cloth: Cloth, held: OnCloth, find: Find) -> ClothItem:
    setup, lines = held.setup, held.lines
    machine = row.machine.spec
    scale = machine.scale if isinstance(machine, Machine) else None
    reads = cloth.bobbin_mn if cloth.noted_elsewhere else setup.reading.mean_mn if setup.reading else None
    size_alone = str(cloth.needle) if cloth.needle else ""
    return ClothItem(
        id=row.id,
        version=row.version,
        number=cloth.number,
        machine_id=row.machine_id,
        machine=nickname(row.machine),
        at=row.at,
        note=cloth.note,
        quilt=setup.quilt,
        on=False,
        from_the_box=cloth.noted_elsewhere,
        struck=row.struck_at is not None,
        retired=isinstance(machine, Machine) and machine.retired,
        top=setup.top_in_full,
        bobbin=setup.bobbin.in_full if setup.bobbin else "",
        bobbin_reads=pull(reads) if reads is not None else setup.felt.words if setup.felt else "",
        needle=setup.needle.words if setup.needle else size_alone,
        batting=setup.sandwich.batting if setup.sandwich else "",
        face_down=setup.face_down,
        top_color=setup.top[0].color if setup.top else "",
        bobbin_color=setup.bobbin.color if setup.bobbin else "",
        rows=[_row_item(scale, motion, row_lines, find) for motion, row_lines in rows_of(lines).items()]
        if scale
        else [],
        recipes=(),
        scale_says=_off_scale(scale, lines) if scale else "",
    )


def _row_item(scale: TopScale, motion: Motion, lines: Sequence[LineOnCloth], find: Find) -> ClothRowItem:
    return ClothRowItem(
        motion=motion,
        lines=[
            LineItem(
                record=one.record,
                setting=one.setting,
                setting_words=scale.words(one.setting),
                grade=one.grade,
                doubtful=one.doubtful,
            )
            for one in lines
        ],
        found=find(scale, motion, lines),
    )


def _off_scale(scale: TopScale, lines: Sequence[LineOnCloth]) -> str:
    off = sum(not scale.low <= one.setting <= scale.high for one in lines)
    if not off:
        return ""
    are = "is" if off == 1 else "are"
    return f"{so_many(off, 'line')} {are} off the scale that this machine has now. Nothing is worked out from them."


def _recipes_of(workshop: Workshop, rows: Sequence[RecordRow]) -> Mapping[int, list[str]]:
    query = (
        select(RecordRow)
        .where(
            RecordRow.cloth_id.in_([row.id for row in rows]),
            RecordRow.kind == Recipe.kind,
            RecordRow.struck_at.is_(None),
        )
        .order_by(RecordRow.at, RecordRow.id)
    )
    found: dict[int, list[str]] = {}
    for row in workshop.session.scalars(query):
        if isinstance(row.payload, Recipe):
            motion = f", {row.payload.motion.words}" if row.payload.motion else ""
            found.setdefault(row.cloth_id or 0, []).append(f"{row.payload.name}{motion}")
    return found


@dataclass(frozen=True, kw_only=True)
class ClothSearch:
    """What to find: a number, words that must all be there, the machine, a motion that was sewn, and the page."""

    number: int | None = None
    text: str = ""
    machine: int | None = None
    motion: Motion | None = None
    before: int | None = None
    limit: int = 30


@dataclass(frozen=True, kw_only=True)
class ClothPage:
    """A page of cloths, newest first; ``more`` is the id to continue before, ``next_number`` the next one's number."""

    items: Sequence[ClothItem]
    more: int | None
    next_number: int


def cloth_page(workshop: Workshop, search: ClothSearch) -> ClothPage:
    """Find cloths by their number, their threads, needle, batting, motion, quilt and note."""
    wanted = search.text.lower().split()
    found: list[RecordRow] = []
    start = search.before
    while len(found) <= search.limit:
        page = workshop.log(
            LogSearch(machine=search.machine, kinds=[Cloth.kind], before=start, limit=READ_AT_A_TIME, unstruck=True)
        )
        held = on_cloths(workshop, page.items) if search.motion or wanted else {}
        found += [
            row
            for row in page.items
            if isinstance(row.payload, Cloth)
            and (search.number is None or row.payload.number == search.number)
            and (search.motion is None or any(line.motion is search.motion for line in held[row.id].lines))
            and (not wanted or _says(row, row.payload, held[row.id].setup, wanted))
        ]
        if page.more is None:
            break
        start = page.items[-1].id
    shown = found[: search.limit]
    return ClothPage(
        # Two hundred estimates are no list.
        items=_items(workshop, shown, row_seen),
        more=shown[-1].id if len(found) > search.limit else None,
        next_number=next_number(workshop),
    )


def _says(row: RecordRow, cloth: Cloth, setup: Setup, wanted: Sequence[str]) -> bool:
    said = [f"cloth {cloth.number}", cloth.note, nickname(row.machine), setup.quilt, setup.face_down, cloth.batting]
    said += [f"{t.name} {t.words}" for t in (*setup.top, *([setup.bobbin] if setup.bobbin else []))]
    said += [setup.needle.words if setup.needle else "", setup.sandwich.batting if setup.sandwich else ""]
    return all(word in " ".join(said).lower() for word in wanted)


@dataclass(frozen=True, kw_only=True)
class JudgedLine:
    """A line of a cloth as it was judged; ``instead`` takes the place of what was said of it before."""

    setting: float
    grade: int
    motion: Motion = Motion.FREE_MOTION
    doubtful: bool = False
    instead: bool = False


def judge_line(workshop: Workshop, cloth_id: int, judged: JudgedLine, now: datetime) -> ClothItem:
    """Judge a line of a cloth, on the machine or out of the box; one that was judged differently is asked about."""
    row, cloth = cloth_row(workshop, cloth_id)
    machine = workshop.machine(row.machine_id).spec
    line = ClothLine(setting=judged.setting, grade=judged.grade, motion=judged.motion, doubtful=judged.doubtful)
    before = judged_before(on_cloth(workshop, row).lines, line)
    if not judged.instead:
        check_not_twice(machine.scale, before, line)
    if before is None and not cloth.noted_elsewhere:
        _note_line(workshop, row, line, now)
    elif before is None or (before.grade, before.doubtful) != (line.grade, line.doubtful):
        _judge_anew(workshop, row, before, line, now)
    return cloth_item(workshop, cloth_id)


def _judge_anew(workshop: Workshop, row: RecordRow, before: LineOnCloth | None, line: ClothLine, now: datetime) -> None:
    """Correct what is said of a line: its test line, or the cloth that carries it, where it may be new as well."""
    if before is None or before.record is None:
        cloth = cloth_row(workshop, row.id)[1]
        again = judged_before(cloth.lines, line)
        others = [each for each in cloth.lines if each is not again]
        workshop.correct(row.id, replace(cloth, lines=(*others, line)), row.at, now)
        return
    look = workshop.record(before.record)
    assert isinstance(look.payload, StitchedLook)
    workshop.correct(look.id, replace(look.payload, grade=line.grade, doubtful=line.doubtful), look.at, now)


def _note_line(workshop: Workshop, row: RecordRow, line: ClothLine, now: datetime) -> None:
    """Note a line as a test line: of now on the cloth that is being stitched, else of when that cloth was."""
    at = now
    if (on := cloth_on(workshop, row.machine_id)) is None or on.id != row.id:
        at = on_cloth(workshop, row).at
    setup = workshop.setup_at(row)
    look = StitchedLook(
        setting=line.setting,
        grade=line.grade,
        motion=line.motion,
        sandwich=setup.sandwich or Sandwich(),
        doubtful=line.doubtful,
        cloth=row.id,
    )
    workshop.note(row.machine_id, look, at, now)


def take_line(workshop: Workshop, cloth_id: int, record_id: int, now: datetime) -> ClothItem:
    """Move a test line to this cloth, from another or from none: it counts as stitched with this one then."""
    row, cloth = cloth_row(workshop, cloth_id)
    look = workshop.record(record_id)
    if not isinstance(look.payload, StitchedLook) or look.machine_id != row.machine_id:
        raise CraftError("That isn't a test line of this machine.", "record")
    if cloth.noted_elsewhere:
        raise CraftError("That cloth is from the box. Judge the line on it instead.", "record")
    line = ClothLine(setting=look.payload.setting, grade=look.payload.grade, motion=look.payload.motion)
    held = on_cloth(workshop, row)
    check_not_twice(workshop.machine(row.machine_id).spec.scale, judged_before(held.lines, line), line)
    same = look.change_id == row.change_id and look.at >= row.at
    at = look.at if same else held.at
    workshop.correct(look.id, replace(look.payload, cloth=row.id), at, now)
    return cloth_item(workshop, cloth_id)


@dataclass(frozen=True, kw_only=True)
class ClothCorrected:
    """What is corrected of a cloth: the number on it, its note, or when it was stitched; its lines move with it."""

    number: int
    note: str = ""
    at: datetime | None = None


def correct_cloth(
    workshop: Workshop, cloth_id: int, corrected: ClothCorrected, now: datetime, seen: int | None = None
) -> ClothItem:
    """Correct a cloth; where the day is another, its lines go with it."""
    row, cloth = cloth_row(workshop, cloth_id)
    at = corrected.at or row.at
    by: timedelta = at - row.at
    looks = on_cloth(workshop, row).looks
    if looks and (latest := looks[-1].at + by) > now:
        raise CraftError(f"Its last line would be in the future then, {latest:%Y-%m-%d %H:%M}.", "at")
    workshop.correct(row.id, replace(cloth, number=corrected.number, note=corrected.note), at, now, seen)
    if by:
        for look in looks:
            workshop.correct(look.id, look.payload, look.at + by, now)
    return cloth_item(workshop, cloth_id)


@dataclass(frozen=True, kw_only=True)
class SideBySide:
    """Two cloths: what they were stitched with differs in ``differences``, and what each motion found in ``rows``."""

    first: ClothItem
    second: ClothItem
    differences: Sequence[Difference]
    rows: Sequence[RowMoved] = field(default_factory=list)
    says: str = ""


def side_by_side(workshop: Workshop, first_id: int, second_id: int) -> SideBySide:
    """Compare two cloths: what differs, and what moved."""
    first, second = cloth_row(workshop, first_id)[0], cloth_row(workshop, second_id)[0]
    held = on_cloths(workshop, [first, second])
    items = _items(workshop, [first, second]) if first.id != second.id else _items(workshop, [first]) * 2
    apart = differences(held[first.id].setup, held[second.id].setup)
    if first.machine_id != second.machine_id:
        says = "They were stitched on two machines: the numbers of one say nothing about the other."
        return SideBySide(first=items[0], second=items[1], differences=apart, says=says)
    scale = workshop.machine(first.machine_id).spec.scale
    found = [
        {motion: row_found(scale, motion, row) for motion, row in rows_of(held[each.id].lines).items()}
        for each in (first, second)
    ]
    says = "" if apart else "Nothing on record differs between them."
    return SideBySide(first=items[0], second=items[1], differences=apart, rows=rows_moved(scale, *found), says=says)
