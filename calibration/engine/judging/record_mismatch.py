"""What was found otherwise than on record and gone on with, for a reason."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from calibration.engine.job.job import Job
from calibration.engine.method.conditions import renewed
from calibration.engine.method.method import Field

#: Reasons that are often given for a difference from the record, and for any other question.
CHANGED = ("Changed on purpose; the record is out of date", "Read twice: it is right")
RIGHT = ("Read twice: it is right",)


@dataclass(frozen=True)
class Difference:
    """One value: under which name it is on record, what is on record, what was found, and why."""

    name: str
    label: str
    on_record: str
    found: str
    reason: str


def accepted(job: Job) -> Iterator[Difference]:
    """Yield what is otherwise than on record: gone on with, left so, or fitted anew."""
    yield from _found(job)
    yield from _left_otherwise(job)
    for content, _ in job.ledger.repaired:
        serial = content.serial.strip()
        if content.what == "sensor" and serial and serial.lower() != "none":
            on = job.ledger.facts.serial
            label = "Serial number of the new sensor"
            yield Difference("serial", label, on, serial, content.said)


def _found(job: Job) -> Iterator[Difference]:
    for step in job.ledger.method.steps:
        if step.kind != "record" or job.choice(step.id) != "accept":
            continue
        reason = job.ledger.decided[step.id][0].reason
        for field in job.fields(step):
            on, entry = job.expected(field), job.ledger.recorded.get((step.id, field.id))
            if on and entry is not None and not job.agrees(step, field, entry[0]):
                yield Difference(field.must_match, field.label, on, entry[0], reason)


def _left_otherwise(job: Job) -> Iterator[Difference]:
    """Yield what was written to the device and left otherwise than on record."""
    fields = {f.id: (s, f) for s in job.ledger.method.steps for f in s.fields if f.must_match}
    for (step_id, name), (content, _) in job.ledger.written.items():
        step = job.ledger.method.step(step_id)
        if step is None or name not in fields:
            continue
        read, field = fields[name]
        on = job.expected(field)
        if on and not job.agrees(read, field, content.read_back):
            label = next((i.label for i in step.sets if i.id == name), field.label)
            yield Difference(field.must_match, label, on, content.read_back, step.title)


def new_device(job: Job) -> str:
    """Return since when another sensor or device is there: ``in`` the job, or ``before`` it.

    What was read of the one before says nothing of it. Empty where it is the same one.
    """
    if renewed(job.ledger):
        return "in"
    return "before" if any(found.name == "serial" for found in _found(job)) else ""


def often(field: Field) -> tuple[str, ...]:
    """Return the reasons that are often given for going on with a value that was asked about."""
    return field.often or (CHANGED if field.must_match else RIGHT)
