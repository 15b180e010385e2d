"""What is on a machine now is deleted only when that was said: its station would look for it."""

from __future__ import annotations

from weftonos.core.kernel.errors import CraftError, in_words
from weftonos.core.log.references import Thing
from weftonos.core.setup.events import BobbinLoaded, NeedleFitted, TopThreaded
from weftonos.core.setup.fold import InForce
from weftonos.store.workshop import Workshop


def _on(in_force: InForce) -> dict[Thing, set[int]]:
    """Return the numbers of what is on a machine, by the sort of thing."""
    top, loaded, fitted = (
        event.payload if event else None for event in (in_force.top, in_force.loaded, in_force.fitted)
    )
    threads = {*top.top} if isinstance(top, TopThreaded) else set()
    case, item, packet = None, None, None
    if isinstance(loaded, BobbinLoaded):
        threads.add(loaded.bobbin)
        case, item = loaded.case, loaded.item
    if isinstance(fitted, NeedleFitted):
        packet = fitted.packet
    single = {Thing.CASE: case, Thing.BOBBIN: item, Thing.PACKET: packet}
    return {Thing.THREAD: threads, **{thing: {number} for thing, number in single.items() if number is not None}}


def refuse_in_use(workshop: Workshop, thing: Thing, number: int) -> None:
    """Raise :class:`CraftError` with where it is now, for a thing that is on a machine; its field is ``anyway``."""
    machines = [
        row.spec.nickname
        for row in workshop.machines()
        if number in _on(workshop.present(row.id).in_force).get(thing, ())
    ]
    if machines:
        raise CraftError(f"It is in {in_words(machines, 'and')} now.", "anyway")
