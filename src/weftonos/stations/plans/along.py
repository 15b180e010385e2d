"""A plan taken along: its evenings for a calendar, and one sheet to hang up."""

from __future__ import annotations

from datetime import date, datetime

from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.spoken import day_in_words, in_hours, length
from weftonos.core.plan.evenings import Evening
from weftonos.exchange.calendar import CalendarEntry, to_ics
from weftonos.exchange.marks import Sheet
from weftonos.exchange.report import Section, report
from weftonos.exchange.strip import Paper
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
            heading=f"{page.plan.quilt}: {', '.join(dict.fromkeys(part.words for part in each.passes))}",
            lines=_evening_lines(each),
        )
        for each in page.evenings
    ]
    return to_ics(entries, now)


def _evening_lines(each: Evening) -> list[str]:
    sewn = [line for part in each.passes for line in (*part.before, f"Sew {part.sews}")]
    return [*each.before, *sewn, *each.after]


def printed_plan(workshop: Workshop, kept: AnswerCache, plan_id: int, paper: Paper) -> list[Sheet]:
    """Lay out a plan as one sheet to hang up."""
    page = plan_page(workshop, kept, plan_id)
    plan = page.plan
    wound, full = sum(each.bobbins for each in page.evenings), page.bobbins
    bobbins = f"{wound} to wind, most likely {full.low:.0f} to {full.high:.0f} full ones" if full else ""
    numbers = [
        ("Machine", page.machine),
        ("Stitching", f"{length(page.stitched_m.likely)}, {page.text}"),
        ("Bobbins", bobbins),
        ("Thread", f"{length(page.thread_m.likely)} above, as much below"),
    ]
    by_key = {each.key: each for each in page.passes}
    order = [
        (
            f"{n}. {by_key[key].words}",
            by_key[key].top or "not chosen",
            by_key[key].below or "not chosen",
            by_key[key].needle or "not chosen",
            in_hours(by_key[key].hours.likely),
        )
        for n, key in enumerate(page.order.keys, 1)
    ]
    nights = [
        Section(
            head=day_in_words(each.day) if each.day else f"Evening {each.number}",
            lines=_evening_lines(each),
            boxes=True,
            narrow=True,
        )
        for each in page.evenings
    ]
    threads = [f"{each.name}: {length(each.needs_m.likely)}. {each.lasts.text}" for each in page.threads]
    sections = [
        Section(
            head="In this order",
            table=[("Pass", "Top", "Below", "Needle", "Sewing"), *order],
            shares=(0.26, 0.22, 0.2, 0.19, 0.13),
            apart=0.4,
        ),
        *nights,
        Section(head="Threads", lines=threads),
    ]
    title = f"{plan.quilt}, planned"
    return report(title, page.rests_on, numbers=numbers, sections=sections, foot=page.order.text, paper=paper)
