"""One run as a screen shows it: point table, error picture, figures."""

from __future__ import annotations

from decimal import Decimal

from calibration.decisions.tolerance import limit_at
from calibration.engine.evaluation import RunFigures
from calibration.engine.events import InstrumentFacts
from calibration.engine.job import Job
from calibration.engine.method import RunSpec
from calibration.engine.runfacts import current_at
from calibration.engine.view.pointwords import equivalent_of
from calibration.engine.view.state import Characteristic, Mark, PointState, RunState, Station
from calibration.engine.view.strip import output_label, stations
from calibration.engine.view.verdict import CAUSE_LABELS, probability
from calibration.families.gas.gases import gases_of, role_for
from calibration.families.gas.strip import gas_stations
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, ZERO, exceeds, to_float
from calibration.kernel.rounding import as_typed, decimals_of, show, trimmed
from calibration.signals.transfer import slope_at


def show_error(error: Decimal, limit: Decimal) -> str:
    """Return an error with so many decimals that it is seen on which side of the limit it lies."""
    for decimals in (2, 3, 4, 6):
        text = show(error, decimals, sign=True)
        shown = abs(round(error, decimals))
        if (shown > limit) == (abs(error) > limit) or shown == limit == abs(error):
            return text
    return text


_ORDERS = {"fixed_current": "fix", "gas": "gas"}


def run_state(job: Job, name: str, figures: RunFigures) -> RunState:
    """Return a run for the screen."""
    spec, facts = job.ledger.method.run(name), figures.facts
    flow = job.settings.has("spacing") and job.settings.choice("spacing") == "flow"
    points = tuple(_point(job, spec, name, figures, i, flow) for i in range(len(figures.plan)))
    result = figures.result
    last = figures.order[-1] if figures.order else -1
    newest = max(figures.order, key=lambda i: figures.taken[i].event.seq, default=last)
    if result is not None and figures.complete:
        newest = figures.order[_telling_point(figures, result.summary.worst_point)]
    return RunState(
        id=name,
        title=spec.title + _of_channel(job, spec),
        input_unit=facts.input_unit,
        output_unit=facts.output_unit,
        indicated_unit=facts.shown_unit,
        output_label=output_label(facts),
        error_unit="%" if facts.transfer.curve is None else facts.input_unit,
        order=_ORDERS.get(spec.input, "apply"),  # type: ignore[arg-type]
        scale="percent" if spec.input == "percent" else "input",
        points_to_type=_to_type(spec, facts, _gas_now(job, spec, figures)),
        points=points,
        current=figures.current,
        taken=len(figures.order),
        complete=figures.complete,
        mark=figures.mark,
        worst=f"{show(result.summary.max_error_percent, 2, sign=True)} %" if result else "",
        fit_zero=result.summary.zero_shift_percent if result else 0.0,
        fit_span=result.summary.span_error_percent if result else 0.0,
        fit_text=_fit_text(figures),
        causes=tuple(CAUSE_LABELS[c.cause] for c in figures.causes),
        characteristics=_characteristics(name, figures),
        stations=strip_of(job, name, figures, newest) if newest >= 0 else (),
    )


def _of_channel(job: Job, spec: RunSpec) -> str:
    """Return which gas a run is about, where a detector measures several."""
    channels = job.ledger.facts.channels
    if spec.input != "gas" or len(channels) < 2 or spec.channel >= len(channels):
        return ""
    return f", {channels[spec.channel].gas}"


def _gas_now(job: Job, spec: RunSpec, figures: RunFigures) -> str:
    """Return the gas of the point that comes next; empty where the run has none."""
    gases = gases_of(job.settings, spec) if spec.input == "gas" else ()
    return gases[figures.current] if 0 <= figures.current < len(gases) else ""


