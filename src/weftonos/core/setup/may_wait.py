"""Whether a bobbin may wait for its reading: where a reading would take longer than it is expected to save.

Common practice reads every bobbin. What a reading saves is how far the bobbin may be out of its range, by the last ones
of its thread in this case, times the minutes of a stitch that is off on such a quilt: a little out does a little. A
screw that was turned and nothing read since, another thread, another case, a fault found, or so many bobbins left
unread that one of them may be another than those that were read, and it is read.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from itertools import pairwise
from statistics import fmean

import numpy as np

from weftonos.core.bobbin.events import BobbinLook, BobbinReading, Feel, ScrewTurned
from weftonos.core.bobbin.gauge import Calmness
from weftonos.core.bobbin.own_number import EXPECTED_SPREAD, EXPECTED_WEIGHS
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.care import SLIGHTLY_OFF, Care
from weftonos.core.kernel.counting import drawn_share, drawn_spread
from weftonos.core.kernel.spoken import ordinal, pull, pull_range
from weftonos.core.kernel.standing import estimate
from weftonos.core.setup.differences import A_DIAL_NUMBER, READING_CHANGED
from weftonos.core.setup.events import BobbinLoaded
from weftonos.core.setup.felt import (
    MOVES,
    Feels,
    FeltSoFar,
    Then,
    UnderOneScrew,
    after_a_look,
    by_hand,
    look_saves,
    wrong_words,
)
from weftonos.core.setup.left_out import LEFT_OUT, OF_THE_LAST

#: Minutes of a reading, and of a look by hand.
READING, HAND_LOOK = estimate(1.5, "min"), estimate(0.7, "min")
#: Fewest bobbins that were read, and the least chance to be in range of one that waits however little hangs on it.
FEWEST_BOBBINS = estimate(2, "bobbins")
WAITS_FROM = estimate(0.5, "", "rather in than out")
#: Below this chance it is said why it may wait all the same: one that is out is expected to put the stitch off by no
#: more than so many grades.
PLAINLY_IN, ONLY_A_LITTLE = 0.9, 0.5
#: A distribution is taken at so many of its quantiles.
QUANTILES = 200
#: Most that go unread one after the other: every fifth is read until more of them are known, and every tenth always.
MOST_UNREAD, MOST_UNREAD_EVER = estimate(4, "bobbins"), estimate(9, "bobbins")
#: At least this share of the scatter of readings is taken for the bobbins', however unsteady the hand was.
LEAST_OWN = estimate(0.5)
#: A bobbin that reads so much otherwise than the ones before it under one screw is another than they; how often that
#: is so weighs so many bobbins while it is learned.
ANOTHER, MOVES_WEIGH = estimate(0.2), estimate(20, "bobbins")
#: How often a bobbin is right before it was ever felt, and after its screw was turned.
RIGHT_AT_FIRST, RIGHT_AFTER_A_TURN = estimate(0.75), estimate(0.5)
#: Either weighs so many turns when it is learned how often a bobbin felt right at once after one.
TURNS_WEIGH = estimate(2, "turns")
#: So many loads back the bobbins of one thread are looked for.
REMEMBERED = 60


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
    screw. ``feels`` are its looks by hand. ``swapped``: another thread was in its case since this one was last read or
    felt.
    """

    turn: int
    read_mn: float | None = None
    error_mn: float = 0.0
    feels: Feels = ()
    swapped: bool = False

    @property
    def known(self) -> bool:
        """Whether it was read, or felt."""
        return self.read_mn is not None or bool(self.feels)


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
                found[-1].feels += (record.feel,)
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
    of one reading differ, is no bobbin's (components of variance). How often one is another than those before it is
    learned. Of looks by hand it is that of two states, right or off, which now and then change between bobbins and are
    felt wrong as often as this hand errs (:mod:`.felt`).
    """
    known = next((n for n in range(len(before), 0, -1) if before[n - 1].known), 0)
    unread, read = len(before) - known, before[:known]
    if not read or not unread or read[-1].turn != before[-1].turn:
        return None
    stake = SLIGHTLY_OFF[care].value
    if read[-1].read_mn is None:
        return _waits(read, unread, "felt", partial(_by_hand, read, takes.by_hand / stake))
    if target is None or (sample := _sample(read)) is None:
        return None
    mean = fmean(sample.now)
    expected = expected_off(mean, mean * sample.spread, sample.degrees, target, balanced_at=mean)
    return _waits(read, unread, "read", partial(_by_gauge, sample, expected, takes.reading / stake))


def _waits(
    read: Sequence[BobbinBefore], unread: int, done: str, judge: Callable[[int], MayWait | None]
) -> MayWait | None:
    """Return what ``judge`` says of the last of so many unread bobbins, and behind it which one is ``done`` again."""
    known = sum(bobbin.known for bobbin in read)
    most = int(max(MOST_UNREAD.value, min(MOST_UNREAD_EVER.value, known)))
    if unread > most or (waits := judge(unread)) is None:
        return None
    next_read = next((n for n in range(unread + 1, most + 1) if judge(n) is None), most + 1)
    return replace(waits, text=f"{waits.text}. Every {ordinal(next_read)} is {done}.")


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


@dataclass(frozen=True, kw_only=True)
class _Sample:
    """What bobbins read under the screw as it is, in mN, the share that a further one scatters by, and its freedom.

    ``moves`` is how often one is another than those before it.
    """

    now: Sequence[float]
    spread: float
    degrees: float
    moves: float


def _sample(read: Sequence[BobbinBefore]) -> _Sample | None:
    """Return what bobbins up to the last one that was read say of the next ones; ``None`` where they are too few."""
    screws: dict[int, list[float]] = {}
    for bobbin in read:
        if bobbin.read_mn is not None:
            screws.setdefault(bobbin.turn, []).append(bobbin.read_mn)
    now = screws[read[-1].turn]
    count, weighs = sum(map(len, screws.values())), EXPECTED_WEIGHS.value
    if count < FEWEST_BOBBINS.value:
        return None
    # Scatter in shares: a tighter case scatters more in mN.
    shares = sum((x / fmean(each) - 1) ** 2 for each in screws.values() for x in each)
    free = count - len(screws)
    scatter = drawn_spread(EXPECTED_SPREAD.value, weighs, shares, free)
    hand = fmean((b.error_mn / b.read_mn) ** 2 for b in read if b.read_mn is not None)
    own = max(scatter**2 - hand, (LEAST_OWN.value * scatter) ** 2)
    return _Sample(
        now=now,
        spread=math.sqrt(own + scatter**2 / len(now)),
        degrees=weighs + free,
        moves=_moves(read, screws),
    )


def _moves(read: Sequence[BobbinBefore], screws: Mapping[int, Sequence[float]]) -> float:
    """Return how often a bobbin is another than the ones before it under one screw, by those that showed it or not."""
    followed = sum(a.turn == b.turn for a, b in pairwise(read))
    others = sum(abs(b / a - 1) > ANOTHER.value for each in screws.values() for a, b in pairwise(each))
    return drawn_share(MOVES.value, MOVES_WEIGH.value, others, followed)


def _by_gauge(sample: _Sample, expected: tuple[float, float], bears: float, unread: int) -> MayWait | None:
    """Say whether the last of so many unread ones may wait: expected to be off by ``bears`` grades at most, it may.

    ``expected`` is the chance to be in range, and how far off, of one that is like those before it.
    """
    now, mean = sample.now, fmean(sample.now)
    in_range, off = expected
    # One that is another than those before it may be out by any amount.
    stays = (1 - sample.moves) ** (unread - 1)
    chance, off = stays * in_range, stays * off + (1 - stays)
    if chance < WAITS_FROM.value or off > bears:
        return None
    last = f"The last {len(now)} bobbins" if len(now) > 1 else "The last bobbin"
    reads = pull(mean) if pull(min(now)) == pull(max(now)) else pull_range(min(now), max(now))
    said = f"{last} of this thread read {reads} in this case with the screw as it is"
    a_little = chance < PLAINLY_IN and off <= ONLY_A_LITTLE * (1 - chance)
    otherwise = ". If not, it's probably only a little out" if a_little else ""
    return MayWait(chance, mean, f"{said}: {chance:.0%} that this one is in its range{otherwise}")


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


def _by_hand(read: Sequence[BobbinBefore], bears: float, unread: int) -> MayWait | None:
    stands = _felt([*read, *[BobbinBefore(turn=read[-1].turn)] * unread])
    if stands.chance < WAITS_FROM.value or look_saves(stands.chance, stands.wrong) > bears:
        return None
    last = [bobbin.feels[-1] for bobbin in read if bobbin.turn == read[-1].turn and bobbin.feels]
    right = sum(feel is Feel.RIGHT for feel in last)
    if right < len(last):
        how = f"{right} of the last {len(last)} bobbins"
    else:
        how = f"The last {len(last)} bobbins" if right > 1 else "The last bobbin"
    said = f"{how} of this thread felt right on this screw: {stands.chance:.0%} that this one is, too"
    return MayWait(stands.chance, None, said)


def _felt(before: Sequence[BobbinBefore]) -> FeltSoFar:
    """Return how the bobbin that is in stands by hand, the last of these."""
    # How often the first look after a turn said right.
    firsts = [b.feels[0] for a, b in pairwise(before) if a.turn != b.turn != before[-1].turn and b.feels]
    right = sum(feel is Feel.RIGHT for feel in firsts)
    after = drawn_share(RIGHT_AFTER_A_TURN.value, TURNS_WEIGH.value, right, len(firsts))
    screws = {bobbin.turn: [each.feels for each in before if each.turn == bobbin.turn] for bobbin in before}
    return by_hand(
        [
            UnderOneScrew(at_first=after if turn else RIGHT_AT_FIRST.value, bobbins=bobbins)
            for turn, bobbins in screws.items()
        ]
    )


@dataclass(frozen=True, kw_only=True)
class OffByHand:
    """What to do about a bobbin that felt off, and why; nothing is said of a turn."""

    then: Then
    text: str = ""

    @property
    def leaves(self) -> bool:
        """Whether the screw is left as it is, so that nothing is to be done about the bobbin."""
        return self.then is Then.LEAVE


def off_by_hand(before: Sequence[BobbinBefore]) -> OffByHand | None:
    """Say what to do about the bobbin that is in, the last of ``before``; ``None`` unless it felt off.

    A hand errs more often than a screw moves by itself. A look that says otherwise than what is known is repeated
    before it is believed.
    """
    if not before or not before[-1].feels or before[-1].feels[-1] is Feel.RIGHT:
        return None
    stands = _felt(before)
    then = after_a_look(stands, len(before[-1].feels))
    if then is Then.TURN:
        return OffByHand(then=then)
    if then is Then.LEAVE:
        text = "More likely your hand than the screw. Leave it as it is, and let the test line decide."
        return OffByHand(then=then, text=f"{wrong_words(stands)} {text}")
    one_before = before[-2] if len(before) > 1 else None
    if one_before and one_before.turn == before[-1].turn and one_before.feels[-1:] == (Feel.RIGHT,):
        why = "The bobbin before it felt right with this screw."
    else:
        why = wrong_words(stands)
    return OffByHand(then=then, text=f"{why} Feel it once more before you turn.")


def about(waits: MayWait) -> str:
    """Return what a bobbin that waits reads, in few words.

    >>> about(MayWait(0.9, None, ""))
    'as the last ones'
    """
    if waits.chance is None:
        return "not read"
    return "as the last ones" if waits.about_mn is None else f"about {pull(waits.about_mn)}"
