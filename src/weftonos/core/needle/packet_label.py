"""What is printed on a packet of needles, read as a thread's label is: system, point, size, finish, how many."""

from __future__ import annotations

import re
from dataclasses import dataclass

from weftonos.core.kernel.errors import CraftError, require_text
from weftonos.core.needle.needle import SIZE_PAIRS, NeedleFinish, NeedleSize, Point

#: The longest line of a packet.
LONGEST_LINE = 120
#: What the letters behind a home system's number say of the point (memory: makers differ, and the word wins).
_LETTERS = {
    "h": Point.UNIVERSAL,
    "h-m": Point.SHARP,
    "h-q": Point.QUILTING,
    "h-e": Point.EMBROIDERY,
    "h-j": Point.DENIM,
    "h-suk": Point.BALLPOINT,
    "h-s": Point.BALLPOINT,
    "h-met": Point.METALLIC,
    "n": Point.TOPSTITCH,
    "r": Point.SHARP,
    "rg": Point.SHARP,
    "ffg": Point.BALLPOINT,
    "fg": Point.BALLPOINT,
    "ses": Point.BALLPOINT,
    "suk": Point.BALLPOINT,
}
#: And what is written out.
_WORDS = {
    "universal": Point.UNIVERSAL,
    "sharp": Point.SHARP,
    "sharps": Point.SHARP,
    "fine point": Point.SHARP,
    "quilting": Point.QUILTING,
    "topstitch": Point.TOPSTITCH,
    "top stitch": Point.TOPSTITCH,
    "topstitching": Point.TOPSTITCH,
    "embroidery": Point.EMBROIDERY,
    "metallic": Point.METALLIC,
    "ballpoint": Point.BALLPOINT,
    "ball point": Point.BALLPOINT,
    "jersey": Point.BALLPOINT,
    "denim": Point.DENIM,
    "jeans": Point.DENIM,
}
_COATED = re.compile(r"\b(titanium|tin|coated)\b")
_HOW_MANY = re.compile(
    r"\b(?:pack(?:et)? of |pk |qty )(?P<after>\d{1,3})\b|\b(?P<before>\d{1,3}) ?(?:needles?|pcs?|pieces?|pk|pack|ct)\b"
)
#: Systems as they are printed, the longest first: what follows the number is the point's letters.
_SYSTEM = re.compile(
    r"\b(130/705|705|15 ?x ?1|ha ?x ?1(?: ?sp)?|135 ?x ?\d{1,2}|dp ?x ?\d{1,2}|hl ?x ?5|134(?:-35)?)(?!\d)"
)
_CODE = re.compile(r"^[\s-]*(h(?:[\s-](?:met|suk|[mqejs]))?|ffg|fg|ses|suk|rg|mr|[nr])\b(?!\w)")
_PAIR = re.compile(r"\b(?:nm ?)?(\d{2,3}) ?/ ?(\d{1,2})\b")
_ONE = re.compile(r"(?:\bsize |\bno\.? ?|#|\bnm ?)?\b(\d{1,3})\b")


@dataclass(frozen=True, kw_only=True)
class PacketRead:
    """A packet's line as read; what is not printed on it is ``None`` or empty and is asked."""

    system: str
    metric: int | None
    american: int | None
    point: Point | None
    finish: NeedleFinish
    bought: int | None
    asks: tuple[str, ...]


def read_packet(line: str) -> PacketRead:
    """Read what is printed on a packet of needles: ``"130/705 H-M 80/12"``.

    Raises :class:`CraftError` for a pair of sizes that does not exist, and for a line that holds none of it.

    >>> read_packet("130/705 H-M 80/12").point
    <Point.SHARP: 'sharp'>
    """
    require_text(line, LONGEST_LINE, "The packet's line", "line")
    rest = " ".join(line.lower().replace("×", "x").split())
    finish = NeedleFinish.TITANIUM if _COATED.search(rest) else NeedleFinish.STEEL
    many = _HOW_MANY.search(rest)
    bought = int(many["after"] or many["before"]) if many else None
    rest = _HOW_MANY.sub(" ", rest)
    worded = next((point for word, point in _WORDS.items() if re.search(rf"\b{word}\b", rest)), None)
    system, lettered = "", None
    if found := _SYSTEM.search(rest):
        system, behind = found[0].replace(" ", ""), rest[found.end() :]
        if code := _CODE.match(behind):
            lettered = _LETTERS.get(re.sub(r"[\s-]+", "-", code[1]))
            behind = behind[code.end() :]
        rest = f"{rest[: found.start()]} {behind}"
    size = _size_in(rest)
    point = worded or lettered
    if not (system or size or point):
        raise CraftError("No size, point or system was found. Type it as it stands: 130/705 H 90/14.", "line")
    asks = [what for what, known in (("size", size), ("point", point), ("system", system)) if not known]
    return PacketRead(
        # As packets print it: letters large, the x between small.
        system=system.upper().replace("X", "x"),
        metric=size.metric if size else None,
        american=size.american if size else None,
        point=point,
        finish=finish,
        bought=bought if bought and bought > 0 else None,
        asks=tuple(asks),
    )


def _size_in(rest: str) -> NeedleSize | None:
    if pair := _PAIR.search(rest):
        metric, american = int(pair[1]), int(pair[2])
        # Some packets print the American number first.
        return NeedleSize(american, metric) if american > metric else NeedleSize(metric, american)
    for found in _ONE.finditer(rest):
        number = int(found[1])
        if number in SIZE_PAIRS:
            return NeedleSize.of_metric(number)
        if any(number == american for american, _ in SIZE_PAIRS.values()):
            return NeedleSize.of_american(number)
    return None
