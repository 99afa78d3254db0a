"""Hours at the bench as a maker writes them: `19:00-21:00`, and several of a day with commas between."""

import re

from ..errors import UnreadableQuantity
from ..texts import tell
from .choices import Sitting

_HOURS = re.compile(r"(\d{1,2})(?:[:.]([0-5]\d))?\s*(?:-|–|to)\s*(\d{1,2})(?:[:.]([0-5]\d))?")


def hours_of(sittings: tuple[Sitting, ...], weekday: int) -> str:
    """The hours of a weekday (0 Monday) in order."""
    day = sorted((s.begins_min, s.minutes) for s in sittings if s.weekday == weekday)
    return ", ".join(f"{_clock(begin)}-{_clock(begin + minutes)}" for begin, minutes in day)


def with_hours(sittings: tuple[Sitting, ...], weekday: int, text: str) -> tuple[Sitting, ...]:
    """The sittings with those of a weekday as they are written; none where nothing is. Hours that end before they begin end the
    next day. Raises UnreadableQuantity.
    """
    day = []
    for part in filter(None, (p.strip() for p in text.split(","))):
        hours = _HOURS.fullmatch(part)
        begin, end = (int(hours[k]) * 60 + int(hours[k + 1] or 0) for k in (1, 3)) if hours else (-1, -1)
        if not 0 <= begin < 1440 or not 0 <= end <= 1440 or begin == end:
            raise UnreadableQuantity(
                tell("Cannot read '{typed}' as hours.", typed=part), mend=tell("Type them as 19:00-21:00, 9-12.")
            )
        day.append(Sitting(weekday=weekday, begins_min=begin, minutes=(end - begin) % 1440))
    return tuple(
        sorted((*(s for s in sittings if s.weekday != weekday), *day), key=lambda s: (s.weekday, s.begins_min))
    )


def _clock(minutes: int) -> str:
    return f"{minutes // 60 % 24}:{minutes % 60:02d}"
