"""What can be wrong with the simulated machine: each fault as what it does to the machine, never as what it is called.

The names are those of the trade's causes; what one sees of a fault follows from the laws, so two at a time can hide or
feign each other.
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, kw_only=True)
class Fault:
    """What a fault does. Factors multiply, the rest adds up over all faults that are there.

    seat: what is left of the discs' force. wraps: radians more about the guides. spikes: how often it is jerked.
    rub: wear at the eye. skip, alarm, tangle, start_nest, bend: how often each is seen, 0 to 1.
    wavers: how uneven the line is, as a factor. flutter: on the gauge. below: the bobbin's pull as a factor.
    one_way, mid_frame, curves: the share of its breaks or loops that come only there. heat: degrees of speed.
    weak, weak_below: what is left of a thread's strength. drift: of the bobbin's pull by its end.
    sounds: what one hears or feels. after: what was done before it.
    """

    seat: float = 1.0
    wraps: float = 0.0
    spikes: float = 0.0
    rub: float = 0.0
    skip: float = 0.0
    alarm: float = 0.0
    tangle: float = 0.0
    start_nest: float = 0.0
    bend: float = 0.0
    wavers: float = 1.0
    flutter: float = 0.0
    above: float = 1.0
    below: float = 1.0
    one_way: float = 0.0
    mid_frame: float = 0.0
    curves: float = 0.0
    heat: float = 0.0
    weak: float = 1.0
    drift: float = 0.0
    puckers: float = 0.0
    weak_below: float = 1.0
    sounds: str = ""
    after: tuple[str, ...] = ()
    common: float = 1.0


#: By the name of the cause.
FAULTS: dict[str, Fault] = {
    "top_thread_outside_the_discs": Fault(
        seat=0.04,
        alarm=0.25,
        wavers=1.6,
        common=4,
        after=("re_threading", "tie_on"),
        sounds="The thread comes with no resistance.",
    ),
    "guide_missed_or_wrapped": Fault(wraps=4.2, spikes=0.5, rub=0.35, wavers=1.9, common=3, after=("re_threading",)),
    "off_the_check_spring": Fault(
        alarm=0.8, wavers=2.1, spikes=0.15, common=2, after=("re_threading",), sounds="The check spring stands still."
    ),
    "cone_or_spool_catches": Fault(spikes=0.9, wavers=2.0, common=2, after=("new_cone",)),
    "slick_thread_spills": Fault(spikes=0.8, wavers=1.5, common=1),
    "tail_under_the_wrong_side_of_the_foot": Fault(start_nest=0.95, common=3, after=("start_of_a_line",)),
    "needle_turned_or_backwards": Fault(rub=0.9, skip=0.5, spikes=0.2, common=2, after=("needle",)),
    "needle_not_fully_up": Fault(
        rub=0.3, skip=0.75, spikes=0.35, common=1, after=("needle",), sounds="It knocks lightly."
    ),
    "needle_dull_burred_bent": Fault(
        rub=1.2, wavers=1.4, skip=0.12, common=4, after=("hit_something",), sounds="It pops at every stitch."
    ),
    "wrong_needle_system": Fault(skip=0.9, wavers=1.7, common=0.3, after=("needle",)),
    "point_unsuited_to_direction": Fault(rub=0.6, one_way=1.0, common=1),
    "discs_packed_with_lint": Fault(seat=0.5, wavers=2.2, rub=0.25, common=2),
    "bobbin_reversed_or_not_under_spring": Fault(below=0.45, wavers=1.9, common=2, after=("bobbin",)),
    "bobbin_badly_wound": Fault(flutter=0.14, wavers=1.6, drift=0.35, common=2, after=("bobbin",)),
    "case_bent": Fault(flutter=0.2, wavers=1.5, common=0.3, after=("dropped_case",)),
    "backlash_spring_worn": Fault(tangle=0.8, common=1),
    "lint_under_case_spring": Fault(flutter=0.1, below=0.72, wavers=1.9, common=2),
    "burr_on_plate": Fault(rub=0.8, common=0.6, after=("hit_something",), sounds="The thread frays at the cloth."),
    "burr_on_guide_or_hook": Fault(rub=0.75, spikes=0.15, common=0.8),
    "hook_timing": Fault(skip=0.7, one_way=0.6, rub=0.15, common=0.3, after=("hit_something",)),
    "hook_dry": Fault(heat=0.5, common=1, sounds="It runs loud and warm."),
    "break_sensor": Fault(alarm=0.9, common=0.7),
    "tie_off_with_needle_down": Fault(alarm=0.6, common=1.5, after=("tie_off",)),
    "sandwich_too_tight": Fault(spikes=0.45, rub=0.3, skip=0.35, bend=0.1, common=1.5, after=("new_quilt",)),
    "roller_too_close": Fault(spikes=0.35, bend=0.4, common=1, after=("advanced_rollers",)),
    "rails_bow": Fault(mid_frame=1.0, spikes=0.4, rub=0.2, common=0.6),
    "thread_aged_or_poor": Fault(weak=0.42, wavers=1.2, common=1.5, after=("top_thread",)),
    "stretchy_thread_wound_fast": Fault(puckers=0.7, weak_below=0.4, drift=-0.2, common=1, after=("bobbin",)),
    "uneven_hand_speed": Fault(curves=0.9, common=2),
}
