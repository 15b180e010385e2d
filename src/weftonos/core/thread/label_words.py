"""The words of a label: fibers, constructions, finishes, what a nature without a weight usually is, and dyes.

Words are looked for from the longer to the shorter; what a pair of words says counts before what each says alone.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from difflib import get_close_matches

from weftonos.core.kernel.standing import Known, estimate, memory
from weftonos.core.thread.drawer import Form, ThreadFinish
from weftonos.core.thread.thread import Construction, Fiber


@dataclass(frozen=True)
class Material:
    """What words say a thread is made of; ``None`` where they leave it open."""

    fiber: Fiber | None = None
    construction: Construction | None = None


_F, _C = Fiber, Construction
_POLY = r"(?:polyester|poly)"
_COTTON_OVER = rf"(?:cotton[- ](?:wrapped|covered)(?: {_POLY})?|{_POLY}[- ]core,? cotton[- ]wrapped)"
_CORE = rf"(?:{_POLY}|nylon|rayon)[- ]core"
_BLEND = rf"(?:cotton ?/ ?{_POLY}|{_POLY} ?/ ?cotton|cotton poly(?: blend)?)"

_PHRASES: tuple[tuple[str, Material], ...] = (
    (rf"{_COTTON_OVER}|{_BLEND}", Material(_F.COTTON_POLYESTER, _C.CORE_SPUN)),
    (rf"{_POLY}[- ]core,? {_POLY}[- ]wrapped", Material(_F.POLYESTER, _C.CORE_SPUN)),
    (r"(?:with |and |/ ?)?metallic[- ]strands?", Material()),
    (
        rf"metallic,? (?:{_POLY}|nylon|rayon)[- ]core|wrapped metallic(?: (?:{_POLY}|nylon|rayon)[- ]core)?",
        Material(_F.METALLIC, _C.METALLIC),
    ),
    (
        r"flat metallic(?: film)?|hologra(?:ms?|phic)(?: film)?|tinsel|mylar(?: film)?|laminated film",
        Material(_F.METALLIC, _C.FILM),
    ),
    (rf"(?:{_POLY} )?film|flat film", Material(_F.METALLIC, _C.FILM)),
    (r"glow[- ]in[- ]the[- ]dark|glow", Material(_F.POLYESTER, _C.COATED)),
    (r"(?:wool+y|fluffy|textured) nylon", Material(_F.NYLON, _C.TEXTURED)),
    (rf"matte? {_POLY}", Material(_F.POLYESTER, _C.SPUN)),
    (rf"core[- ]?spun {_POLY}", Material(_F.POLYESTER, _C.CORE_SPUN)),
    (r"silk[- ]finish(?:ed)?", Material()),
    (r"(?:pva )?wash[- ]?away|water[- ]soluble|dissolving", Material(_F.WASH_AWAY, _C.SPUN)),
    (r"bamboo(?: viscose| rayon)?", Material(_F.BAMBOO, _C.MULTIFILAMENT)),
    (r"(?:pearl|perle)(?: cotton)?", Material(_F.COTTON, _C.SPUN)),
)
#: Phrases that say more together than word by word; what is found is taken out of the line.
PHRASES = tuple((re.compile(rf"(?<!\w)(?:{words})(?!\w)"), material) for words, material in _PHRASES)
FIBERS: Mapping[str, Fiber] = {
    "polyester": _F.POLYESTER,
    "trilobal": _F.POLYESTER,
    "metallic": _F.METALLIC,
    "viscose": _F.RAYON,
    "aramid": _F.ARAMID,
    "cotton": _F.COTTON,
    "nylon": _F.NYLON,
    "rayon": _F.RAYON,
    "merino": _F.WOOL,
    "linen": _F.LINEN,
    "silk": _F.SILK,
    "wool": _F.WOOL,
    "poly": _F.POLYESTER,
}
CONSTRUCTIONS: Mapping[str, Construction] = {
    "multifilament": _C.MULTIFILAMENT,
    "monofilament": _C.MONOFILAMENT,
    "invisible": _C.MONOFILAMENT,
    "core-spun": _C.CORE_SPUN,
    "core spun": _C.CORE_SPUN,
    "corespun": _C.CORE_SPUN,
    "textured": _C.TEXTURED,
    "filament": _C.MULTIFILAMENT,
    "trilobal": _C.MULTIFILAMENT,
    "clear": _C.MONOFILAMENT,
    "smoke": _C.MONOFILAMENT,
    "spun": _C.SPUN,
    "mono": _C.MONOFILAMENT,
}
FINISHES: Mapping[str, ThreadFinish] = {
    "mercerised": ThreadFinish.MERCERIZED,
    "mercerized": ThreadFinish.MERCERIZED,
    "trilobal": ThreadFinish.TRILOBAL,
    "glazed": ThreadFinish.GLAZED,
    "gassed": ThreadFinish.GASSED,
    "glace": ThreadFinish.GLAZED,
}
FORMS: Mapping[str, Form] = {
    "pre-wounds": Form.PRE_WOUND,
    "pre-wound": Form.PRE_WOUND,
    "prewound": Form.PRE_WOUND,
    "cone": Form.CONE,
    "spool": Form.CROSS_WOUND_SPOOL,
}
#: What a fiber is made into where its label does not say.
USUAL_CONSTRUCTION: Mapping[Fiber, Construction] = {
    _F.COTTON: _C.SPUN,
    _F.POLYESTER: _C.MULTIFILAMENT,
    _F.COTTON_POLYESTER: _C.CORE_SPUN,
    _F.NYLON: _C.MULTIFILAMENT,
    _F.RAYON: _C.MULTIFILAMENT,
    _F.SILK: _C.MULTIFILAMENT,
    _F.METALLIC: _C.METALLIC,
    _F.WASH_AWAY: _C.SPUN,
    _F.WOOL: _C.SPUN,
    _F.LINEN: _C.SPUN,
    _F.BAMBOO: _C.MULTIFILAMENT,
    _F.ARAMID: _C.SPUN,
}
#: Weights that a plain fiber is mostly sold in, the usual one first (common practice).
USUAL_WEIGHTS: Mapping[Fiber, tuple[int, ...]] = {
    _F.COTTON: (50, 40, 30, 60),
    _F.POLYESTER: (40, 60, 50, 80),
    _F.COTTON_POLYESTER: (40, 50, 28),
    _F.NYLON: (60, 40),
    _F.RAYON: (40, 30),
    _F.BAMBOO: (40, 30),
    _F.SILK: (100, 50, 30),
    _F.WOOL: (12, 30, 50),
    _F.LINEN: (30, 40, 60),
    _F.ARAMID: (40, 60),
}
#: A clear thread's usual thickness, where its label does not say.
CLEAR_MM = estimate(0.10, "mm")
#: What a thread without a weight usually is, in tex.
_USUAL_TEX: Mapping[Material, Known] = {
    Material(_F.METALLIC, _C.METALLIC): estimate(25, "tex", "the 40 wt class"),
    Material(_F.METALLIC, _C.FILM): estimate(16.7, "tex", "a film of 0.3 mm, judged by the eye of the needle"),
    Material(_F.WASH_AWAY, _C.SPUN): estimate(14.3, "tex", "about 60 to 80 wt"),
    Material(_F.NYLON, _C.TEXTURED): estimate(18, "tex", "woolly nylon"),
    Material(_F.POLYESTER, _C.COATED): estimate(25, "tex", "the 40 wt class"),
}
#: Pearl cotton by its size, in tex: bobbin work only.
PEARL_TEX: Mapping[int, Known] = {
    5: memory(220, "tex"),
    8: memory(120, "tex"),
    12: estimate(75, "tex"),
    3: estimate(400, "tex"),
}
PEARL = re.compile(r"\b(?:pearl|perle)\b")
#: Words that are spelled in many ways; what is close to one of them, and begins alike, is taken for it.
_SPELLED = [
    "cotton",
    "polyester",
    "poly",
    "metallic",
    "rayon",
    "trilobal",
    "invisible",
    "monofilament",
    "nylon",
    "mercerized",
    "corespun",
    "variegated",
]
_CLOSE = 0.8
_FEWEST_LETTERS = 5


def usual_tex(material: Material) -> Known | None:
    """Return what a thread of a nature usually weighs, in tex; ``None`` where many weights are usual."""
    return _USUAL_TEX.get(material)


def spelled(line: str) -> tuple[str, tuple[str, ...]]:
    """Return a line with words that are close to the trade's put right, and what was taken for what."""
    known = {*FIBERS, *CONSTRUCTIONS, *FINISHES, *FORMS, *DYES}
    said = []

    def right(found: re.Match[str]) -> str:
        word = found[0]
        if word in known or len(word) < _FEWEST_LETTERS:
            return word
        close = [each for each in get_close_matches(word, _SPELLED, 1, _CLOSE) if each[0] == word[0]]
        # "poly" is short: only a doubled letter is close to it.
        if not close or (len(close[0]) < _FEWEST_LETTERS and len(word) > _FEWEST_LETTERS):
            return word
        said.append(f"“{word}” as {close[0]}")
        return close[0]

    return re.sub(r"[a-z]+", right, line), tuple(said)


