"""What the log holds for and against, read in a few questions, and what tells whether it is still the same."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import text
from sqlalchemy.orm import Session

from weftonos.core.evidence.records import (
    AGES_H,
    PACES_M_H,
    Factor,
    NeedleUse,
    Stretch,
    class_of,
    needle_factors,
    needles_so_far,
)
from weftonos.core.log.run import Run
from weftonos.core.mend.incident import Incident
from weftonos.core.needle.needle import NeedleKind
from weftonos.core.setup.events import BobbinLoaded, NeedleFitted, NeedleRetired, SandwichLaid, TopThreaded
from weftonos.core.setup.machine import Machine
from weftonos.core.thread.drawer import DrawerThread
from weftonos.store.documents import as_stored, read_document
from weftonos.store.folding import events_of

#: A day of stitching begins at this hour, where Weftonos runs: an evening may go past midnight.
DAY_BEGINS_H = 4
#: One machine, from a moment on.
Since = tuple[int, datetime]


def _narrowed(since: Since | None) -> tuple[str, dict[str, Any]]:
    """Return what narrows a query of records ``r``, and its values: a condition that may not hold finds no index."""
    if since is None:
        return "", {}
    machine, at = since
    return "AND r.machine_id = :machine AND r.at >= :at ", {"machine": machine, "at": as_stored(at)}


def machine_names(session: Session) -> Mapping[int, str]:
    """Return what machines are called, by number."""
    rows = session.execute(text("SELECT id, spec FROM machine")).tuples()
    specs = {id_: read_document(spec, "machine") for id_, spec in rows}
    return {id_: spec.nickname for id_, spec in specs.items() if isinstance(spec, Machine)}


def thread_names(session: Session) -> Mapping[int, str]:
    """Return what every thread is called in full, by number; a second one of a name and weight is told from the first.

    Another lot of a thread may well be called as the first: it is another thread all the same.
    """
    specs = session.execute(text("SELECT id, spec FROM thread ORDER BY id")).tuples()
    found: dict[int, str] = {}
    taken: Counter[str] = Counter()
    for id_, text_ in specs:
        if isinstance(spec := read_document(text_, "thread"), DrawerThread):
            taken[spec.in_full] += 1
            found[id_] = spec.in_full if taken[spec.in_full] == 1 else f"{spec.in_full}, no. {taken[spec.in_full]}"
    return found


def last_of(session: Session, machine_id: int, most: int) -> Since:
    """Return from when on a machine's last ``most`` runs and troubles were noted."""
    query = text(
        f"SELECT at FROM record WHERE machine_id = :machine AND struck_at IS NULL AND kind IN ('{Run.kind}', "
        f"'{Incident.kind}') ORDER BY at DESC LIMIT 1 OFFSET :most"
    )
    at = session.execute(query, {"machine": machine_id, "most": most}).scalar()
    return machine_id, datetime.fromisoformat(at).replace(tzinfo=UTC) if at else datetime(1, 1, 1, tzinfo=UTC)


