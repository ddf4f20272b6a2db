"""What is learnt of a belt scale, and the trend of its zero and span."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from typing import Any

from calibration.detector.life import Past
from calibration.engine.job.reads import Reads
from calibration.engine.judging.validity import Course, History
from calibration.families.belt.evidence import mean_of, span_mean
from calibration.families.belt.words import SPAN_RUNS, ZERO_RUNS, TurnsRun
from calibration.families.shared.wearing import trend
from calibration.kernel.rounding import fixed


def learnt(job: Reads) -> list[dict[str, Any]]:
    """Return zero and span as the scale was left with them; nothing where none was run."""
    if not isinstance(job.ledger.method.found, TurnsRun):
        return []
    left = [bool(job.ledger.readings[run]) for run in (ZERO_RUNS[1], SPAN_RUNS[1])]
    zero = mean_of(job, ZERO_RUNS[left[0]])
    span = span_mean(job, SPAN_RUNS[left[1]])
    if zero is None or span is None:
        return []
    return [{"zero_count": str(fixed(zero, 0)), "span_count": str(fixed(span, 0))}]


def remembered(
    own: Mapping[str, Any],
    history: Sequence[tuple[date, Sequence[Mapping[str, Any]]]],
    today: date,
) -> dict[str, Any]:
    """Return what is known of a scale with the counts of its last visit."""
    lines = [line for _, learnt in history for line in learnt if "zero_count" in line]
    return {**own, **({k: str(v) for k, v in lines[-1].items()} if lines else {})}


def courses(
    own: Mapping[str, Any], history: History, parameters: Mapping[str, str]
) -> tuple[Course, ...]:
    """Return how zero and span went over the visits, in % of the first span, and of itself."""
    lines = [(day, line) for day, learnt in history for line in learnt if "span_count" in line]
    if not lines:
        return ()
    first = float(lines[0][1]["span_count"])
    zero0 = float(lines[0][1]["zero_count"])
    zero = [
        Past(date=str(day), response=100 + 100 * (float(line["zero_count"]) - zero0) / first)
        for day, line in lines
    ]
    span = [
        Past(date=str(day), response=100 * float(line["span_count"]) / first) for day, line in lines
    ]
    return (trend("a", "Zero", zero), trend("b", "Span", span))
