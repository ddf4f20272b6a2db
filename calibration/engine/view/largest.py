"""The largest error of a run as people of the trade say it, percent of span beside it."""

from __future__ import annotations

from calibration.engine.judging.evaluation import RunFigures
from calibration.kernel.rounding import show, show_as_read, show_error
from calibration.signals.transfer import slope_at


def largest(figures: RunFigures, in_input: bool, in_unit: bool = False) -> str:
    """Return the largest error: in the unit of the input for a sensor or a gas; empty for none.

    Percent of span stands beside it, but where nobody says an error so.
    """
    if figures.result is None:
        return ""
    summary = figures.result.summary
    percent = f"{show(summary.max_error_percent, 2, sign=True)} % of span"
    if not in_input:
        return percent
    point = figures.result.points[summary.worst_point]
    slope = slope_at(figures.facts.transfer, point.applied)
    if in_unit:
        said = show_as_read(point.error, point.limit, point.reading)
        return f"{said} {figures.facts.input_unit}"
    said = show_error(point.error / slope, point.limit / slope)
    return f"{said} {figures.facts.input_unit} ({percent})"
