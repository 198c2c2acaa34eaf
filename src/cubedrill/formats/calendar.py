"""Due dates as an iCalendar file (RFC 5545)."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from uuid import NAMESPACE_URL, uuid5

from icalendar import Calendar, Event

REFRESH = timedelta(hours=1)


@dataclass(frozen=True)
class DueDate:
    """A due date.

    Attributes
    ----------
    id : str
        The same for the same date in every file, so that calendars replace it.
    title, class_name : str
    due_at : datetime
        With a time zone.
    address : str
        Of the page of the exercise.
    """

    id: str
    title: str
    class_name: str
    due_at: datetime
    address: str


def calendar_file(name: str, dates: Iterable[DueDate], now: datetime) -> bytes:
    """Return a calendar of due dates.

    Parameters
    ----------
    name : str
        Name of the calendar.
    dates : iterable of DueDate
    now : datetime

    Returns
    -------
    bytes
        iCalendar, UTF-8. Each date is an event without length at its moment in UTC.
    """
    calendar = Calendar()
    calendar.add("prodid", "-//Cube Drill//Due dates//EN")
    calendar.add("version", "2.0")
    calendar.add("name", name)
    calendar.add("x-wr-calname", name)
    calendar.add("refresh-interval", REFRESH, parameters={"VALUE": "DURATION"})
    for date in dates:
        event = Event()
        event.add("uid", str(uuid5(NAMESPACE_URL, date.id)))
        event.add("dtstamp", now.astimezone(UTC))
        event.add("dtstart", date.due_at.astimezone(UTC))
        event.add("summary", f"Due: {date.title} ({date.class_name})")
        event.add("url", date.address)
        calendar.add_component(event)
    content: bytes = calendar.to_ical()
    return content