#: Forty dyes, as a picker shows them, by the words that labels use.
DYES: Mapping[str, str] = {
    "white": "#f7f7f5",
    "ivory": "#f3ead2",
    "ecru": "#dccba6",
    "natural": "#e3d6b8",
    "cream": "#efe3c2",
    "tan": "#b99a6b",
    "khaki": "#9a8f63",
    "brown": "#6b4a2f",
    "chocolate": "#4a3022",
    "rust": "#a34a25",
    "copper": "#a8623a",
    "bronze": "#80602f",
    "gold": "#c99a2e",
    "yellow": "#f2cf3c",
    "lemon": "#f5e67a",
    "orange": "#e5842b",
    "peach": "#f0b890",
    "coral": "#e8705f",
    "red": "#b92a2f",
    "burgundy": "#6d1f33",
    "rose": "#c96a83",
    "pink": "#eba3b8",
    "magenta": "#b32d78",
    "plum": "#5f2d56",
    "purple": "#5d3a8c",
    "lavender": "#a99bcb",
    "navy": "#1f2a4d",
    "royal blue": "#2a4aa0",
    "blue": "#3b6fb0",
    "sky blue": "#8fbde0",
    "turquoise": "#2e9a9e",
    "teal": "#1f6f70",
    "seafoam": "#9fd0bd",
    "mint": "#b8dcc0",
    "green": "#3d7d43",
    "olive": "#6b6b35",
    "sage": "#94a383",
    "silver": "#b7bcc2",
    "gray": "#7f858c",
    "black": "#1c1c1f",
}
_OTHER_DYE_WORDS = {"grey": "gray", "wine": "burgundy", "charcoal": "black", "off-white": "ivory", "aqua": "turquoise"}


def dye_named(line: str) -> str | None:
    """Return the color that a line's words name, as ``#rrggbb``; ``None`` where none is named, or several are.

    >>> dye_named("40 wt trilobal, navy")
    '#1f2a4d'
    """
    words = {**{name: name for name in DYES}, **_OTHER_DYE_WORDS}
    found, rest = [], line
    for word in sorted(words, key=len, reverse=True):
        if (without := re.sub(rf"\b{re.escape(word)}s?\b", " ", rest)) != rest:
            found.append(words[word])
            rest = without
    return DYES[found[0]] if len(set(found)) == 1 else None
