"""A named cause of an error, with its evidence and its remedy."""

from __future__ import annotations

from dataclasses import dataclass

from calibration.kernel.codec import about
from calibration.runs.cause_rows import KNOWN


@dataclass(frozen=True, kw_only=True)
class Cause:
    """One cause, why it is suspected and what to do."""

    cause: str = about("name of the cause", label="cause")
    percent: float = about("its size", label="size", unit="% of span")
    evidence: str = about("what in the readings points to it", label="evidence")
    remedy: str = about("what to do next", label="remedy")
    confidence: float = about(
        "share of the squared error that it explains, 0 to 1", label="share explained"
    )


def cause(
    name: str, percent: float, evidence: str, remedy: str = "", confidence: float = 0.9
) -> Cause:
    """Return a cause; ``percent`` in % of span. Its remedy is that of its row, unless said.

    >>> cause("zero", 0.4, "all points high by the same", remedy="Set the zero.").percent
    0.4
    """
    return Cause(
        cause=name,
        percent=percent,
        evidence=evidence,
        remedy=remedy or KNOWN[name].remedy,
        confidence=round(confidence, 3),
    )


#: A current outside the measuring range is no measurement, and one reading tells. All other causes
#: wait until the run holds what tells them apart: one reading knows no shift from a span error.
TOLD_BY_ONE = ("inhibited", "fault_current", "head_zero")
