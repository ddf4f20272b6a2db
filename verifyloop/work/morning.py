"""What a person should know in the morning, as plain text for an e-mail."""

from __future__ import annotations

from datetime import date, timedelta

from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import can
from verifyloop.kit.models import Cylinder, Reference
from verifyloop.plant.proposals import open_ones
from verifyloop.work.due import DueRow, due_rows, undated
from verifyloop.work.models import Job

#: How far ahead it looks, and how many lines of each it names.
AHEAD, KIT_AHEAD, LINES = timedelta(days=7), timedelta(days=30), 25


def morning_mail(person: User, today: date, address: str) -> tuple[str, str] | None:
    """Return subject and text of the morning's e-mail; none where there is nothing to say."""
    rows = due_rows(today + AHEAD)
    parts = [_due(rows, today)]
    if can(person, "job.review"):
        waiting = Job.objects.filter(status=Job.Status.SIGNED).order_by("signed_at")
        lines = waiting.values_list("number", "instrument__tag", "signed_by")
        parts.append(_part("Waiting for review", [f"{n}  {t}, {by}" for n, t, by in lines]))
    if can(person, "instrument.plan"):
        proposals = [f"{p.instrument.tag}: {p.label}" for p in open_ones()]
        parts.append(_part("Found otherwise than on record, to decide", proposals))
        parts.append(_part("Kit that ends within 30 days", _kit(today)))
        if count := undated():
            parts.append(f"{count} in service without a day: nothing makes them due.")
    said = [p for p in parts if p]
    if not said:
        return None
    overdue = sum(r.group(today) == "overdue" for r in rows)
    subject = f"Verify Loop, {today}: {len(rows)} due within a week, {overdue} overdue"
    return subject, "\n\n".join([*said, address]) + "\n"


def _due(rows: list[DueRow], today: date) -> str:
    lines = [
        f"{r.tag}  {r.description}, {r.area}: {r.due or 'out of service'}, {r.group(today)}"
        for r in rows
    ]
    return _part("Due within a week", lines)


def _kit(today: date) -> list[str]:
    until = today + KIT_AHEAD
    references = Reference.objects.filter(due_on__lte=until, withdrawn=False).order_by("due_on")
    cylinders = Cylinder.objects.filter(expires_on__lte=until).order_by("expires_on")
    found = [f"{r.asset}  {r.description}, until {r.due_on}" for r in references]
    return found + [f"{c.asset}  {c.description}, until {c.expires_on}" for c in cylinders]


def _part(title: str, lines: list[str]) -> str:
    if not lines:
        return ""
    more = [f"and {len(lines) - LINES} more"] if len(lines) > LINES else []
    return "\n".join([f"{title} ({len(lines)})", *("  " + x for x in [*lines[:LINES], *more])])
