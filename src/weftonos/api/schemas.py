"""One schema a type: what several routes answer with is described to pydantic once, not once a route.

Pydantic works out the schema of a plain dataclass anew wherever it meets it, which took most of the start-up; it uses
one that the class already carries.
"""

from __future__ import annotations

from typing import Any, get_args

from pydantic import TypeAdapter

from weftonos.core.balance.estimate import BalanceEstimate
from weftonos.core.bobbin.gauge import GaugeAnswer
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.advice import Caution, Reason
from weftonos.core.kernel.sandwich import Sandwich
from weftonos.core.kernel.scale import TopScale
from weftonos.core.log.logbook import Payload
from weftonos.core.mend.diagnosis import Diagnosis
from weftonos.core.needle.life import NeedleLife
from weftonos.core.needle.pairing import NeedleChoice
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.setup import Setup
from weftonos.core.thread.drawer import DrawerThread
from weftonos.core.thread.thread import Thread
from weftonos.learned.entries import LogEntry, Noted

#: From the smaller to the larger, so that each finds the ones it is made of.
SHARED: tuple[type[Any], ...] = (
    Reason,
    Caution,
    BobbinTarget,
    TopScale,
    Sandwich,
    Thread,
    NeedleLife,
    NeedleChoice,
    DrawerThread,
    Machine,
    Setup,
    *get_args(Payload),
    GaugeAnswer,
    BalanceEstimate,
    Diagnosis,
    LogEntry,
    Noted,
)


def share_schemas() -> None:
    """Give each shared type its schema; to be called before the routes are built."""
    for shape in SHARED:
        shape.__pydantic_core_schema__ = TypeAdapter(shape).core_schema
