"""The stations of the thread line."""

from __future__ import annotations

from enum import StrEnum


class Station(StrEnum):
    """The stations, in working order."""

    THREAD = "thread"
    NEEDLE = "needle"
    BOBBIN = "bobbin"
    BALANCE = "balance"
    RUN = "run"
    MEND = "mend"
    LOG = "log"