def _to_type(spec: RunSpec, facts: InstrumentFacts, gas: str) -> tuple[str, ...]:
    """Return the values that are typed at a point, in their order."""
    if spec.input == "fixed_current":
        return ("reading", "indicated") if facts.indicated else ("reading",)
    if spec.input == "gas":
        digital = ("digital",) if facts.smart and facts.output_unit == "mA" else ()
        shown = ("indicated",) if facts.indicated else ()
        return (*digital, "reading", *shown, *(("t90_s",) if gas == "span" else ()))
    wanted = ["applied", "reading"]
    if facts.smart and spec.input == "instrument":
        wanted.insert(1, "digital")
    if facts.indicated:
        wanted.append("indicated")
    return tuple(wanted)


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
    content = figures.taken[index].content
    spec = job.ledger.method.run(name)
    if spec.input == "gas":
        role = role_for(gases_of(job.settings, spec)[index], spec.channel)
        chosen = job.ledger.kit.get(role)
        return gas_stations(
            figures.facts,
            chosen.asset.asset if chosen is not None and role else "",
            content.applied,
            content.flow,
            job.ledger.facts.channels[spec.channel].flow_l_per_min,
            content.digital,
            content.reading,
            content.indicated,
            f"{name}.points.{index}",
        )
    return stations(
        figures.facts,
        content.applied,
        content.digital,
        content.reading,
        content.indicated,
        f"{name}.points.{index}",
    )


def _fit_text(figures: RunFigures) -> str:
    if figures.result is None or len(figures.order) < 2:
        return ""
    summary = figures.result.summary
    return (
        f"best fit: zero {show(summary.zero_shift_percent, 2, sign=True)} %, "
        f"span {show(summary.span_error_percent, 2, sign=True)} %"
    )


def _gas_label(job: Job, spec: RunSpec, index: int) -> str:
    return {"air": "Air", "zero": "Zero gas", "nitrogen": "Nitrogen"}.get(
        gases_of(job.settings, spec)[index], "Span gas"
    )


def _point(
    job: Job, spec: RunSpec, name: str, figures: RunFigures, index: int, flow: bool
) -> PointState:
    planned = figures.plan[index]
    arrow, percent = "▲" if planned.direction == "up" else "▼", planned.nominal_percent
    approach = trimmed(planned.approach) if planned.approach is not None else ""
    place = figures.order.index(index) if index in figures.taken else -1
    mark: Mark = "none"
    values = {"applied": "", "ideal": "", "reading": "", "digital": "", "indicated": ""}
    error = limit = chance = source = early = event = beside = ""
    error_text = ""
    error_float = 0.0
    facts = figures.facts
    fixed_current = spec.input == "fixed_current"
    target = current_at(facts, planned) if fixed_current else planned.nominal
    span = abs(facts.transfer.output_span)
    limit_float = to_float(100 * limit_at(facts.transfer, facts.tolerance, planned.nominal) / span)
    position = _along(planned.nominal_percent, flow)
    if place >= 0 and figures.result is not None:
        taken, point = figures.taken[index], figures.result.points[place]
        content = taken.content
        values = {
            "applied": as_typed(content.applied),
            "ideal": show(point.ideal, max(3, decimals_of(content.reading))),
            "reading": as_typed(content.reading),
            "digital": as_typed(content.digital) if content.digital is not None else "",
            "indicated": as_typed(content.indicated) if content.indicated is not None else "",
        }
        error = show_error(point.error_percent_of_span, point.limit_percent)
        error_text = error
        if facts.transfer.curve is not None:
            slope = slope_at(facts.transfer, content.applied)
            error_text = show_error(point.error / slope, point.limit / slope)
        limit = f"±{show(point.limit_percent, 2)}"
        mark = figures.marks[place]
        beside = _beside(figures, place, point.limit_percent)
        chance = probability(figures.decisions[place].probability_outside)
        source, early, event = taken.event.source, content.early_reason, taken.event.id
        error_float = to_float(point.error_percent_of_span)
        limit_float = to_float(point.limit_percent)
        share = 100 * (content.applied - facts.input_lower) / facts.transfer.input_span
        position = _along(share, flow)
    return PointState(
        index=index,
        label=_gas_label(job, spec, index)
        if spec.input == "gas"
        else f"{arrow} {trimmed(_flow(planned.nominal_percent) if flow else percent)}",
        direction=planned.direction,
        cycle=planned.cycle,
        target=trimmed(target),
        target_value=format(target, "f"),
        equivalent=equivalent_of(facts, spec, planned),
        stands_for=str(planned.nominal) if fixed_current or spec.input == "gas" else "",
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


def _beside(figures: RunFigures, place: int, limit: Decimal) -> str:
    """Return the error of the control room at a point, where that is what puts it outside."""
    if figures.located is None:
        return ""
    hop = next((h for h in figures.located.hops if h.name == "receiver"), None)
    error = hop.errors_percent[place] if hop is not None else None
    if error is None or not exceeds(error, limit, HUNDRED):
        return ""
    return show(error, 2, sign=True)


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
    entries: list[tuple[str, str, Decimal | float, bool]] = [
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
    )
