"""Documents in a column: what core defines, as JSON that carries its kind and version.

On the way in a document is checked by core's own rules. On the way out it is read leniently: an older version is
lifted to today's, and what can't be read (a later version, an unknown kind, a broken text, a value that today's rules
refuse) comes back as :class:`Unreadable`, as it was written, with a sentence that says why.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, fields, is_dataclass
from datetime import UTC, datetime
from functools import lru_cache
from typing import Any, get_args, get_origin, get_type_hints

from pydantic import TypeAdapter, ValidationError
from sqlalchemy import DateTime, Dialect, Text, TypeDecorator

from weftonos.core.balance.recipe import Recipe
from weftonos.core.bobbin.events import BobbinReading
from weftonos.core.bobbin.rack import Bobbin, BobbinCase
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.spelling import in_todays_spelling
from weftonos.core.log.logbook import KIND_NAMES, Payload, Unreadable
from weftonos.core.log.run import Run
from weftonos.core.mend.incident import Incident, IncidentAnswer, IncidentOutcome, Preflight
from weftonos.core.needle.packet import NeedlePacket
from weftonos.core.plan.minutes import only_typed
from weftonos.core.plan.passes import QuiltPlanned
from weftonos.core.setup.events import BobbinLoaded, NeedleFitted, NeedleRetired, QuiltOn, StitchedLook
from weftonos.core.setup.machine import Machine
from weftonos.core.thread.drawer import DrawerThread

#: Texts whose dataclasses are kept at hand: a drawer of some thousand threads is read again and again.
KEPT_READ = 8192

Lift = Callable[[dict[str, Any]], dict[str, Any]]


def _only_typed_minutes(found: dict[str, Any]) -> dict[str, Any]:
    minutes = found.get("minutes")
    return {**found, "minutes": only_typed(minutes)} if isinstance(minutes, dict) else found


@dataclass(frozen=True)
class DocumentForm:
    """How one kind of document is written: its class, its version today, and how each older version is lifted."""

    shape: type
    version: int = 1
    lifts: Mapping[int, Lift] = field(default_factory=dict)


#: Every kind of document. Whoever changes the form of one counts its version up and says how the old one is lifted.
FORMS: dict[str, DocumentForm] = {
    "packet": DocumentForm(NeedlePacket),
    # Form 2: whether the thread leaves it by a pigtail, and spring and washer both.
    "case": DocumentForm(BobbinCase, 2, {1: dict}),
    "bobbin": DocumentForm(Bobbin),
    **{shape.kind: DocumentForm(shape) for shape in get_args(Payload)},
    # Form 2: spelled the American way; and so the last forms of a machine and a thread.
    "run": DocumentForm(Run, 2, {1: in_todays_spelling}),
    "incident": DocumentForm(Incident, 2, {1: in_todays_spelling}),
    "incident_answer": DocumentForm(IncidentAnswer, 2, {1: in_todays_spelling}),
    # Form 2: how careful it wants its maker to be.
    "quilt_on": DocumentForm(QuiltOn, 2, {1: dict}),
    # Form 2: what a gauge that is off is corrected by.
    "bobbin_reading": DocumentForm(BobbinReading, 2, {1: dict}),
    # Form 2: the slot of a part-used needle.
    "needle_fitted": DocumentForm(NeedleFitted, 2, {1: dict}),
    "needle_retired": DocumentForm(NeedleRetired, 2, {1: dict}),
    # Form 2: whether the bobbin before it was sewn empty.
    "bobbin_loaded": DocumentForm(BobbinLoaded, 2, {1: dict}),
    # Form 2: a bobbin judged by hand, and a setting that was found from several looks.
    # Form 3: one that was noted elsewhere. Form 4: the cloth it was found on.
    "recipe": DocumentForm(Recipe, 4, {1: dict, 2: dict, 3: dict}),
    # Form 2: whether the cure was tested.
    "incident_outcome": DocumentForm(IncidentOutcome, 2, {1: dict}),
    # Form 2: which checks of the list were skipped.
    "preflight": DocumentForm(Preflight, 2, {1: dict}),
    # Form 2: only those minutes of a change that somebody typed.
    "quilt_planned": DocumentForm(QuiltPlanned, 2, {1: _only_typed_minutes}),
    # Form 2: the cloth it is a line of.
    "look": DocumentForm(StitchedLook, 2, {1: dict}),
    # Form 2: whether it has a gauge and a case to take out, and the school of its bobbin's number. Form 3: retired.
    # Form 4: whose eye reads on it.
    "machine": DocumentForm(Machine, 5, {1: dict, 2: dict, 3: dict, 4: in_todays_spelling}),
    # Form 2: the line that it is a color of. Form 3: the label as typed, and more of what is owned.
    "thread": DocumentForm(DrawerThread, 4, {1: dict, 2: dict, 3: in_todays_spelling}),
}
_KIND_OF = {form.shape: kind for kind, form in FORMS.items()}


def write_document(value: Any) -> str:
    """Return a document's text; raises :class:`CraftError` for one that could not be read back."""
    if isinstance(value, Unreadable):
        return value.text
    kind = _KIND_OF[type(value)]
    fields = _adapter(kind).dump_python(value, mode="json")
    # A record says its kind itself; a machine's own "kind" is another matter, so things are headed apart.
    head = {} if kind in KIND_NAMES else {"document": kind}
    whole = {**head, "version": FORMS[kind].version, **fields}
    text = json.dumps(whole, ensure_ascii=False, separators=(",", ":"), allow_nan=False)
    # Whatever got past the rules on its way in must not be found out when it is read again.
    if isinstance(again := read_document(text, kind), Unreadable):
        raise CraftError(f"This couldn't be read again once it was saved. {again.why}", "payload")
    return text


