"""What a stitch looks like, front and back, and what that says.

Our signs: minus means the lock sits toward the front (top too tight), plus toward the back (top too loose).
Bobbin too loose or too tight mirrors the same picture: a gauge reading separates them, an eye cannot.
"""

from __future__ import annotations

from dataclasses import dataclass

from weftonos.core.kernel.errors import CraftError


@dataclass(frozen=True, kw_only=True)
class GradeFacts:
    """One grade: its number, what is seen on each side, and the short name."""

    grade: int
    name: str
    front: str
    back: str


GRADES: dict[int, GradeFacts] = {
    g.grade: g
    for g in (
        GradeFacts(
            grade=-2,
            name="top much too tight",
            front="bobbin thread lies on the surface, top runs straight",
            back="top pulled flat",
        ),
        GradeFacts(grade=-1, name="top a little tight", front="dots of bobbin thread at the holes", back="clean"),
        GradeFacts(grade=0, name="balanced", front="clean", back="clean"),
        GradeFacts(grade=1, name="top a little loose", front="clean", back="dots of top thread at the holes"),
        GradeFacts(grade=2, name="top much too loose", front="clean", back="loops, a nest"),
    )
}


def check_grade(grade: int) -> None:
    """Raise :class:`CraftError` for a grade that is not on the scale -2 to 2."""
    if grade not in GRADES:
        raise CraftError(f"A stitch is judged from −2 to +2. This is {grade}.", "grade")
