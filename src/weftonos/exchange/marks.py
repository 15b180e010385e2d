"""What stands on paper: strokes and lines of text on a sheet, in mm from its upper left corner."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, kw_only=True)
class Stroke:
    """A straight line, in mm from the top left."""

    x1: float
    y1: float
    x2: float
    y2: float
    width: float = 0.3


@dataclass(frozen=True, kw_only=True)
class Text:
    """A line of text by its left baseline, in mm."""

    x: float
    y: float
    text: str
    size_mm: float
    bold: bool = False


@dataclass(frozen=True, kw_only=True)
class Sheet:
    """A sheet of paper with its strokes and words."""

    width: float
    height: float
    strokes: tuple[Stroke, ...]
    words: tuple[Text, ...]