def as_fields(value: Any) -> Any:
    """Return a document's fields as JSON has them."""
    return None if isinstance(value, Unreadable) else _adapter(_KIND_OF[type(value)]).dump_python(value, mode="json")


@lru_cache(KEPT_READ)
def read_document(text: str, kind: str) -> Any:
    """Return a document from its text; :class:`Unreadable` for one that can't be read.

    ``kind`` is what the column holds, for documents that were written before they carried their kind.
    """
    try:
        fields = _lifted(_parsed(text), kind)
        return _adapter(kind).validate_python(fields)
    except ValidationError as error:
        return Unreadable(kind, text, _why(error))
    except ValueError as error:
        return Unreadable(kind, text, str(error))


def in_todays_form(document: str | Mapping[str, Any], kind: str) -> dict[str, Any]:
    """Return a document as JSON has it, its text parsed and lifted to today's form; raises :class:`ValueError`.

    Its fields are named as today's class names them, whatever they were called when it was written. They are not
    checked by that class.
    """
    found = _parsed(document) if isinstance(document, str) else dict(document)
    head = {"document": kind} if kind in FORMS and kind not in KIND_NAMES else {}
    return {**head, **_lifted(found, kind), "version": FORMS[kind].version}


def _parsed(text: str) -> dict[str, Any]:
    try:
        found = json.loads(text)
    except ValueError:
        found = None
    if not isinstance(found, dict):
        raise ValueError("Its text is broken.")
    return found


def _lifted(found: dict[str, Any], kind: str) -> dict[str, Any]:
    """Return a document's fields in today's form, without its head; raises :class:`ValueError` with a sentence."""
    form = FORMS.get(kind)
    if form is None:
        raise ValueError("This program does not know this kind of document.")
    version = found.pop("version", 1)
    found.pop("document", None)
    if not isinstance(version, int) or not 1 <= version <= form.version:
        raise ValueError(f"It was written by a later Weftonos (form {version}, known up to {form.version}).")
    try:
        for step in range(version, form.version):
            found = form.lifts[step](found)
    except (KeyError, TypeError, ValueError) as error:
        raise ValueError(f"Its older form couldn't be updated ({type(error).__name__}).") from error
    return found


@lru_cache(64)
def fields_of(kind: str) -> tuple[str, ...]:
    """Return the names of a document's fields in their order; those of a part are joined to it by a point.

    A field that may hold several parts (the pulls of a reading) is one field.
    """
    return tuple(name for name in _fields(FORMS[kind].shape) if name != "kind" or kind not in KIND_NAMES)


def _fields(shape: Any, before: str = "") -> Iterator[str]:
    types = get_type_hints(shape)
    for each in fields(shape):
        stated = types[each.name]
        choices = () if get_origin(stated) in (tuple, list) else (stated, *get_args(stated))
        part = next((choice for choice in choices if is_dataclass(choice)), None)
        if part is None:
            yield f"{before}{each.name}"
        else:
            yield from _fields(part, f"{before}{each.name}.")


@lru_cache(64)
def _adapter(kind: str) -> TypeAdapter[Any]:
    return TypeAdapter(FORMS[kind].shape)


def _why(error: ValidationError) -> str:
    first = error.errors()[0]
    cause = first.get("ctx", {}).get("error")
    if isinstance(cause, CraftError):
        return str(cause)
    where = ".".join(str(part) for part in first["loc"])
    return f"Its “{where}” can't be used: {first['msg'].lower()}."


def schema_of(kind: str) -> dict[str, Any]:
    """Return the JSON Schema of a kind of document; numbers of other things stand as numbers in it."""
    return _adapter(kind).json_schema()


class Document(TypeDecorator[Any]):
    """Store a thing of the workshop (a machine, a thread, …) of one ``kind`` as JSON text.

    Equal texts are read once and the instance is shared, which is safe because it cannot be changed.
    """

    impl = Text
    cache_ok = True

    def __init__(self, kind: str) -> None:
        super().__init__()
        self.kind = kind

    def process_bind_param(self, value: Any, dialect: Dialect) -> Any:
        """Turn a dataclass into JSON text."""
        return None if value is None else write_document(value)

    def process_result_value(self, value: Any, dialect: Dialect) -> Any:
        """Turn JSON text back into the dataclass."""
        return None if value is None else read_document(value, self.kind)


class RecordDocument(TypeDecorator[Any]):
    """Store what a record says; its kind stands in the text."""

    impl = Text
    cache_ok = True

    def process_bind_param(self, value: Any, dialect: Dialect) -> Any:
        """Turn a payload into JSON text."""
        return None if value is None else write_document(value)

    def process_result_value(self, value: Any, dialect: Dialect) -> Any:
        """Turn JSON text back into the payload."""
        return None if value is None else read_document(value, kind_in(value))


@lru_cache(KEPT_READ)
def kind_in(text: str) -> str:
    """Return the kind that stands in a record's document; empty where none does, or one of a thing."""
    try:
        kind = json.loads(text)["kind"]
    except (ValueError, KeyError, TypeError):
        return ""
    return kind if isinstance(kind, str) and (kind in KIND_NAMES or kind not in FORMS) else ""


class Moment(TypeDecorator[datetime]):
    """A time with zone, stored in UTC."""

    impl = DateTime
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """Drop the zone after going to UTC."""
        return None if value is None else value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """Put UTC back."""
        return None if value is None else value.replace(tzinfo=UTC)


def as_stored(moment: datetime) -> str:
    """Return a time with zone as the text that :class:`Moment` keeps, for queries written by hand."""
    return f"{moment.astimezone(UTC):%Y-%m-%d %H:%M:%S.%f}"
