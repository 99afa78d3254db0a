"""The steps in the maker's hours as iCalendar (RFC 5545)."""

from datetime import UTC, datetime, timedelta
from pathlib import Path

from ..core.plan import Plan
from ..core.texts import said
from .whole import write_whole

NAME, SUFFIX = said("Calendar, iCalendar"), ".ics"


def write(plan: Plan, path: Path) -> None:
    """Write the calendar. Raises FailedWrite."""
    write_whole(path, render(plan))


def render(plan: Plan) -> bytes:
    """An event for each step still to do that has its place in the hours, in the maker's own clock."""
    from icalendar import Calendar, Event

    calendar = Calendar()
    calendar.add("prodid", "-//Vow Line//EN")
    calendar.add("version", "2.0")
    units = plan.job.units
    for step in plan.work.steps if plan.work else ():
        if step.begins is None or plan.job.work.is_done(step.id):
            continue
        event = Event()
        event.add("uid", f"{step.id.replace(' ', '-')}@{plan.job.name.replace(' ', '-')}.vow-line")
        event.add("dtstamp", datetime(2000, 1, 1, tzinfo=UTC))  # the same plan writes the same bytes
        event.add("summary", f"{plan.job.name}: {step.name.write(units)}")
        event.add("description", f"{step.says.write(units)} {step.caution.write(units)}".strip())
        event.add("dtstart", step.begins)
        event.add("dtend", step.begins + timedelta(minutes=max(step.minutes, 1)))
        calendar.add_component(event)
    return bytes(calendar.to_ical())
