"""One run as a screen shows it: point table, error picture, figures."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from calibration.decisions.tolerance import limit_at
from calibration.engine.job.events import ReadingTaken
from calibration.engine.job.job import Job
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import RunSpec
from calibration.engine.method.run_kind import stands_for
from calibration.engine.view.axis import axis_of
from calibration.engine.view.blocks import Characteristic, Mark
from calibration.engine.view.columns import columns_of, output_label
from calibration.engine.view.largest import largest
from calibration.engine.view.state import PointState, RunState, Station
from calibration.engine.view.verdict import probability
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, ZERO, exceeds, to_float
from calibration.kernel.rounding import (
    as_typed,
    decimals_of,
    show,
    show_as_read,
    show_error,
    trimmed,
)
from calibration.runs.cause_rows import KNOWN
from calibration.runs.run import Summary
from calibration.signals.transfer import slope_at

#: what is read at a point, as text
VALUES = ("applied", "ideal", "reading", "counts_as", "digital", "indicated")


def run_state(job: Job, name: str, figures: RunFigures) -> RunState:
    """Return a run for the screen."""
    spec, facts = job.ledger.method.run(name), figures.facts
    kind = job.kind_of(spec)
    names = kind.columns(job, spec, figures)
    flow = job.settings.has("spacing") and job.settings.choice("spacing") == "flow"
    points = tuple(_point(job, spec, name, figures, i, flow) for i in range(len(figures.plan)))
    result = figures.result
    last = figures.order[-1] if figures.order else -1
    newest = max(figures.order, key=lambda i: figures.taken[i].event.seq, default=last)
    if result is not None and figures.complete:
        newest = figures.order[_telling_point(figures, result.summary.worst_point)]
    return RunState(
        id=name,
        role=spec.role,
        pictured=kind.pictured,
        title=kind.title(job, spec),
        input_unit=facts.input_unit,
        output_unit=facts.output_unit,
        indicated_unit=facts.shown_unit,
        output_label=output_label(facts),
        error_unit=facts.input_unit if kind.in_input(facts) else "%",
        axis=axis_of(kind.in_unit, facts),
        order=kind.order,
        scale=kind.scale,
        points_to_type=names,
        columns=columns_of(names, facts, kind.own_columns),
        points=points,
        current=figures.current,
        taken=len(figures.order),
        complete=figures.complete,
        mark=figures.mark,
        worst=_worst(job, spec, figures),
        fit_zero=result.summary.fit_lower_percent if result else 0.0,
        fit_span=_fit_span(result.summary) if result else 0.0,
        fit_text=_fit_text(figures),
        zero=result.summary.zero_shift_percent if result else None,
        span=result.summary.span_error_percent if result else None,
        causes=tuple(KNOWN[c.cause].label for c in figures.causes),
        characteristics=_characteristics(name, figures) if kind.characterised else (),
        stations=strip_of(job, name, figures, newest) if newest >= 0 else (),
    )


def attempt_states(job: Job) -> tuple[RunState, ...]:
    """Return the runs that were taken again, as screens and papers show them, oldest first."""
    shown = []
    for number, attempt in enumerate(job.ledger.attempts, 1):
        then = job.at_attempt(number)
        for spec in job.ledger.method.runs:
            if spec.id in attempt.readings:
                name = f"{spec.id}~{number}"
                state = run_state(then, name, then.figures(name))
                title = f"{state.title}, before it was repeated"
                shown.append(replace(state, title=title, current=-1))
    return tuple(shown)


def _telling_point(figures: RunFigures, worst: int) -> int:
    """Return the place of the point where the failing hop errs most, else of the worst point."""
    located = figures.located
    if located is None or located.fails is None:
        return worst
    errors = next(h.errors_percent for h in located.hops if h.name == located.fails)
    return max(range(len(errors)), key=lambda i: abs(errors[i] or ZERO))


def strip_of(job: Job, name: str, figures: RunFigures, index: int) -> tuple[Station, ...]:
    """Return the loop strip of one point that has a reading.

    Raises
    ------
    InputError
        ``reading.none``.
    """
    if index not in figures.taken:
        raise InputError(
            "reading.none", "point", "That point has no reading yet.", "Choose another point."
        )
    spec = job.ledger.method.run(name)
    return job.kind_of(spec).stations(job, spec, figures, index, f"{name}.points.{index}")


def _fit_span(summary: Summary) -> float:
    return summary.fit_upper_percent - summary.fit_lower_percent


def _fit_text(figures: RunFigures) -> str:
    if figures.result is None or len(figures.order) < 2:
        return ""
    summary = figures.result.summary
    if summary.zero_shift_percent is None or summary.span_error_percent is None:
        return ""
    return (
        f"best fit: zero {show(summary.zero_shift_percent, 2, sign=True)} %, "
        f"span {show(summary.span_error_percent, 2, sign=True)} %"
    )


def _point(
    job: Job, spec: RunSpec, name: str, figures: RunFigures, index: int, flow: bool
) -> PointState:
    planned = figures.plan[index]
    arrow, percent = "▲" if planned.direction == "up" else "▼", planned.nominal_percent
    approach = trimmed(planned.approach) if planned.approach is not None else ""
    place = figures.order.index(index) if index in figures.taken else -1
    mark: Mark = "none"
    values = dict.fromkeys(VALUES, "")
    error = limit = chance = source = early = event = beside = ""
    error_text = ""
    error_float = 0.0
    facts = figures.facts
    kind = job.kind_of(spec)
    target = kind.target(facts, planned)
    span = abs(facts.transfer.output_span)
    limit_float = to_float(100 * limit_at(facts.transfer, facts.tolerance, planned.nominal) / span)
    position = _along(planned.nominal_percent, flow)
    if place < 0 and index in figures.left_out:
        values["reading"] = "left out"
    if place >= 0 and figures.result is not None:
        taken, point = figures.taken[index], figures.result.points[place]
        content = taken.content
        values = {
            "applied": as_typed(content.applied),
            "ideal": _ideal(point.ideal, content, kind.in_unit),
            "reading": as_typed(content.reading),
            "counts_as": counts_as(figures, index),
            "digital": as_typed(content.digital) if content.digital is not None else "",
            "indicated": as_typed(content.indicated) if content.indicated is not None else "",
        }
        error = show_error(point.error_percent_of_span, point.limit_percent)
        error_text = error
        if kind.in_input(facts):
            slope = slope_at(facts.transfer, content.applied)
            error_text = show_error(point.error / slope, point.limit / slope)
        if kind.in_unit:
            error_text = show_as_read(point.error, point.limit, content.reading)
        limit = f"±{show(point.limit_percent, 2)}"
        mark = figures.marks[place]
        beside = _beside(figures, place, point.limit_percent)
        chance = probability(figures.decisions[place].probability_outside)
        source, early, event = taken.event.source, content.early_reason, taken.event.id
        error_float = to_float(point.error_percent_of_span)
        limit_float = to_float(point.limit_percent)
        share = 100 * (content.applied - facts.input_lower) / facts.transfer.input_span
        position = _along(share, flow)
        if answer := kind.answer(job, spec, index, content):
            values = {**dict.fromkeys(values, ""), "reading": answer}
            error, error_text, limit, error_float = "", "", "", 0.0
    return PointState(
        index=index,
        label=kind.label(job, spec, index)
        or f"{arrow} {trimmed(_flow(planned.nominal_percent) if flow else percent)}",
        direction=planned.direction,
        cycle=planned.cycle,
        target=trimmed(target),
        target_value=format(target, "f"),
        equivalent=kind.equivalent(facts, planned),
        stands_for=stands_for(kind, planned),
        approach=approach,
        error=error,
        error_text=error_text,
        beside=beside,
        limit=limit,
        mark=mark,
        outside_probability=chance,
        source=source,
        early=early,
        event=event,
        input_percent=position,
        error_percent=error_float,
        limit_percent=limit_float,
        **values,
    )


def counts_as(figures: RunFigures, index: int) -> str:
    """Return what a reading counts as, to two decimals or as finely as read; empty for itself."""
    counted = figures.counted.get(index)
    if counted is None:
        return ""
    return show(counted, max(2, decimals_of(figures.taken[index].content.reading)))


def _worst(job: Job, spec: RunSpec, figures: RunFigures) -> str:
    """Return the largest error, or the answer that stands for it; empty for none."""
    kind = job.kind_of(spec)
    if figures.result is None:
        return ""
    index = figures.order[figures.result.summary.worst_point]
    answer = kind.answer(job, spec, index, figures.taken[index].content)
    if answer:
        return f"{kind.label(job, spec, index)}: {answer}"
    return largest(figures, kind.in_input(figures.facts), kind.in_unit)


def _beside(figures: RunFigures, place: int, limit: Decimal) -> str:
    """Return the error of the control room at a point, where that is what puts it outside."""
    if figures.located is None:
        return ""
    hop = next((h for h in figures.located.hops if h.name == "receiver"), None)
    error = hop.errors_percent[place] if hop is not None else None
    if error is None or not exceeds(error, limit, HUNDRED):
        return ""
    return show(error, 2, sign=True)


def _ideal(ideal: Decimal, content: ReadingTaken, in_unit: bool) -> str:
    """Return what ought to be read: to three decimals; at a display as finely as it was read."""
    if in_unit and ideal == content.applied:
        return as_typed(ideal)
    return show(ideal, max(0 if in_unit else 3, decimals_of(content.reading) + in_unit))


def _flow(percent: Decimal) -> Decimal:
    """Return the flow that a percentage of differential pressure stands for. [% of flow]"""
    return 10 * percent.sqrt() if percent > 0 else ZERO


def _along(percent: Decimal, flow: bool) -> float:
    """Return where a point lies in the error picture: along the range, or along the flow. [%]"""
    return to_float(_flow(percent) if flow else percent)


def _characteristics(name: str, figures: RunFigures) -> tuple[Characteristic, ...]:
    if figures.result is None or len(figures.order) < 2:
        return ()
    s = figures.result.summary
    entries: list[tuple[str, str, Decimal | float | None, bool]] = [
        ("zero_shift", "Zero shift", s.zero_shift_percent, True),
        ("span_error", "Span error", s.span_error_percent, True),
        ("hysteresis", "Hysteresis", s.hysteresis_percent, False),
        ("nonlinearity_independent", "Linearity", s.nonlinearity_independent_percent, False),
    ]
    if max(p.cycle for p in figures.plan) > 1:
        entries.append(("repeatability", "Repeatability", s.repeatability_percent, False))
    return tuple(
        Characteristic(
            id=id,
            label=label,
            value=show(value, 2, sign=sign),
            unit="% of span",
            figure=f"{name}.summary.{id}",
        )
        for id, label, value, sign in entries
        if value is not None
    )
