"""What the plant keeps of a pH job, and what an analyzer is with all of its history."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from typing import Any

from calibration.engine.job.reads import Reads
from calibration.families.ph.found import line_by
from calibration.families.ph.ledger import buffers_of
from calibration.kernel.numbers import exact

History = Sequence[tuple[date, Sequence[Mapping[str, Any]]]]


def lines(job: Reads) -> list[dict[str, Any]]:
    """Return slope and offset by millivolts: as found, and of a calibration."""
    found: list[dict[str, Any]] = []
    with exact():
        for run in (job.ledger.method.found.id, "calibrated"):
            line = line_by(job, run) if job.ledger.method.step(run) else None
            if line is not None:
                found.append(
                    {
                        "run": run,
                        "slope": round(line.percent, 1),
                        "offset": round(line.offset_mv, 1),
                        "calibrated": bool(buffers_of(job.ledger).accepted) and run == "calibrated",
                    }
                )
    return found


def remembered(own: Mapping[str, Any], history: History, today: date) -> dict[str, Any]:
    """Return what is particular to an analyzer, with its last calibration."""
    found = dict(own)
    for day, entries in history:
        for entry in entries:
            if entry.get("calibrated"):
                found["slope_percent"] = str(entry["slope"])
                found["offset_mv"] = str(entry["offset"])
                found["calibrated_on"] = str(day)
    return found
