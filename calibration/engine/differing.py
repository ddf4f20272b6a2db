"""What was found otherwise than on record and gone on with, for a reason."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from calibration.engine.job import Job
from calibration.engine.method import Field
from calibration.engine.recorded import same_value

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
    """Yield what was found otherwise than on record and gone on with."""
    for step in job.ledger.method.steps:
        if step.kind != "record" or job.choice(step.id) != "accept":
            continue
        reason = job.ledger.decided[step.id][0].reason
        for field in job.fields(step):
            on, entry = job.expected(field), job.ledger.recorded.get((step.id, field.id))
            if on and entry is not None and not same_value(entry[0], on):
                yield Difference(field.must_match, field.label, on, entry[0], reason)


def often(field: Field) -> tuple[str, ...]:
    """Return the reasons that are often given for going on with a value that was asked about."""
    return field.often or (CHANGED if field.must_match else RIGHT)
