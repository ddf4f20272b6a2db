"""What is read of a file that a tester wrote: table or records, one line each."""

from __future__ import annotations

from calibration.engine.files.device_file import FileColumn, FileForm, FileRow, serial_of
from calibration.engine.job.reads import Reads
from calibration.families.magmeter.facts import meter
from calibration.families.magmeter.words import Testing

COLUMNS = (
    FileColumn(id="line", label="Line", known_as=("test", "name", "item", "check", "parameter")),
    FileColumn(
        id="value",
        label="Measured",
        known_as=("value", "result", "actual", "reading", "measured value"),
    ),
)


def form(job: Reads) -> FileForm | None:
    """Return what the lines take from a file; none at other steps."""
    if not isinstance(job.current, Testing):
        return None
    return FileForm(
        columns=COLUMNS,
        rows=tuple(
            FileRow(
                label=line.label, known_as=(line.id,), fields={"value": line.id}, unit=line.unit
            )
            for line in meter(job.ledger.facts).lines
        ),
        serial=serial_of(job),
    )
