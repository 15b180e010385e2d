"""Packets of needles, as they are printed (handbook 3.1 and 15.2; the letters of the points from memory)."""

import pytest

from weftonos.core.kernel.errors import CraftError
from weftonos.core.needle.needle import NeedleFinish, Point
from weftonos.core.needle.packet_label import read_packet


@pytest.mark.parametrize(
    ("line", "system", "size", "point"),
    [
        ("130/705 H-M 80/12", "130/705", (80, 12), Point.SHARP),
        ("130/705 H 90/14", "130/705", (90, 14), Point.UNIVERSAL),
        ("130/705H 75/11", "130/705", (75, 11), Point.UNIVERSAL),
        ("130/705 H-Q 75/11 quilting", "130/705", (75, 11), Point.QUILTING),
        ("130/705 h-e 90", "130/705", (90, 14), Point.EMBROIDERY),
        ("130/705 H-J 110/18 5 needles", "130/705", (110, 18), Point.DENIM),
        ("130/705 H Topstitch 90/14", "130/705", (90, 14), Point.TOPSTITCH),
        ("15x1 14 ball point", "15x1", (90, 14), Point.BALLPOINT),
        ("HAx1 #11", "HAx1", (75, 11), None),
        ("HLx5 16", "HLx5", (100, 16), None),
        ("134 R 100/16", "134", (100, 16), Point.SHARP),
        ("134 FFG 18", "134", (110, 18), Point.BALLPOINT),
        ("DPx5 100/16 FFG ballpoint", "DPx5", (100, 16), Point.BALLPOINT),
        ("135x5 20", "135x5", (125, 20), None),
        ("metallic 80/12", "", (80, 12), Point.METALLIC),
        ("14/90 jeans", "", (90, 14), Point.DENIM),
        ("topstitch", "", None, Point.TOPSTITCH),
        ("Size 12 universal", "", (80, 12), Point.UNIVERSAL),
        ("130/705", "130/705", None, None),
    ],
)
def test_a_packet_is_read_as_it_is_printed(line, system, size, point):
    read = read_packet(line)
    assert (read.system, read.point) == (system, point)
    assert ((read.metric, read.american) if read.metric else None) == size
    asked = [what for what, known in (("size", size), ("point", point), ("system", system)) if not known]
    assert list(read.asks) == asked


def test_finish_and_number_are_read():
    read = read_packet("130/705 H titanium topstitch 90/14, pack of 5")
    assert (read.finish, read.bought) == (NeedleFinish.TITANIUM, 5)
    read = read_packet("10 needles 134 R 90/14")
    assert (read.finish, read.bought, read.metric) == (NeedleFinish.STEEL, 10, 90)


@pytest.mark.parametrize(
    ("line", "says"),
    [("130/705 H 80/16", "not a needle size"), ("hello", "No size"), ("", "empty"), ("x" * 200, "120")],
)
def test_what_is_no_packet_is_refused_in_a_sentence(line, says):
    with pytest.raises(CraftError, match=says):
        read_packet(line)
