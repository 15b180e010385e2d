"""What decides a balance: the threads, the bobbin's number, the layers, the motion; and the usual setting for them."""

from __future__ import annotations

from dataclasses import dataclass, replace

from weftonos.core.kernel.sandwich import Loft, Motion, Sandwich, Weave
from weftonos.core.kernel.scale import TopScale
from weftonos.core.kernel.standing import estimate
from weftonos.core.setup.setup import Setup
from weftonos.core.thread.capstan import FRICTION
from weftonos.core.thread.nature import together
from weftonos.core.thread.thread import Bundle, Thread

#: The threads above, that below and whether it is bobbin work, loft and fabric, motion.
Key = tuple[object, ...]


@dataclass(frozen=True, kw_only=True)
class Combination:
    """What decides a balance, as far as the predictor looks.

    ``school_setting`` is the schools' value on the machine's scale; ``None`` where no school has one. ``usual`` is the
    range it is expected in, ``also`` a second value that is as usual.
    """

    diameter_mm: float
    drag: float
    bobbin_mn: float | None
    loft: Loft
    motion: Motion
    school_setting: float | None
    usual: tuple[float, float] | None = None
    also: float | None = None
    below_mm: float | None = None
    below_drag: float | None = None
    weave: Weave = Weave.ORDINARY
    bobbin_work: bool = False

    @classmethod
    def of_setup(
        cls, scale: TopScale, setup: Setup, motion: Motion, about_mn: float | None = None
    ) -> Combination | None:
        """Describe the combination of a set-up; ``None`` without a top thread.

        ``about_mn`` is what its bobbin is thought to read where it went unread.
        """
        top = setup.top_bundle
        if top is None:
            return None
        reading = setup.reading.mean_mn if setup.reading else about_mn
        sandwich = setup.sandwich or Sandwich()
        found = cls.of(
            scale=scale,
            top=top,
            bobbin=setup.bobbin_thread,
            bobbin_mn=reading,
            loft=sandwich.loft,
            motion=motion,
        )
        found = replace(found, weave=sandwich.weave, bobbin_work=setup.bobbin_work)
        # A heavy thread in the bobbin, face down: nobody knows where its top begins.
        return replace(found, school_setting=None, usual=None, also=None) if setup.bobbin_work else found

    @classmethod
    def of(
        cls,
        scale: TopScale,
        top: Bundle,
        bobbin: Thread | None,
        bobbin_mn: float | None,
        loft: Loft,
        motion: Motion,
    ) -> Combination:
        """Describe a combination on a machine's own scale."""
        drag = sum(FRICTION[t.fiber].value for t in top.threads) / len(top.threads)
        setting, usual, also = school_setting(scale=scale, top=top, bobbin_mn=bobbin_mn)
        return cls(
            diameter_mm=top.diameter_mm,
            drag=drag,
            bobbin_mn=bobbin_mn,
            loft=loft,
            motion=motion,
            school_setting=setting,
            usual=usual,
            also=also,
            below_mm=bobbin.diameter_mm if bobbin else None,
            below_drag=FRICTION[bobbin.fiber].value if bobbin else None,
        )


def key_of(setup: Setup, motion: Motion) -> Key:
    """Return what makes a set-up one combination for the predictor: threads, loft, fabric and motion."""
    lies = setup.sandwich and (setup.sandwich.loft, setup.sandwich.weave)
    below = setup.bobbin and (setup.bobbin.one_thread, setup.bobbin_work)
    return tuple(t.one_thread for t in setup.top), below, lies, motion


#: A display in the gauge's numbers starts at the bobbin's own, give or take this share.
READOUT_USUAL = estimate(0.15)

School = tuple[float | None, tuple[float, float] | None, float | None]


def school_setting(scale: TopScale, top: Bundle, bobbin_mn: float | None) -> School:
    """Return the schools' value on a machine's own scale, the range it is usual in, and a second value as usual.

    All are within the scale's limits, and ``None`` where the schools have none. A readout starts at the bobbin's own
    number, metallic and film below it, and nobody says where it starts before the bobbin is read; a dial starts at its
    usual numbers, a knob at its mark or the turns the thread wants looser. A thread for bobbin work alone has none.
    """
    nature = together(top.threads)
    if nature.bobbin_only:
        return None, None, None
    also = None
    if scale.in_gauge_numbers:
        if bobbin_mn is None:
            return None, None, None
        center = bobbin_mn * nature.start.readout
        low, high = center * (1 - READOUT_USUAL.value), center * (1 + READOUT_USUAL.value)
    elif scale.in_dial_numbers:
        # The numbers of a dial are those of a home machine, turns those of a longarm, whichever head has them.
        (center, low, high), also = nature.start.dial, nature.start.also
        also = also if also is not None and scale.within(also) == also else None
    else:
        center, low, high = nature.start.turns
    return scale.within(center), (scale.within(low), scale.within(high)), also
