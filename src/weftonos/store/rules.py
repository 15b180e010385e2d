"""May this be written? What does not fit the machine, the drawer or the rack is refused with a sentence."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import select

from weftonos.core.balance.cloth import Cloth
from weftonos.core.balance.recipe import Recipe, check_correction
from weftonos.core.bobbin.events import BobbinLook, Part, PartMarked
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.scale import ScaleKind
from weftonos.core.log.logbook import Payload, case_of, cloth_of
from weftonos.core.mend.incident import Incident, IncidentAnswer, IncidentCheck, IncidentOutcome, Preflight
from weftonos.core.needle.bundle_advice import check_bobbin_work
from weftonos.core.needle.packet import check_system
from weftonos.core.plan.cones import ConeNoted, check_cone
from weftonos.core.plan.passes import PassStep, QuiltPlanned
from weftonos.core.setup.events import (
    BobbinLoaded,
    CasePutBack,
    KnobSet,
    MarkSet,
    NeedleFitted,
    RecipeUsed,
    StitchedLook,
    TopThreaded,
)
from weftonos.core.setup.fold import threads_of
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.setup import Setup
from weftonos.core.thread.drawer import DrawerThread
from weftonos.store.drawer import row_of
from weftonos.store.models import MachineRow, RecordRow
from weftonos.store.order import NEWEST_FIRST, counting
from weftonos.store.reading import Reading


class Rules:
    """The rules of what may be noted, by what is on record now."""

    def __init__(self, read: Reading) -> None:
        self._read = read

    def check(
        self, machine_id: int, machine: Machine, payload: Payload, at: datetime, row: RecordRow | None = None
    ) -> None:
        """Refuse what does not fit; what an old record said already is not judged again."""
        if row is None and machine.retired:
            raise CraftError(f"{machine.nickname} is retired. Put it back into use under Workshop first.", "machine")
        old = row.payload if row else None
        case_id = case_of(payload)
        if case_id is not None and case_id != case_of(old) and not self._is_in(machine_id, case_id):
            self._read.rack.usable_case(case_id)
        known = set(threads_of(old))
        match payload:
            case TopThreaded(top=ids):
                for thread_id in ids:
                    self._thread(thread_id, "top", known)
            case BobbinLoaded(bobbin=thread_id, bobbin_work=work):
                below = self._thread(thread_id, "bobbin", known).thread
                before_item = old.item if isinstance(old, BobbinLoaded) else None
                if payload.item is not None and payload.item != before_item:
                    self._check_item(payload.item, thread_id)
                if work:
                    # By what was on top then, not by what is on now.
                    check_bobbin_work(below, self._setup_before(machine_id, at, row).top_bundle)
            case BobbinLook() if old is None and machine.drops_in:
                raise CraftError(
                    f"The bobbin of {machine.nickname} drops in: there is no case to hang or to lay on your palm. "
                    "Judge it by the stitch. If it does have a case that comes out, say so under Workshop.",
                    "test",
                )
            case CasePutBack(case=number) if old is None or case_of(old) != number:
                self._check_put_back(machine_id, number, at)
            case KnobSet(setting=setting) if setting is not None:
                machine.scale.check(setting)
            case MarkSet(name=name, at=moved):
                if machine.scale.kind is not ScaleKind.TURNS:
                    raise CraftError("Only an unmarked knob has a mark. This scale has numbers.", "at")
                machine.scale.check(moved, "at")
                mark = self._read.setup(machine_id).mark
                if old is None and mark and (mark.name, moved) == (name, 0):
                    raise CraftError("The mark is set there already, under that name.", "name")
            case RecipeUsed(recipe=number):
                if self._of_machine(machine_id, number, Recipe.kind) is None:
                    raise CraftError("That recipe isn't one of this machine's.", "recipe")
            case Recipe() if isinstance(old, Recipe):
                check_correction(old, payload)
            case Cloth(lines=lines):
                known_lines = old.lines if isinstance(old, Cloth) else ()
                for line in lines:
                    if line not in known_lines:
                        machine.scale.check(line.setting)
                for thread_id in threads_of(payload):
                    self._thread(thread_id, "on_top", known)
            case StitchedLook(setting=setting) | Recipe(setting=setting):
                if (cloth := cloth_of(payload)) is not None and cloth != cloth_of(old):
                    self._check_cloth(machine_id, cloth)
                if not isinstance(old, StitchedLook) or old.setting != setting:
                    machine.scale.check(setting)
            case NeedleFitted(packet=packet_id):
                # A needle of another system that is in is a fact: it is recorded, and the line says what is wrong.
                before = old if isinstance(old, NeedleFitted) else None
                if packet_id is not None and not (before and before.packet == packet_id):
                    self._check_packet(machine, packet_id, payload)
            case QuiltPlanned():
                self._check_plan(payload, old, known)
            case PassStep(plan=number, key=key):
                row_of_plan = row_of(self._read.session, RecordRow, number)
                plan = row_of_plan.payload if row_of_plan and row_of_plan.struck_at is None else None
                if not isinstance(plan, QuiltPlanned) or plan.of(key) is None:
                    raise CraftError("That pass is not in the plan.", "key")
            case ConeNoted(thread=thread_id):
                spec = self._thread(thread_id, "thread", known)
                check_cone(payload, spec.thread, spec.length_m)
            case Preflight(done=()):
                raise CraftError("No check is ticked. Tick one at least, or delete the record.", "done")
            case PartMarked(part=Part.BOBBIN, id=number) if old is None:
                self._read.rack.usable_bobbin(number)
            case IncidentCheck() | IncidentAnswer() | IncidentOutcome():
                if self._of_machine(machine_id, payload.incident, Incident.kind) is None:
                    raise CraftError("That isn't a trouble of this machine.", "incident")
            case _:
                pass

    def _check_plan(self, plan: QuiltPlanned, old: object, known: set[int]) -> None:
        for thread_id in plan.threads_named:
            self._thread(thread_id, "passes", known)
        before = {each.machine for each in old.passes} if isinstance(old, QuiltPlanned) else set()
        for number in {each.machine for each in plan.passes if each.machine is not None} - before:
            machine = row_of(self._read.session, MachineRow, number)
            if machine is None or not isinstance(machine.spec, Machine):
                raise CraftError("There is no such machine. Choose another.", "passes")
            if machine.spec.retired:
                raise CraftError(f"{machine.spec.nickname} is retired. Choose another machine.", "passes")

    def _check_cloth(self, machine_id: int, number: int) -> None:
        about = self._of_machine(machine_id, number, Cloth.kind)
        if about is None or about.struck_at is not None:
            raise CraftError("That isn't a test cloth of this machine.", "cloth")

    def _of_machine(self, machine_id: int, number: int, kind: str) -> RecordRow | None:
        """Return a record that another names, if it is of this kind and of this machine."""
        row = row_of(self._read.session, RecordRow, number)
        return row if row is not None and (row.kind, row.machine_id) == (kind, machine_id) else None

    def _is_in(self, machine_id: int, case_id: int) -> bool:
        """Say whether a case is in a machine: one that was deleted there is still read and turned."""
        case = self._read.setup(machine_id).case
        return case is not None and case.id == case_id

    def _thread(self, thread_id: int, field: str, known: set[int]) -> DrawerThread:
        if thread_id in known and (spec := self._read.drawer.specs([thread_id]).get(thread_id)):
            return spec
        return self._read.drawer.usable_thread(thread_id, field)

    def _check_item(self, item: int, thread_id: int) -> None:
        if self._read.rack.usable_bobbin(item).thread_id != thread_id:
            raise CraftError("That bobbin holds another thread.", "item")

    def _check_put_back(self, machine_id: int, case_id: int, at: datetime) -> None:
        label = self._read.rack.case(case_id).spec.label
        loaded = select(RecordRow.id).where(
            *counting(machine_id, BobbinLoaded.kind), RecordRow.case_id == case_id, RecordRow.at <= at
        )
        if self._read.session.scalar(loaded.limit(1)) is None:
            raise CraftError(f"Case {label} was never in this machine with a bobbin. Load one into it first.", "case")
        present = self._read.setup(machine_id).case
        if present and present.id == case_id:
            raise CraftError(f"Case {label} is in already.", "case")

    def _setup_before(self, machine_id: int, at: datetime, row: RecordRow | None) -> Setup:
        query = select(RecordRow).where(*counting(machine_id), RecordRow.at <= at)
        if row is not None:
            query = query.where(RecordRow.id != row.id)
        last = self._read.session.scalars(query.order_by(*NEWEST_FIRST).limit(1)).first()
        return self._read.setup_at(last) if last else Setup()

    def _check_packet(self, machine: Machine, packet_id: int, fitted: NeedleFitted) -> None:
        left = {row.id: (row.spec, n) for row, n in self._read.drawer.packets()}.get(packet_id)
        if left is None:
            raise CraftError("That packet is not in the drawer. Choose another.", "packet")
        packet, count = left
        check_system(machine.needle_system, packet.system, machine.nickname)
        if packet.size != fitted.size or packet.point is not fitted.point:
            raise CraftError(f"The packet holds {packet.size} {packet.point.value}.", "packet")
        if count < 1:
            raise CraftError(f"No {packet.size} {packet.point.value} is left in that packet.", "packet")
