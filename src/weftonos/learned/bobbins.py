"""What a machine's own records say of the bobbin that is in: may it wait, how to turn for it, which case is for it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

from weftonos.core.bobbin.events import BobbinReading, Feel, ScrewTurned
from weftonos.core.kernel.feature import Feature
from weftonos.core.mend.incident import IncidentOutcome
from weftonos.core.mend.trouble import Drawing, Opens
from weftonos.core.setup.after_swap import Stands, as_it_stands, felt_after_swap
from weftonos.core.setup.case_choice import CaseAdvice, LearnedTurn, case_advice, learned_turn, second_case
from weftonos.core.setup.events import BobbinLoaded
from weftonos.core.setup.may_wait import (
    BobbinBefore,
    MayWait,
    OffByHand,
    bobbins_before,
    left_unread,
    may_wait,
    off_by_hand,
)
from weftonos.core.setup.setup import Setup
from weftonos.core.setup.swap import TurnFirst, swap_of_fibers, turn_first
from weftonos.core.thread.thread import Fiber
from weftonos.knowledge import troubles
from weftonos.learned.answer_cache import remembered
from weftonos.learned.at_stake import care_of, feeds, minutes_here
from weftonos.store.workshop import Workshop

#: Where a cure is done that leaves another case behind.
_AT_THE_CASE = (Opens.BOBBIN, Opens.RACK)


def bobbin_waits(workshop: Workshop, machine_id: int, setup: Setup) -> MayWait | None:
    """Return why the bobbin that is in may go unread, by the ones before it; ``None`` where it is read, or may not."""
    machine = workshop.machine(machine_id).spec
    if setup.reading or setup.felt or Feature.CASE not in machine.features or not feeds(workshop, machine_id):
        return None
    if machine.schools.takes("read") == "every":
        return None
    if (load := _loaded(workshop, machine_id)) is None or load.bobbin_work:
        return None
    target = workshop.bobbin_target(machine_id, setup.case.id if setup.case else None)
    before = _bobbins_before(workshop, machine_id)
    care, takes = care_of(workshop, setup.quilt), minutes_here(workshop, machine_id).bobbin
    return (
        may_wait(before, target, care, takes)
        or _after_swap(workshop, machine_id, setup, load)
        or (None if machine.schools.said("read") else left_unread(before, target, care, takes))
    )


def _after_swap(
    workshop: Workshop, machine_id: int, setup: Setup, load: BobbinLoaded, *, turned: int = 0
) -> MayWait | None:
    """Say whether a bobbin that came after another thread may wait, by the gauge or by hand as it is judged here.

    Before that its screw is ``turned`` by so many minutes more, above 0 in.
    """
    care, takes = care_of(workshop, setup.quilt), minutes_here(workshop, machine_id).bobbin
    if Feature.GAUGE in workshop.machine(machine_id).spec.features:
        stands, target = _stands(workshop, machine_id, load), workshop.bobbin_target(machine_id, load.case)
        return stands.waits(target, care, takes, turned=turned) if stands and target else None
    turn = [ScrewTurned(case=load.case, minutes=turned)] if turned else []
    records = [*of_its_case(workshop, machine_id), *turn]
    return felt_after_swap(records, load, workshop.rack.one_thread(), care=care, takes=takes)


def _stands(workshop: Workshop, machine_id: int, load: BobbinLoaded) -> Stands | None:
    """Return how the case stands for the bobbin that is in; it's worked out once until something is written."""
    return remembered(
        workshop,
        ("case stands", machine_id),
        lambda: as_it_stands(of_its_case(workshop, machine_id), load, workshop.rack.one_thread()),
    )


def felt_off(workshop: Workshop, machine_id: int, setup: Setup) -> OffByHand | None:
    """Say what to do about the bobbin that is in and felt off; ``None`` unless it did."""
    if setup.reading or setup.felt is None or setup.felt.feel is Feel.RIGHT:
        return None
    return off_by_hand(_bobbins_before(workshop, machine_id))


def lacking(workshop: Workshop, machine_id: int, setup: Setup, waits: MayWait | None) -> Sequence[str]:
    """Return what the combination on a machine still lacks before it can be saved, in working order.

    ``waits`` is why the bobbin that is in may go unread.
    """
    off = felt_off(workshop, machine_id, setup)
    settled = waits is not None or (off is not None and off.leaves)
    return setup.lacking(workshop.machine(machine_id).spec.features, bobbin_settled=settled)


def _loaded(workshop: Workshop, machine_id: int) -> BobbinLoaded | None:
    loaded = workshop.present(machine_id).in_force.loaded
    return loaded.payload if loaded and isinstance(loaded.payload, BobbinLoaded) else None


def _bobbins_before(workshop: Workshop, machine_id: int) -> Sequence[BobbinBefore]:
    load = _loaded(workshop, machine_id)
    if load is None or load.bobbin_work:
        return ()
    records = of_its_case(workshop, machine_id)
    return bobbins_before(records, load.bobbin, load.case, workshop.rack.one_thread())


