"""A plan taken along: its evenings for a calendar, and one sheet to hang up."""

from __future__ import annotations

from datetime import date, datetime

from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.spoken import day_in_words, in_hours, length
from weftonos.core.plan.evenings import Evening
from weftonos.exchange.calendar import CalendarEntry, to_ics
from weftonos.exchange.marks import Sheet
from weftonos.exchange.report import report
from weftonos.learned.answer_cache import AnswerCache
from weftonos.stations.plans.page import plan_page
from weftonos.store.workshop import Workshop


def plan_calendar(workshop: Workshop, kept: AnswerCache, plan_id: int, now: datetime) -> str:
    """Return the evenings as iCalendar; raises :class:`CraftError` where no first evening is set."""
    page = plan_page(workshop, kept, plan_id)
    if page.plan.starts is None:
        raise CraftError("Choose the first evening. Then the calendar has days.", "starts")
    row = workshop.record(plan_id)
    entries = [
        CalendarEntry(
            uid=f"{row.uid}-{each.number}@weftonos",
            day=each.day or date.min,
            heading=f"{page.plan.quilt}: {', '.join(part.words for part in each.passes)}",
            lines=_evening_lines(each),
        )
        for each in page.evenings
    ]
    return to_ics(entries, now)


def _evening_lines(each: Evening) -> list[str]:
    sewing = [f"{part.words}: {part.from_share:.0%} to {part.to_share:.0%}" for part in each.passes]
    return [*each.before, *sewing, *each.after]


def printed_plan(workshop: Workshop, kept: AnswerCache, plan_id: int) -> list[Sheet]:
    """Lay out a plan as one sheet to hang up."""
    page = plan_page(workshop, kept, plan_id)
    plan = page.plan
    bobbins = f"{page.bobbins.likely:.0f} ({page.bobbins.low:.0f} to {page.bobbins.high:.0f})" if page.bobbins else "–"
    numbers = [
        ("Machine", page.machine),
        ("Stitching", f"{length(page.stitched_m.likely)}, {page.text}"),
        ("Bobbins", bobbins),
        ("Thread", f"{length(page.thread_m.likely)} above, as much below"),
    ]
    by_key = {each.key: each for each in page.passes}
    order = [
        f"{n}. {by_key[key].words}: {by_key[key].top or 'thread open'} over {by_key[key].below or 'bobbin open'}, "
        f"{by_key[key].needle or 'needle open'}, {in_hours(by_key[key].hours.likely)}"
        for n, key in enumerate(page.order.keys, 1)
    ]
    nights = [
        f"□ {day_in_words(each.day) if each.day else f'Evening {each.number}'}: {'. '.join(_evening_lines(each))}"
        for each in page.evenings
    ]
    threads = [f"{each.name}: {length(each.needs_m.likely)}. {each.lasts.text}" for each in page.threads]
    sections = [("In this order", order), ("Evenings", nights), ("Threads", threads)]
    return report(f"{plan.quilt}, planned", page.rests_on, numbers, sections, page.order.text)
