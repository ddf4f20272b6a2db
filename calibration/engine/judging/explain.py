"""How was this computed? Formula, numbers, limit and source of any figure of a job."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from calibration.decisions.tolerance import in_words
from calibration.engine.job.events import InstrumentFacts
from calibration.engine.job.job import Job
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.view.axis import PERCENT, Axis, axis_of
from calibration.engine.view.run_view import counts_as
from calibration.engine.view.state import Station
from calibration.engine.view.verdict import OUTCOMES, RULES, probability
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact
from calibration.kernel.registry import OPERATIONS
from calibration.kernel.rounding import (
    as_typed,
    decimals_of,
    show,
    show_as_read,
    show_error,
    significant,
)
from calibration.runs.run import Point


@dataclass(frozen=True, kw_only=True)
class Given:
    """One number that went in."""

    name: str
    value: str


@dataclass(frozen=True, kw_only=True)
class Explanation:
    """A figure, opened up."""

    title: str
    result: str
    formula: str
    worked: str
    inputs: tuple[Given, ...]
    limit: str
    source: str


SUMMARY = {
    "zero_shift": ("Zero shift", "least squares line through error against range, at 0 %"),
    "span_error": ("Span error", "the same line: error at 100 % minus error at 0 %"),
    "hysteresis": ("Hysteresis", "largest gap between mean errors up and down at one point"),
    "nonlinearity_independent": (
        "Linearity, independent",
        "half the height of the narrowest straight band that holds the mean error curve",
    ),
    "repeatability": ("Repeatability", "largest spread of same-way errors over the cycles"),
}


def explain(job: Job, figure: str) -> Explanation:
    """Open up a figure by its name, e.g. ``as_found.points.3.error``.

    Raises
    ------
    InputError
        ``figure.unknown``.
    """
    with exact():
        parts = figure.split(".")
        run, _, attempt = parts[0].partition("~")
        known = not attempt or (attempt.isdigit() and 0 < int(attempt) <= len(job.ledger.attempts))
        if known and run in {spec.id for spec in job.ledger.method.runs}:
            figures = job.figures(parts[0])
            if len(parts) == 4 and parts[1] == "points" and parts[2].isdigit():
                found = _point(job, run, figures, int(parts[2]), parts[3])
            elif len(parts) == 3 and parts[1] == "summary":
                found = _summary(job, figures, parts[2])
            else:
                found = None
            if found is not None:
                return found
    raise InputError(
        "figure.unknown", "figure", f"There is no figure '{figure[:80]}'.", "Reload the job."
    )


def _short(value: Decimal) -> str:
    """Return an end of the output as set, or a computed one to three decimals."""
    return str(value) if decimals_of(value) <= 3 else show(value, 3)


def worked_ideal(facts: InstrumentFacts, applied: Decimal, ideal: Decimal) -> str:
    """Return the ideal output with the numbers put in."""
    out = facts.output_unit
    if facts.sensor and facts.transfer.curve is not None:
        text = f"{facts.sensor} at {applied} °C"
        if out == "mV":
            text += f", reference junction at {facts.junction_c:g} °C"
        return f"{text} = {show(ideal, 4)} {out}"
    lower, upper = facts.output_lower, facts.output_upper
    above, span = f"({applied} − {facts.input_lower})", f"({upper} − {lower})"
    within = f"({facts.input_upper} − {facts.input_lower})"
    share = f"{above} × {span} / {within}"
    if facts.characteristic == "square_root":
        share = f"√({above} / {within}) × {span}"
    return f"{lower} + {share} = {show(ideal, 4)} {out}"


def _point(job: Job, run: str, figures: RunFigures, index: int, name: str) -> Explanation | None:
    if index not in figures.taken or figures.result is None:
        return None
    place = figures.order.index(index)
    point = figures.result.points[place]
    content = figures.taken[index].content
    spec, facts = job.ledger.method.run(run), figures.facts
    kind = job.kind_of(spec)
    unit, out = facts.input_unit, facts.output_unit
    lower, upper = facts.output_lower, facts.output_upper
    ideal = worked_ideal(facts, content.applied, point.ideal)
    limit = (
        f"{in_words(facts.tolerance, unit, out)} is {show(point.limit, 4)} {out} here; "
        f"{facts.tolerance_source}"
    )
    applied = Given(name="Applied", value=f"{as_typed(content.applied)} {unit}")
    read = _read(figures, index, out)
    counted = figures.counted.get(index)
    judged = as_typed(content.reading) if counted is None else show(counted, 4)
    if name == "ideal":
        return Explanation(
            title="Ideal output",
            result=f"{show(point.ideal, 4)} {out}",
            formula=OPERATIONS["signal.scale"].formula,
            worked=ideal,
            inputs=(applied,),
            limit="",
            source=OPERATIONS["signal.scale"].source,
        )
    if name == "chance":
        return _decision(job, figures, place, axis_of(kind.in_unit, facts))
    if name in ("digital", "output", "indicated", "applied", "whole"):
        found = kind.stations(job, spec, figures, index, "")
        return _hop(found, name, limit)
    if name != "error":
        return None
    if kind.in_unit:
        return _error_in_unit(point, (applied, read), judged, unit, limit)
    shown = show_error(point.error_percent_of_span, point.limit_percent)
    return Explanation(
        title="Error",
        result=f"{shown} % of span",
        formula=OPERATIONS["run.evaluate"].formula,
        worked=f"ideal = {ideal}; 100 × ({judged} − {show(point.ideal, 4)}) / "
        f"({_short(upper)} − {_short(lower)}) = {shown} %",
        inputs=(
            applied,
            read,
            Given(name="In input units", value=f"{show(point.error_input_units, 2)} {unit}"),
        ),
        limit=limit,
        source=OPERATIONS["run.evaluate"].source,
    )


def _read(figures: RunFigures, index: int, out: str) -> Given:
    """Return what was read, and what it counts as where something was set before."""
    said = f"{as_typed(figures.taken[index].content.reading)} {out}"
    counted = counts_as(figures, index)
    return Given(name="Read", value=f"{said}, counts as {counted} {out}" if counted else said)


def _error_in_unit(
    point: Point, inputs: tuple[Given, ...], judged: str, unit: str, limit: str
) -> Explanation:
    """Return how an error comes about that is said in the unit that is read."""
    said = show_as_read(point.error, point.limit, point.reading)
    return Explanation(
        title="Error",
        result=f"{said} {unit}",
        formula="error = read − ideal",
        worked=f"{judged} {unit} − {show(point.ideal, 4)} {unit} = {said} {unit}",
        inputs=inputs,
        limit=limit,
        source=OPERATIONS["run.evaluate"].source,
    )


def _decision(job: Job, figures: RunFigures, place: int, axis: Axis) -> Explanation:
    judged, budget = figures.decisions[place], figures.budgets[place]
    inputs = tuple(
        Given(
            name=s.name,
            value=f"u = {significant(s.standard_uncertainty, 2)} %, "
            f"{show(s.share_percent, 0)} % of the variance",
        )
        for s in budget.shares
    )
    u = axis.plus_minus(budget.expanded_uncertainty, 3)
    in_unit = "" if axis.unit == PERCENT else f", that is {u}"
    return Explanation(
        title="Uncertainty and decision",
        result=f"{OUTCOMES[judged.outcome]}; outside with a probability of "
        f"{probability(judged.probability_outside)}",
        formula=OPERATIONS["uncertainty.combine"].formula
        + "; "
        + OPERATIONS["decision.assess"].formula,
        worked=f"u = {significant(budget.standard_uncertainty, 3)} %, k = {show(budget.k, 3)}, "
        f"U = {significant(budget.expanded_uncertainty, 3)} % of span{in_unit}",
        inputs=inputs,
        limit=f"{RULES[job.settings.rule]}; {_accepted(judged.acceptance_limit, axis)}",
        source=OPERATIONS["uncertainty.combine"].source
        + "; "
        + OPERATIONS["decision.assess"].source,
    )


def _accepted(limit: float | None, axis: Axis) -> str:
    if limit is None:
        return "nothing passes outright: U is as large as the limit"
    if axis.unit == PERCENT:
        return f"accepted up to ±{show(limit, 3)} % of span"
    return f"accepted up to {axis.plus_minus(limit, 3)}"


def _hop(found: tuple[Station, ...], name: str, limit: str) -> Explanation:
    station = next((s for s in found if s.id == name), found[0])
    return Explanation(
        title=station.label,
        result=f"{station.value} {station.unit}"
        + (f", adds {station.error} of span" if station.error else ""),
        formula=OPERATIONS["chain.locate"].formula,
        worked=f"expected from the station before: {station.expected} {station.unit}"
        if station.expected
        else station.remark,
        inputs=tuple(Given(name=s.label, value=f"{s.value} {s.unit}") for s in found[:-1]),
        limit=limit,
        source=OPERATIONS["chain.locate"].source,
    )


def _summary(job: Job, figures: RunFigures, name: str) -> Explanation | None:
    if name not in SUMMARY or figures.result is None:
        return None
    title, formula = SUMMARY[name]
    value = getattr(figures.result.summary, f"{name}_percent")
    if value is None:
        return None
    return Explanation(
        title=title,
        result=f"{show(value, 3, sign=True)} % of span",
        formula=formula,
        worked=f"over {len(figures.order)} readings",
        inputs=tuple(
            Given(
                name=f"{'▲' if p.direction == 'up' else '▼'} {show(p.nominal_percent, 0)} %",
                value=f"{show(p.error_percent_of_span, 3, sign=True)} %",
            )
            for p in figures.result.points
        ),
        limit="",
        source=OPERATIONS["run.evaluate"].source,
    )
