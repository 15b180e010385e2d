"""The cells of a row as numbers, lengths, pulls, moments and words of the trade."""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import datetime

from weftonos.core.bobbin.gauge import Pull
from weftonos.core.kernel.errors import CraftError, in_words
from weftonos.core.kernel.force import ForceUnit
from weftonos.core.kernel.sandwich import Motion
from weftonos.core.kernel.spoken import METERS_PER_YARD, LengthUnits
from weftonos.core.kernel.stitch import GRADES
from weftonos.core.mend.upkeep import UPKEEP_NAMES, UpkeepKind
from weftonos.core.needle.needle import NeedleSize, Point
from weftonos.exchange.spreadsheet import moment_in, number_in, time_in
from weftonos.inout.table_kinds import Choices

#: Hours and minutes: 1:15, 1:15:00, 1 h 15, 1h15 min.
_DURATION = re.compile(r"(\d{1,3})(?::|\s?h(?:ours?|rs?)?\s?)(\d{1,2})(?::\d{2})?(?:\s?(?:h|m|mins?))?")


class Cells:
    """The cells of one row, by the fields they were chosen for.

    ``both_marks`` says that numbers of the table are written with a point and with a comma.
    """

    def __init__(self, cells: Sequence[str], choices: Choices, *, both_marks: bool = False) -> None:
        self._cells = cells
        self._choices = choices
        self._both_marks = both_marks
        said = self.text("at")
        # A time behind the day, a day as spreadsheets count them with a part of one, or a time beside it.
        timed = re.search(r"\d[:.h]\d\d", said[8:]) or re.fullmatch(r"\d{5}\.\d+", said) or self.text("clock")
        self.only_a_day = not timed if "at" in choices.columns else True

    def text(self, field: str) -> str:
        """Return a cell; empty where no column was chosen for it."""
        column = self._choices.columns.get(field)
        return "" if column is None else self._cells[column].strip()

    def number(self, field: str) -> float | None:
        """Return the number of a cell, whatever unit stands behind it; ``None`` for an empty one."""
        cell = self.text(field)
        if not cell:
            return None
        found = re.match(r"[+\-−]?[\d.,\s\u00a0']*\d|[+\-−]?\d", cell)
        if found and self._both_marks and (either := re.fullmatch(r"(\d{1,3})[.,](\d{3})", found[0])):
            raise CraftError(
                f"“{cell[:30]}” is {either[1]}.{either[2]} or {either[1]}{either[2]}: this table has both marks. "
                "Write it so that it can only be read one way.",
                field,
            )
        value = number_in(found[0], decimal_comma=self._choices.decimal_comma) if found else None
        if value is None:
            raise CraftError(f"“{cell[:30]}” is not a number.", field)
        return value

    def moment(self, field: str) -> datetime | None:
        """Return the moment of a cell; ``None`` for one that holds none. A day takes the time of day beside it."""
        found = moment_in(self.text(field), day_first=self._choices.day_first)
        if field != "at" or found is None or not (said := self.text("clock")):
            return found
        # A spreadsheet's cell with a time alone may come with the day that its count begins at.
        if (clock := time_in(said.rpartition(" ")[2] if said.startswith(("1899", "1900")) else said)) is None:
            raise CraftError(f"“{said[:30]}” isn't a time of day. Write it as 14:30.", "clock")
        return datetime.combine(found, clock, found.tzinfo)

    def length(self, field: str) -> float | None:
        """Return a length in meters; yards by what stands behind the number, else as the table has them."""
        value = self.number(field)
        if value is None:
            return None
        said = self.text(field).lower()
        yards = "yd" in said or "yard" in said
        metric = bool(re.search(r"\d\s*m", said))
        in_yards = yards or (not metric and self._choices.lengths is LengthUnits.INCH)
        return value * METERS_PER_YARD.value if in_yards else value

    def minutes(self) -> float | None:
        """Return stitching time: minutes, hours, or hours and minutes with a colon or their letters."""
        for field, times in (("minutes", 1), ("hours", 60)):
            said = self.text(field)
            if clock := _DURATION.fullmatch(said):
                return int(clock[1]) * 60 + int(clock[2])
            if value := self.number(field):
                if times == 1 and value < 1 and not re.search("[a-z]", said):
                    raise CraftError(f"“{said[:30]}” looks like part of a day. Show that column as h:mm.", field)
                in_hours = times == 60 or bool(re.search(r"\d\s*h", said.lower()))
                return value * (60 if in_hours else 1)
        return None

    def unit(self, field: str) -> ForceUnit:
        """Return the unit of a pull: what stands behind it, in its own column, or as the table has it."""
        said = f"{self.text(field)} {self.text('unit')}".lower()
        for unit in ForceUnit:
            if re.search(rf"(?<![a-z]){unit.value.lower()}(?![a-z])", said):
                return unit
        return ForceUnit.GF if re.search(r"(?<![a-z])(g|gram|grams)(?![a-z])", said) else self._choices.unit

    def pulls(self, field: str) -> tuple[Pull, ...]:
        """Return the pulls of a cell, and of those beside it: ``204; 210-214``, or a single mean."""
        fields = (field, *(each for each in self._choices.columns if each.startswith(f"{field}_")))
        said = [text for each in fields if (text := re.sub(r"[a-zA-Z]+", " ", self.text(each)).strip())]
        found = []
        separators = r"[;/|]|\s{1,3}(?=\d)" if self._choices.decimal_comma else r"[;/|,]|\s{1,3}(?=\d)"
        for text in said:
            if not self._choices.decimal_comma and (two := re.fullmatch(r"(\d+),(\d{1,2})", text)):
                self._must_be_two(text, int(two[1]), int(two[2]), field)
        for part in re.split(separators, ";".join(said)):
            ends = [
                number_in(end, decimal_comma=self._choices.decimal_comma)
                for end in re.split("[-–]", part.strip())
                if end
            ]
            if not ends:
                continue
            if None in ends or len(ends) > 2:
                raise CraftError(f"“{self.text(field)[:30]}” aren't pulls. Write them as 204; 210; 206.", field)
            found.append(Pull(value=ends[0]) if len(ends) == 1 else Pull(low=ends[0], high=ends[1]))
        if not found:
            raise CraftError("No pull given.", field)
        return tuple(found)

    def _must_be_two(self, said: str, first: int, second: int, field: str) -> None:
        """Refuse a figure with a comma that would be two pulls, where they are too far apart to be of one case."""
        if self._both_marks or not first / 2 <= second <= first * 2:
            raise CraftError(f"“{said}”: one pull, or two? Write {first}.{second} or {first}; {second}.", field)