def of_its_case(workshop: Workshop, machine_id: int) -> Sequence[object]:
    """Return what a machine's last bobbins were and said, and the cures after which a case is another one."""
    cures = {c.id for c in troubles().causes if c.opens in _AT_THE_CASE or c.drawing is Drawing.CASE_SPRING}
    return [
        record
        for record in workshop.rack.bobbin_records(machine_id)
        if not isinstance(record, IncidentOutcome) or record.cause in cures
    ]


def turn_before_pulling(
    workshop: Workshop, machine_id: int, setup: Setup, *, by_fiber: bool = True
) -> TurnFirst | None:
    """Return how to turn the screw for another thread below before the first pull; ``None`` where nothing says so.

    Where the two threads themselves were never read here, their fibers speak, if asked ``by_fiber``: two queries more.
    """
    machine, load = workshop.machine(machine_id).spec, _loaded(workshop, machine_id)
    if setup.reading or setup.felt or Feature.GAUGE not in machine.features or load is None:
        return None
    target = workshop.bobbin_target(machine_id, setup.case.id if setup.case else None)
    if target is None or not feeds(workshop, machine_id):
        return None
    if stands := _stands(workshop, machine_id, load):
        first = stands.turn_first(target)
        return first.without_a_pull() if first and _waits_turned(workshop, machine_id, setup, first.minutes) else first
    records = of_its_case(workshop, machine_id)
    if not by_fiber or not (swap := swap_of_fibers(records, load.bobbin, load.case, _fibers(workshop, records))):
        return None
    return turn_first(swap, target, workshop.rack.history_in(machine_id, load.case).turns)


def _fibers(workshop: Workshop, records: Sequence[object]) -> Callable[[int], Fiber | None]:
    loaded = {record.bobbin for record in records if isinstance(record, BobbinLoaded)}
    fibers = {number: owned.thread.fiber for number, owned in workshop.drawer.specs(loaded).items()}
    return fibers.get


def turn_by_hand(workshop: Workshop, machine_id: int, setup: Setup) -> LearnedTurn | None:
    """Return the turn from the thread before to this one, where the bobbin is felt; ``None`` where none was learned."""
    machine, load = workshop.machine(machine_id).spec, _loaded(workshop, machine_id)
    if setup.reading or setup.felt or load is None or load.bobbin_work or Feature.BY_HAND not in machine.features:
        return None
    rack = workshop.rack
    turn = learned_turn(of_its_case(workshop, machine_id), load, rack.one_thread())
    if turn is None or not turn.minutes or not _waits_turned(workshop, machine_id, setup, turn.minutes):
        return turn
    return turn.without_a_look()


def turn_known(workshop: Workshop, machine_id: int, setup: Setup) -> TurnFirst | LearnedTurn | None:
    """Return the turn for the thread that went below, by what these two threads did here; it asks nothing more."""
    return turn_before_pulling(workshop, machine_id, setup, by_fiber=False) or turn_by_hand(workshop, machine_id, setup)


def _waits_turned(workshop: Workshop, machine_id: int, setup: Setup, minutes: int) -> bool:
    """Say whether the bobbin that is in may go unread once its screw is turned by so much."""
    load = _loaded(workshop, machine_id)
    if load is None or workshop.machine(machine_id).spec.schools.takes("read") == "every":
        return False
    return feeds(workshop, machine_id) and _after_swap(workshop, machine_id, setup, load, turned=minutes) is not None


def worth_a_case(workshop: Workshop, machine_id: int) -> str:
    """Say that a second case is worth its price where the screw is often turned between two threads; else nothing."""
    load = _loaded(workshop, machine_id)
    if load is None:
        return ""
    gauge = Feature.GAUGE in workshop.machine(machine_id).spec.features
    takes = minutes_here(workshop, machine_id).changes(gauge=gauge).screw
    return second_case(workshop.rack.bobbin_records(machine_id), load, workshop.rack.one_thread(), takes)


def case_for(workshop: Workshop, machine_id: int, setup: Setup) -> CaseAdvice | None:
    """Return which case to take for the thread that is in the bobbin; ``None`` where nothing is known to be better."""
    machine, thread = workshop.machine(machine_id).spec, setup.bobbin_thread
    if thread is None or Feature.CASE not in machine.features:
        return None
    cases, present = workshop.rack.known_cases(machine_id), setup.case.id if setup.case else None
    if case_advice(cases, thread, present) is None:
        return None
    # Only a case that is to be taken instead is asked for its last reading.
    histories = workshop.rack.histories([case.id for case in cases if case.id != present], 1, BobbinReading.kind)
    read = {number: found.readings[-1][1].mean_mn for number, found in histories.items() if found.readings}
    return case_advice([replace(case, last_mn=read.get(case.id)) for case in cases], thread, present)
