"""What is due, as a calendar file: an event for each pack that is to be brought to storage."""

from __future__ import annotations

from datetime import datetime, timedelta

from icalendar import Alarm, Calendar, Event

from coldstack.core.rules.house_rules import HouseRules
from coldstack.server.keeping.shelf import shelf_out


def due_calendar(rules: HouseRules, now: datetime) -> bytes:
    """An iCalendar file (RFC 5545). Event ids hold the pack and when its state began, so that a file read
    again changes, and adds none.

    What is overdue already stands at now.
    """
    calendar = Calendar()
    calendar.add("prodid", "-//Cold Stack//due//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", "Cold Stack: packs due")
    shelf = shelf_out(rules, now)
    for line in (
        p for g in shelf.groups for p in g.packs if p.in_h is not None and p.doing in ("storage", "read")
    ):
        at = now + timedelta(hours=max(line.in_h or 0.0, 0.0))
        words = "to storage" if line.doing == "storage" else "read the cells"
        event = Event()
        event.add("uid", f"{line.tag}-{line.doing}-{line.since:%Y%m%dT%H%M%S}@cold-stack")
        event.add("dtstamp", now)
        event.add("dtstart", at)
        event.add("dtend", at + timedelta(minutes=30))
        event.add("summary", f"Pack {line.tag}: {words}")
        event.add("description", f"{line.name}. {line.due}")
        alarm = Alarm()
        alarm.add("action", "DISPLAY")
        alarm.add("description", f"Pack {line.tag}: {words}")
        alarm.add("trigger", timedelta(hours=-2))
        event.add_component(alarm)
        calendar.add_component(event)
    return bytes(calendar.to_ical())