def needle_size(cell: str, field: str) -> NeedleSize:
    """Return the needle size that a cell names, by either of its numbers."""
    found = [int(number) for number in re.findall(r"\d+", cell)[:2]]
    if not found:
        raise CraftError(f"“{cell[:30]}” isn't a needle size. Write it as 90/14.", field)
    if len(found) == 2:
        return NeedleSize(*found)
    return NeedleSize.of_metric(found[0]) if found[0] >= 30 else NeedleSize.of_american(found[0])


def needle_point(cell: str, field: str) -> Point | None:
    """Return the point that a cell names; ``None`` for an empty one."""
    said = cell.lower().strip()
    if not said:
        return None
    found = next((choice for choice in Point if choice.value in said or said in choice.value), None)
    if found is None:
        raise CraftError(f"“{cell[:30]}” isn't a needle point we know: {in_words(Point)}.", field)
    return found


def motion_named(cell: str, field: str) -> Motion | None:
    """Return the motion that a cell names; ``None`` for an empty one."""
    said = re.sub(r"[\s_-]+", "", cell.lower())
    if not said:
        return None
    ways = {Motion.FREE_MOTION: ("freemotion", "free", "fmq"), Motion.STRAIGHT: ("straight",)}
    ways[Motion.DECORATIVE] = ("decorative", "deco")
    found = next((motion for motion, words in ways.items() if said.startswith(words)), None)
    if found is None:
        raise CraftError(f"“{cell[:30]}” isn't a motion we know: {in_words([m.words for m in Motion])}.", field)
    return found


def stitch_grade(cell: str, field: str) -> int | None:
    """Return how a stitch looked by the words or the number of a cell; ``None`` for an empty one."""
    said = cell.lower().strip().replace("−", "-")
    if not said:
        return None
    for grade, facts in GRADES.items():
        if said in (facts.name, facts.name.removeprefix("top "), f"{grade}", f"{grade:+d}"):
            return grade
    if said in ("good", "even", "perfect", "ok", "fine"):
        return 0
    raise CraftError(
        (f"“{cell[:30]}” isn't a stitch picture we know: {in_words([g.name for g in GRADES.values()])}."), field
    )


_DONE = {
    UpkeepKind.CLEANING: ("clean", "lint", "brush"),
    UpkeepKind.DISCS: ("disc", "disk", "floss"),
    UpkeepKind.OILING: ("oil", "lubric"),
    UpkeepKind.POLISHING: ("polish", "burr"),
    UpkeepKind.PART: ("part", "replac", "spring"),
    UpkeepKind.SERVICE: ("servic", "technician", "timing"),
}


def upkeep_kind(cell: str) -> UpkeepKind:
    """Return the upkeep that a cell names."""
    said = cell.lower()
    for kind in UpkeepKind:
        if said == kind.value or said == UPKEEP_NAMES[kind].lower():
            return kind
    # A service is more than the oil that goes with it.
    for kind in reversed(_DONE):
        if any(word in said for word in _DONE[kind]):
            return kind
    raise CraftError(f"“{cell[:30]}” isn't upkeep we know: {in_words(UpkeepKind)}.", "what")
