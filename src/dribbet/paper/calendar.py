"""Looks that are due, as an iCalendar file with alarms (RFC 5545): any calendar can take it in.

A file is a picture of the moment: each event keeps its identity, so that bringing in a newer file moves what was moved.
"""

from __future__ import annotations

from datetime import timedelta
from typing import TYPE_CHECKING, Final

from icalendar import Alarm, Calendar, Event

if TYPE_CHECKING:
    from collections.abc import Sequence
    from datetime import datetime

LASTS: Final = timedelta(minutes=15)
AHEAD: Final = timedelta(minutes=10)
"""How long before a look its alarm rings."""


def calendar(looks: Sequence[tuple[str, str, datetime, str]], now: datetime) -> bytes:
    """Looks as the bytes of an .ics file.

    Parameters
    ----------
    looks : sequence of (identity, title, moment, words)
        Identity stays the same for one look of one panel; the moment has its offset.
    now : datetime
        When the file is made.
    """
    made = Calendar()
    made.add("prodid", "-//Dribbet//Looks//EN")
    made.add("version", "2.0")
    for identity, title, at, words in looks:
        event = Event()
        event.add("uid", f"{identity}@dribbet")
        event.add("dtstamp", now)
        event.add("dtstart", at)
        event.add("dtend", at + LASTS)
        event.add("summary", title)
        event.add("description", words)
        alarm = Alarm()
        alarm.add("action", "DISPLAY")
        alarm.add("description", title)
        alarm.add("trigger", -AHEAD)
        event.add_component(alarm)
        made.add_component(event)
    return bytes(made.to_ical())