def read_stretches(session: Session, breaking: frozenset[str], since: Since | None = None) -> list[Stretch]:
    """Return all stitching that counts, with its breaks: troubles whose symptoms are among ``breaking``.

    ``since`` narrows it to one machine from a moment on; a needle's hours are then counted from there.
    """
    only, values = _narrowed(since)
    query = text(
        "SELECT r.id, r.machine_id, r.kind, r.minutes, r.length_m, "
        "r.top_id, r.loaded_id, r.fitted_id, r.sandwich_id, "
        f"CASE WHEN r.kind = '{Incident.kind}' THEN r.payload END AS payload, q.quilt, "
        "date(r.at, 'localtime', :begins) AS day "
        "FROM record r LEFT JOIN record q ON q.id = r.quilt_id "
        f"WHERE r.struck_at IS NULL AND r.kind IN ('{Run.kind}', '{Incident.kind}') {only}ORDER BY r.at, r.id"
    )
    rows = session.execute(query, {**values, "begins": f"-{DAY_BEGINS_H} hours"}).all()
    on = _what_was_on(session, rows)
    names = machine_names(session)
    found: dict[tuple[Any, ...], list[Any]] = {}
    sewn: defaultdict[int | None, float] = defaultdict(float)
    for id_, machine, kind, minutes, length, top, loaded, fitted, sandwich, payload, quilt, day in rows:
        # A run counts where its middle lies; a break comes after what was stitched before it.
        hours = (minutes or 0) / 60
        age = class_of(sewn[fitted] + hours / 2, AGES_H) if fitted else ""
        sewn[fitted] += hours
        # Without a quilt's name each day stands for one.
        same = (quilt or f"on {day}", age, machine, top, loaded, fitted, sandwich)
        found.setdefault(same, []).append((id_, kind, hours, length, payload))
    stretches = []
    for (quilt, age, machine, *put_on), mine in found.items():
        hours = 0.0
        meters: float | None = 0.0
        breaks, kinds = [], Counter[str]()
        for id_, kind, took, length, payload in mine:
            hours += took
            if kind == Run.kind:
                meters = meters + length if meters is not None and length else None
                continue
            trouble = read_document(payload, kind)
            if isinstance(trouble, Incident) and (found_so := breaking.intersection(trouble.symptoms)):
                breaks.append(id_)
                kinds.update(found_so)
        set_up: dict[Factor, str] = {}
        if age:
            set_up[Factor.NEEDLE_AGE] = age
        if meters and hours:
            set_up[Factor.PACE] = class_of(meters / hours, PACES_M_H)
        for role in put_on:
            set_up |= on.get(role, {})
        if machine in names:
            set_up[Factor.MACHINE] = names[machine]
        stretches.append(
            Stretch(
                quilt=quilt,
                set_up=set_up,
                hours=hours,
                meters=meters,
                breaks=len(breaks),
                records=tuple(breaks),
                kinds=kinds,
            )
        )
    return stretches


def _what_was_on(session: Session, rows: Sequence[Any]) -> dict[int, dict[Factor, str]]:
    """Return what each record in force put on, by its number."""
    numbers = {n for row in rows for n in row[5:9] if n}
    threads = thread_names(session)
    found = {}
    for number, event in events_of(session, numbers).items():
        match event.payload:
            case TopThreaded(top=top):
                found[number] = {Factor.TOP_THREAD: " + ".join(threads.get(t, "?") for t in top)}
            case BobbinLoaded(bobbin=bobbin):
                found[number] = {Factor.BOBBIN_THREAD: threads.get(bobbin, "?")}
            case NeedleFitted() as needle:
                found[number] = needle_factors(NeedleKind.like(needle))
            case SandwichLaid(sandwich=laid):
                named = {Factor.BATTING: laid.batting, Factor.FABRIC: laid.fabric}
                found[number] = {factor: words for factor, words in named.items() if words}
            case _:
                pass
    return found


def read_needles(session: Session, since: Since | None = None) -> list[NeedleUse]:
    """Return every needle of the workshop with how it ended; one that is still in ends with now.

    ``since`` narrows it to those of one machine that were fitted from a moment on.
    """
    only, values = _narrowed(since)
    query = text(
        "SELECT r.machine_id, r.kind, r.minutes, r.quilt, "
        "CASE WHEN r.kind = :run THEN NULL ELSE r.payload END AS payload "
        f"FROM record r WHERE r.struck_at IS NULL AND r.kind IN (:run, :fitted, :retired) {only}"
        "ORDER BY r.machine_id, r.at, r.id"
    )
    kinds = {"run": Run.kind, "fitted": NeedleFitted.kind, "retired": NeedleRetired.kind, **values}
    by_machine: dict[int, list[tuple[object, float | None, str]]] = {}
    for machine, kind, minutes, quilt, payload in session.execute(query, kinds).tuples():
        said = None if payload is None else read_document(payload, kind)
        by_machine.setdefault(machine, []).append((said, minutes, quilt or ""))
    names = machine_names(session)
    return [
        use
        for machine, events in by_machine.items()
        if machine in names
        for use in needles_so_far(names[machine], events).uses
    ]
