"""Whether a bobbin may wait for its reading: where a reading would take longer than it is expected to save.

Common practice reads every bobbin. What a reading saves is how far the bobbin may be out of its range, by the last ones
of its thread in this case, times the minutes of a stitch that is off on such a quilt: a little out does a little. A
screw that was turned and nothing read since, another thread, another case, a fault found, or four bobbins left unread,
and it is read.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from statistics import fmean

import numpy as np

from weftonos.core.bobbin.events import BobbinLook, BobbinReading, Feel, ScrewTurned
from weftonos.core.bobbin.gauge import Calmness
from weftonos.core.bobbin.own_number import EXPECTED_SPREAD, EXPECTED_WEIGHS
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.care import SLIGHTLY_OFF, Care
from weftonos.core.kernel.counting import drawn_spread
from weftonos.core.kernel.spoken import pull, pull_range
from weftonos.core.kernel.standing import estimate
from weftonos.core.setup.differences import A_DIAL_NUMBER, READING_CHANGED
from weftonos.core.setup.events import BobbinLoaded
from weftonos.core.setup.left_out import LEFT_OUT, OF_THE_LAST

#: Minutes of a reading, and of a look by hand.
READING, HAND_LOOK = estimate(1.5, "min"), estimate(0.7, "min")
#: Fewest bobbins that were read, the least chance to be in range of one that waits however little hangs on it, and most
#: that go unread one after the other.
FEWEST_BOBBINS = estimate(2, "bobbins")
WAITS_FROM = estimate(0.5, "", "rather in than out")
#: Below this chance it is said why it may wait all the same: one that is out is expected to put the stitch off by no
#: more than so many grades.
PLAINLY_IN, ONLY_A_LITTLE = 0.9, 0.5
#: A distribution is taken at so many of its quantiles.
QUANTILES = 200
MOST_UNREAD = estimate(4, "bobbins", "every fifth is read whatever the others said")
#: At least this share of the scatter of readings is taken for the bobbins', however unsteady the hand was.
LEAST_OWN = estimate(0.5)
#: How often a bobbin is another than the one before under one screw, and how often a hand feels it wrong.
MOVES, FELT_WRONG = estimate(0.05), estimate(0.15)
#: How often a bobbin is right before it was ever felt, and after its screw was turned.
RIGHT_AT_FIRST, RIGHT_AFTER_A_TURN = estimate(0.75), estimate(0.5)
#: Either weighs so many turns when it is learned how often a bobbin felt right at once after one.
TURNS_WEIGH = estimate(2, "turns")
#: From this chance of being right on, a bobbin that felt off is felt once more before its screw is turned.
FEEL_AGAIN_FROM = estimate(0.3)
#: Number of most recent bobbins considered.
REMEMBERED = 20


@dataclass(frozen=True, kw_only=True)
class LookMinutes:
    """Minutes of a reading with the gauge, and of a look by hand."""

    reading: float = READING.value
    by_hand: float = HAND_LOOK.value


USUAL_MINUTES = LookMinutes()


@dataclass(kw_only=True)
class BobbinBefore:
    """A bobbin of the same thread in the same case: what it read in mN, or how it felt; neither if it was not read.

    ``error_mn`` is the standard error of what it read, by how its pulls differed: the hand's share in the scatter.
    ``turn`` counts the turns of the screw before it, and what was mended on its case: bobbins of one are under one
    screw. ``felt`` is the last of ``feels`` looks by hand, ``felt_first`` the first. ``swapped``: another thread was
    in its case since this one was last read or felt.
    """

    turn: int
    read_mn: float | None = None
    error_mn: float = 0.0
    felt: Feel | None = None
    felt_first: Feel | None = None
    feels: int = 0
    swapped: bool = False

    @property
    def known(self) -> bool:
        """Whether it was read, or felt."""
        return self.read_mn is not None or self.felt is not None


@dataclass(frozen=True)
class MayWait:
    """A bobbin may go unread: the chance that it is in its range, about what it reads where that is known, and why.

    There is no ``chance`` where nothing is known of it: whoever sits there does not read bobbins.
    """

    chance: float | None
    about_mn: float | None
    text: str


def bobbins_before(
    records: Iterable[object], thread: int, case: int | None, one_thread: Callable[[int], int]
) -> list[BobbinBefore]:
    """Return the bobbins of a thread in a case since it last fluttered, oldest first, the one that is in last.

    One whose screw was turned after it was read is counted again under the new screw. ``records`` are loads, readings,
    looks, turns of the screw and whatever else ends what was known, oldest first; ``one_thread`` gives the thread that
    stands for all colors of a line.
    """
    found: list[BobbinBefore] = []
    mine, swapped, turn = False, False, 0
    for record in records:
        match record:
            case BobbinLoaded():
                mine = record.ordinary_in(case) and one_thread(record.bobbin) == one_thread(thread)
                swapped = swapped or (record.case == case and not mine)
                if mine:
                    found.append(BobbinBefore(turn=turn, swapped=swapped))
            case ScrewTurned() if record.case in (None, case):
                turn += 1
                if mine:
                    _under_another_screw(found, BobbinBefore(turn=turn, swapped=swapped))
            case BobbinReading() if mine and record.case in (None, case):
                swapped = False
                if record.calmness is Calmness.FAULT:
                    found = [BobbinBefore(turn=turn)]
                elif found[-1].read_mn is None:
                    found[-1].read_mn, found[-1].error_mn = record.mean_mn, record.scatter_mn
            case BobbinLook() if mine and record.case in (None, case):
                swapped = False
                found[-1].felt, found[-1].felt_first = record.feel, found[-1].felt_first or record.feel
                found[-1].feels += 1
            case BobbinReading() | BobbinLook() | ScrewTurned():
                pass
            # Mended, it stands otherwise, as after a turn of its screw. What its bobbins scatter by is known.
            case _:
                turn += 1
                if mine:
                    _under_another_screw(found, BobbinBefore(turn=turn, swapped=swapped))
    return found[-REMEMBERED:]


def _under_another_screw(found: list[BobbinBefore], now: BobbinBefore) -> None:
    """Count the bobbin that is in again as it is ``now``; one that nobody read or felt before that counts once."""
    if not found[-1].known:
        found.pop()
    found.append(now)


def may_wait(
    before: Sequence[BobbinBefore],
    target: BobbinTarget | None,
    care: Care = Care.USUAL,
    takes: LookMinutes = USUAL_MINUTES,
) -> MayWait | None:
    """Say whether the bobbin that is in, the last of ``before``, may wait for its reading; ``None`` when it may not.

    It may where a reading is expected to save less than it ``takes`` here on a quilt of this ``care``. One that reads
    out of its range by ``A_DIAL_NUMBER`` puts the stitch off by a grade, one less far out by as much less; so does one
    that reads otherwise than those before it, for the top setting stays. Bobbins under one screw scatter about one
    number, and alike under any. The chance is that of a further bobbin of a normal sample under the screw as it is,
    with the scatter of all (Student's, drawn to what is expected). What the hand has in that scatter, by how the pulls
    of one reading differ, is no bobbin's (components of variance). Of looks by hand it is that of two states, right or
    off, which now and then change between bobbins and are now and then felt wrong.
    """
    unread = 0
    for bobbin in reversed(before):
        if bobbin.known:
            break
        unread += 1
    if not 1 <= unread <= MOST_UNREAD.value or len(before) == unread or before[-unread - 1].turn != before[-1].turn:
        return None
    stake = SLIGHTLY_OFF[care].value
    if before[-unread - 1].read_mn is None:
        return _by_hand(before, takes.by_hand / stake)
    return _by_gauge(before, target, unread, takes.reading / stake) if target is not None else None


def left_unread(
    before: Sequence[BobbinBefore],
    target: BobbinTarget | None,
    care: Care = Care.USUAL,
    takes: LookMinutes = USUAL_MINUTES,
) -> MayWait | None:
    """Say that the bobbin that is in goes unread as most did; ``None`` where they were read, or there are too few.

    Only those count that were to be read: one that might wait was left unread on advice, and so may one that came
    after another thread. A screw that was just turned is another matter.
    """
    if len(before) < 2 or before[-1].turn != before[-2].turn:
        return None
    asked = [
        bobbin
        for n, bobbin in enumerate(before[:-1])
        if bobbin.known or (not bobbin.swapped and may_wait(before[: n + 1], target, care, takes) is None)
    ][-int(OF_THE_LAST.value) :]
    unread = sum(not bobbin.known for bobbin in asked)
    if len(asked) < OF_THE_LAST.value or unread < LEFT_OUT.value:
        return None
    said = f"You left {unread} of the last {len(asked)} bobbins unchecked, so you aren't asked. The test line decides."
    return MayWait(None, None, said)


def _by_gauge(before: Sequence[BobbinBefore], target: BobbinTarget, unread: int, bears: float) -> MayWait | None:
    """Say whether it may wait by readings: expected to be off by ``bears`` grades at most, it may."""
    screws: dict[int, list[float]] = {}
    for bobbin in before:
        if bobbin.read_mn is not None:
            screws.setdefault(bobbin.turn, []).append(bobbin.read_mn)
    now = screws[before[-1].turn]
    read, mean, weighs = sum(map(len, screws.values())), fmean(now), EXPECTED_WEIGHS.value
    if read < FEWEST_BOBBINS.value:
        return None
    # Scatter in shares: a tighter case scatters more in mN.
    shares = sum((x / fmean(each) - 1) ** 2 for each in screws.values() for x in each)
    free = read - len(screws)
    scatter = drawn_spread(EXPECTED_SPREAD.value, weighs, shares, free)
    hand = fmean((b.error_mn / b.read_mn) ** 2 for b in before if b.read_mn is not None)
    own = max(scatter**2 - hand, (LEAST_OWN.value * scatter) ** 2)
    spread = mean * math.sqrt(own + scatter**2 / len(now))
    degrees = weighs + free
    in_range, off = expected_off(mean, spread, degrees, target, balanced_at=mean)
    # One that is another than those before it may be out by any amount.
    stays = (1 - MOVES.value) ** (unread - 1)
    chance, off = stays * in_range, stays * off + (1 - stays)
    if chance < WAITS_FROM.value or off > bears:
        return None
    last = f"The last {len(now)} bobbins" if len(now) > 1 else "The last bobbin"
    reads = pull(mean) if pull(min(now)) == pull(max(now)) else pull_range(min(now), max(now))
    said = f"{last} of this thread read {reads} in this case with the screw as it is"
    a_little = chance < PLAINLY_IN and off <= ONLY_A_LITTLE * (1 - chance)
    otherwise = " If not, it's probably only a little out." if a_little else ""
    return MayWait(chance, mean, f"{said}: {chance:.0%} that this one is in its range.{otherwise} Every fifth is read.")


def expected_off(
    mean: float, spread: float, degrees: float, target: BobbinTarget, *, balanced_at: float
) -> tuple[float, float]:
    """Return the chance that a bobbin is in its range, and how far it is expected to put the stitch off, in grades.

    What it pulls is Student's about ``mean``, and the top was balanced with bobbins of ``balanced_at``, all in mN.
    """
    from scipy.special import stdtr, stdtrit

    in_range = float(stdtr(degrees, (target.high - mean) / spread) - stdtr(degrees, (target.low - mean) / spread))
    pulls = mean + spread * stdtrit(degrees, (np.arange(QUANTILES) + 0.5) / QUANTILES)
    # Out of its range, or away from the ones that the top was balanced with.
    away = np.abs(pulls - balanced_at) - READING_CHANGED.value * balanced_at
    out = np.maximum.reduce([target.low - pulls, pulls - target.high, away, np.zeros(QUANTILES)])
    return in_range, float(np.minimum(1, out / (A_DIAL_NUMBER.value * mean)).mean())


def _by_hand(before: Sequence[BobbinBefore], bears: float) -> MayWait | None:
    chance, felts = _by_its_feel(before)
    felt = [feel for feel in felts if feel is not None]
    # A look by hand tells what is off as often as it is not felt wrong.
    if felt[-1] is not Feel.RIGHT or (1 - chance) * (1 - FELT_WRONG.value) > bears:
        return None
    right = sum(feel is Feel.RIGHT for feel in felt)
    how = f"{right} of the last {len(felt)} bobbins" if right < len(felt) else f"The last {len(felt)} bobbins"
    said = f"{how} of this thread felt right on this screw: {chance:.0%} that this one is, too"
    return MayWait(chance, None, f"{said}. Every fifth is felt.")


def _by_its_feel(before: Sequence[BobbinBefore]) -> tuple[float, list[Feel | None]]:
    """Return the chance that the bobbin that is in is right, and how those under its screw felt."""
    turn = before[-1].turn
    felts = [bobbin.felt for bobbin in before if bobbin.turn == turn]
    if turn == 0:
        return chance_right(felts, RIGHT_AT_FIRST.value), felts
    # How often the first look after a turn said right.
    firsts = [b.felt_first for a, b in pairwise(before) if a.turn != b.turn != turn and b.felt_first is not None]
    weighs = TURNS_WEIGH.value
    right = weighs * RIGHT_AFTER_A_TURN.value + sum(feel is Feel.RIGHT for feel in firsts)
    return chance_right(felts, right / (weighs + len(firsts))), felts


def chance_right(felt: Sequence[Feel | None], at_first: float) -> float:
    """Return the chance that the last of some bobbins under one screw is right, by how they felt, oldest first.

    Right or off is a hidden state that changes from one bobbin to the next now and then, and is felt wrong now and then
    (the forward pass of a hidden Markov model; Rabiner 1989, *Proceedings of the IEEE* 77).
    """
    right = at_first
    for feel in felt:
        right = right * (1 - MOVES.value) + (1 - right) * MOVES.value
        if feel is not None:
            hit, miss = 1 - FELT_WRONG.value, FELT_WRONG.value
            told, other = (hit, miss) if feel is Feel.RIGHT else (miss, hit)
            right = right * told / (right * told + (1 - right) * other)
    return right


def feel_again(before: Sequence[BobbinBefore]) -> str:
    """Say to feel a bobbin once more before its screw is turned; empty where there is no reason to.

    A hand errs more often than a screw moves by itself. A look that says otherwise than what is known is repeated once
    before it is believed.
    """
    if not before or before[-1].feels != 1 or before[-1].felt in (None, Feel.RIGHT):
        return ""
    if _by_its_feel(before)[0] < FEEL_AGAIN_FROM.value:
        return ""
    if len(before) > 1 and before[-2].felt is Feel.RIGHT and before[-2].turn == before[-1].turn:
        return "The bobbin before it felt right with this screw. Feel it once more before you turn."
    return "A hand feels it wrong about one time in seven. Feel it once more before you turn."


def about(waits: MayWait) -> str:
    """Return what a bobbin that waits reads, in few words.

    >>> about(MayWait(0.9, None, ""))
    'as the last ones'
    """
    if waits.chance is None:
        return "not read"
    return "as the last ones" if waits.about_mn is None else f"about {pull(waits.about_mn)}"
