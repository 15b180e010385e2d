"""Documents name other things by number, and every such number is known, so that a document can move."""

from __future__ import annotations

import dataclasses
from typing import get_args, get_type_hints

import pytest

from weftonos.core.log.references import REFERENCES, Thing, named_in, renamed
from weftonos.store.documents import FORMS

#: Whole numbers that count something and name nothing.
COUNTS = {
    *("american", "bought", "grade", "guide_holes", "holes", "layers", "looks"),
    *("metric", "number", "of", "of_each", "plies", "rating", "strands", "system", "version"),
}


@pytest.mark.parametrize("kind", FORMS)
def test_every_whole_number_of_a_document_counts_or_names(kind):
    shape = FORMS[kind].shape
    types = get_type_hints(shape)
    named = set(REFERENCES.get(kind, {})) | ({"id"} if kind == "part_marked" else set())
    whole = {
        field.name
        for field in dataclasses.fields(shape)
        if int in (types[field.name], *get_args(types[field.name]))
        or any(get_args(arg) and int in get_args(arg) for arg in get_args(types[field.name]))
    }
    assert whole <= named | COUNTS, whole - named - COUNTS
    assert named <= {field.name for field in dataclasses.fields(shape)}


def test_names_are_put_through_one_by_one():
    def rename(thing, number):
        return f"{thing} {number}"

    assert renamed("top_threaded", {"top": [1, 2]}, rename) == {"top": ["thread 1", "thread 2"]}
    loaded = renamed("bobbin_loaded", {"bobbin": 4, "case": None, "item": 2, "fill": 1}, rename)
    assert loaded == {"bobbin": "thread 4", "case": None, "item": "bobbin 2", "fill": 1}
    assert renamed("run", {"minutes": 5}, rename) == {"minutes": 5}
    for part in ("case", "bobbin"):
        assert renamed("part_marked", {"part": part, "id": 3}, rename)["id"] == f"{part} 3"
    assert list(named_in("recipe", {"on_top": [1], "below": None})) == [(Thing.THREAD, 1)]
