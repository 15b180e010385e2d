"""Documents name other things by number, and every such number is known, so that a document can move."""

from __future__ import annotations

import dataclasses
from typing import get_args, get_origin, get_type_hints

import pytest

from weftonos.core.log.references import REFERENCES, Thing, named_in, renamed
from weftonos.store.documents import FORMS

#: Whole numbers that count something and name nothing.
COUNTS = {
    *("american", "bought", "cones", "days", "grade", "guide_holes", "holes", "layers", "looks"),
    *("metric", "number", "of", "of_each", "plies", "rating", "strands", "system", "version"),
    # The number of a pass within its plan, and what a rule says of two.
    *("key", "first", "then", "strokes"),
}


@pytest.mark.parametrize("kind", FORMS)
def test_every_whole_number_of_a_document_counts_or_names(kind):
    named = set(REFERENCES.get(kind, {})) | ({"id"} if kind == "part_marked" else set())
    fields = dict(fields_in(FORMS[kind].shape))
    whole = {name for name, kinds in fields.items() if int in kinds}
    assert {name for name in whole - named if name.rpartition(".")[2] not in COUNTS} == set()
    assert named <= set(fields)


def fields_in(shape, before=""):
    """Yield every field with the types it may hold; those of a list's parts behind a point."""
    types = get_type_hints(shape)
    for field in dataclasses.fields(shape):
        stated = types[field.name]
        yield before + field.name, {stated, *get_args(stated), *(a for arg in get_args(stated) for a in get_args(arg))}
        for part in get_args(stated) if get_origin(stated) is tuple and not before else ():
            if dataclasses.is_dataclass(part):
                yield from fields_in(part, f"{field.name}.")


def test_names_are_put_through_one_by_one():
    def rename(thing, number):
        return f"{thing} {number}"

    assert renamed("top_threaded", {"top": [1, 2]}, rename) == {"top": ["thread 1", "thread 2"]}
    loaded = renamed("bobbin_loaded", {"bobbin": 4, "case": None, "item": 2, "fill": 1}, rename)
    assert loaded == {"bobbin": "thread 4", "case": None, "item": "bobbin 2", "fill": 1}
    assert renamed("run", {"minutes": 5}, rename) == {"minutes": 5}
    for part in ("case", "bobbin"):
        assert renamed("part_marked", {"part": part, "id": 3}, rename)["id"] == f"{part} 3"
    planned = {
        "passes": [{"key": 1, "top": 3, "machine": None}, {"key": 2, "top": None, "machine": 1}],
        "quilt": "Dunlin",
    }
    moved = renamed("quilt_planned", planned, rename)["passes"]
    assert moved == [{"key": 1, "top": "thread 3", "machine": None}, {"key": 2, "top": None, "machine": "machine 1"}]
    assert list(named_in("quilt_planned", planned)) == [(Thing.THREAD, 3), (Thing.MACHINE, 1)]
    assert list(named_in("recipe", {"on_top": [1], "below": None})) == [(Thing.THREAD, 1)]
