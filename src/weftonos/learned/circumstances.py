"""What the records know of a machine, for those who look for a cause: how it stands, and what changed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from weftonos.core.kernel.care import Care
from weftonos.core.log.logbook import describe
from weftonos.core.mend.circumstance import Change, Circumstances, Since, changes
from weftonos.core.mend.upkeep import UpkeepKind
from weftonos.core.needle.fit_distance import fit_distance
from weftonos.core.needle.makers_needle import led_by_maker
from weftonos.core.needle.packet import why_not_this_system
from weftonos.core.needle.pairing import pair_needle
from weftonos.core.setup.fold import Event
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.setup import Setup
from weftonos.core.thread.drawer import DrawerThread
from weftonos.learned.balance import knob_stands
from weftonos.learned.own_records import life_of
from weftonos.learned.time_on import TimeOn
from weftonos.store.folding import numbers_of
from weftonos.store.models import RecordRow
from weftonos.store.rack import WhichCase
from weftonos.store.workshop import Workshop


@dataclass(frozen=True)
class LastGood:
    """When it last ran well, how that reads, and the stitching hours since."""

    at: datetime
    text: str
    hours: float


def circumstances(workshop: Workshop, machine_id: int, setup: Setup, on: TimeOn) -> Circumstances:
    """Return what the records know about a machine as it stands."""
    owned = list(workshop.drawer.specs([tag.id for tag in setup.top]).values())
    life, stands = life_of(workshop, machine_id, setup, on, Care.USUAL), knob_stands(workshop, machine_id, setup)
    return Circumstances(
        machine_kind=workshop.machine(machine_id).spec.kind,
        top=tuple(t.thread for t in setup.top),
        bobbin=setup.bobbin_thread,
        needle=setup.needle.size if setup.needle else None,
        point=setup.needle.point if setup.needle else None,
        # By its condition alone, and in the second half of its life, hours say nothing for or against a needle.
        needle_hours=life.hours if life and life.dull_by_age is not None else None,
        needle_minutes=60 * on.needle_hours if setup.needle else None,
        needle_due=life.dull_by_age if life else None,
        bobbin_mn=setup.reading.mean_mn if setup.reading else None,
        swing=setup.reading.swing if setup.reading else None,
        target=workshop.bobbin_target(machine_id, setup.case.id if setup.case else None),
        sandwich=setup.sandwich,
        grade=setup.look.grade if setup.look else None,
        knob_by=stands.by if stands else None,
        other_system=_other_system(workshop, machine_id, setup),
        sizes_off=_sizes_off(workshop.machine(machine_id).spec, setup, owned),
        hand_test_failed=_hand_test_failed(owned),
        hours_since_cleaning=on.hours_since(UpkeepKind.CLEANING),
        hours_since_oiling=on.hours_since(UpkeepKind.OILING),
    )


def _other_system(workshop: Workshop, machine_id: int, setup: Setup) -> bool | None:
    """Say whether the needle that is in is of another system; ``None`` where either is not noted."""
    machine = workshop.machine(machine_id).spec
    if setup.needle is None or not setup.needle.system or not machine.needle_system:
        return None
    return bool(why_not_this_system(machine.needle_system, setup.needle.system, machine.nickname))


def _hand_test_failed(owned: Sequence[DrawerThread]) -> bool | None:
    """Say whether a thread on top failed the last test by hand of its kind; ``None`` where none was made."""
    judged = [test.good for spec in owned for test in spec.last_tests.values()]
    return not all(judged) if judged else None


def _sizes_off(machine: Machine, setup: Setup, owned: Sequence[DrawerThread]) -> int | None:
    """Say how many sizes the needle that is in is from the best; ``None`` where needle or thread is not noted."""
    top = setup.top_bundle
    if setup.needle is None or top is None:
        return None
    pairing = pair_needle(machine.kind, machine.size_school, top, sandwich=setup.sandwich, schools=machine.schools)
    if owned:
        pairing = led_by_maker(machine.kind, pairing, top, owned[0].needle_named, machine.schools)
    if not pairing.through_a_needle:
        return None
    return fit_distance(machine.kind, pairing, top, setup.needle.size, setup.needle.point).off


def recorded_changes(
    workshop: Workshop, machine_id: int, setup: Setup, on: TimeOn, until: RecordRow | None
) -> tuple[LastGood | None, Sequence[Change]]:
    """Return when a machine last ran well before a record (or now), and what the records say changed since."""
    present = workshop.present(machine_id)
    good, numbers, hours = present.good, present.good_numbers, on.since_good
    if good and until is not None and good.order > (until.at, until.id):
        row = workshop.mending.last_good_before(machine_id, until)
        good = Event(row.id, row.at, row.payload) if row else None
        numbers = numbers_of(row) if row else {}
        hours = workshop.runs.stitched_since(machine_id, [good])[0][0] if good else 0.0
    if good is None:
        return None, ()
    before = workshop.setups_of({0: numbers})[0]
    scale = workshop.machine(machine_id).spec.scale
    which = WhichCase(machine_id, setup.case.id if setup.case else None)
    turned = workshop.rack.last_turns([which]).get(which)
    since = Since(
        upkeep=_upkeep_since(workshop, machine_id, good.at, until),
        screw_turned=turned is not None and turned > good.at,
        setting_before=scale.stands(before.knob.setting) if before.knob else "",
        setting_now=scale.stands(setup.knob.setting) if setup.knob else "",
        quilt_before=before.quilt,
        quilt_now=setup.quilt,
    )
    text = describe(good.payload, before, scale, workshop.threads_named([good.payload]))  # type: ignore[arg-type]
    return LastGood(good.at, text, hours), changes(before, setup, since)


def _upkeep_since(
    workshop: Workshop, machine_id: int, since: datetime, until: RecordRow | None
) -> tuple[UpkeepKind, ...]:
    newest = workshop.present(machine_id).upkeep
    done = tuple(kind for kind, event in newest.items() if event.at > since)
    if until is None or all(newest[kind].at <= until.at for kind in done):
        return done
    # Something was done after the trouble was opened; what was done before it has to be asked for.
    return workshop.mending.upkeep_since(machine_id, since, until.at)
