"""The figures of one run of a job: errors, hops, uncertainty and decision per point."""

from __future__ import annotations

import math
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from calibration import chain, decision, run, uncertainty
from calibration.numbers import HUNDRED, exceeds, to_float
from calibration.procedure import events as ev
from calibration.procedure.ledger import Ledger, Taken
from calibration.procedure.parameters import Settings
from calibration.procedure.state import Mark
from calibration.reference import limit_of
from calibration.signals import ideal_output
from calibration.units import pressure_factor

_WORST: dict[str, int] = {"none": -1, "within": 0, "near": 1, "outside": 2}


@dataclass(frozen=True)
class RunFigures:
    """One run, evaluated. Lists follow ``order``, the plan indexes that have a reading."""

    plan: tuple[run.PlannedPoint, ...]
    taken: dict[int, Taken]
    order: tuple[int, ...]
    result: run.EvaluateOut | None
    located: chain.LocateOut | None
    budgets: tuple[uncertainty.CombineOut, ...]
    decisions: tuple[decision.AssessOut, ...]
    marks: tuple[Mark, ...]
    mark: Mark

    @property
    def complete(self) -> bool:
        """Tell whether every planned point has a reading."""
        return len(self.order) == len(self.plan)

    @property
    def current(self) -> int:
        """Return the index of the first point without a reading; -1 when complete."""
        return next((i for i in range(len(self.plan)) if i not in self.taken), -1)


def plan_of(ledger: Ledger, settings: Settings) -> tuple[run.PlannedPoint, ...]:
    """Return the test points of the job."""
    facts = ledger.facts
    return run.plan(
        run.PlanIn(
            input_lower=facts.input_lower,
            input_upper=facts.input_upper,
            points=int(settings.number("points")),
            pattern=settings.pattern,
            cycles=int(settings.number("cycles")),
            overshoot_percent=settings.number("overshoot_percent"),
        )
    ).points


def evaluate_run(ledger: Ledger, settings: Settings, name: str) -> RunFigures:
    """Evaluate the readings that stand in one run."""
    plan = plan_of(ledger, settings)
    taken = ledger.readings[name]
    order = tuple(i for i in sorted(taken) if i < len(plan))
    if not order:
        return RunFigures(plan, taken, (), None, None, (), (), (), "none")
    facts = ledger.facts
    readings = tuple(_reading(plan[i], taken[i].content) for i in order)
    result = run.evaluate(
        run.EvaluateIn(
            **_transfer(facts),
            tolerance=facts.tolerance,
            readings=readings,
            adjust_share=settings.share("adjust_share"),
        )
    )
    located = chain.locate(
        chain.LocateIn(
            **_transfer(facts),
            tolerance=facts.tolerance,
            readings=tuple(_stations(taken[i].content) for i in order),
        )
    )
    budgets = tuple(
        budget(ledger, point.applied, point.reading, taken[i].content.steadiness)
        for i, point in zip(order, result.points, strict=True)
    )
    decisions = tuple(
        decision.assess(
            decision.AssessIn(
                error=to_float(p.error_percent_of_span),
                limit=to_float(p.limit_percent),
                expanded_uncertainty=b.expanded_uncertainty,
                k=b.k,
                rule=settings.rule,
            )
        )
        for p, b in zip(result.points, budgets, strict=True)
    )
    shown = _receiver_errors(located, len(order))
    marks = tuple(
        _mark(p, d, settings.rule, r)
        for p, d, r in zip(result.points, decisions, shown, strict=True)
    )
    return RunFigures(
        plan,
        taken,
        order,
        result,
        located,
        budgets,
        decisions,
        marks,
        max(marks, key=lambda m: _WORST[m]),
    )


def _transfer(facts: ev.InstrumentFacts) -> dict[str, Any]:
    return {
        "characteristic": facts.characteristic,
        "input_lower": facts.input_lower,
        "input_upper": facts.input_upper,
        "output_lower": facts.output_lower,
        "output_upper": facts.output_upper,
    }


def _reading(point: run.PlannedPoint, content: ev.ReadingTaken) -> run.Reading:
    return run.Reading(
        nominal_percent=point.nominal_percent,
        applied=content.applied,
        reading=content.reading,
        direction=point.direction,
        cycle=point.cycle,
        noise=content.steadiness.std if content.steadiness else None,
    )


def _stations(content: ev.ReadingTaken) -> chain.ChainReading:
    return chain.ChainReading(
        applied=content.applied,
        digital=content.digital,
        output=content.reading,
        indicated=content.indicated,
    )


def _receiver_errors(located: chain.LocateOut, count: int) -> tuple[Decimal | None, ...]:
    """Return what the receiver adds at each point: the operator acts on what it shows."""
    for hop in located.hops:
        if hop.name in ("receiver", "output_and_receiver"):
            return hop.errors_percent
    return (None,) * count


def _mark(
    point: run.Point, judged: decision.AssessOut, rule: decision.Rule, receiver: Decimal | None
) -> Mark:
    """Join the exact comparison and the site's rule into one of the three marks."""
    if not point.within:
        return "outside"
    if receiver is not None and exceeds(receiver, point.limit_percent, HUNDRED):
        return "outside"
    if rule != "simple" and judged.outcome != "pass":
        return "near"
    return "near" if point.near else "within"


def budget(
    ledger: Ledger, applied: Decimal, reading: Decimal, steadiness: ev.Steadiness | None
) -> uncertainty.CombineOut:
    """Return the uncertainty of the error at one point. [% of span]"""
    facts = ledger.facts
    out_span = abs(to_float(facts.output_upper - facts.output_lower))
    parts: list[uncertainty.Contribution] = []
    source = ledger.kit.get("pressure_reference")
    if source:
        factor = pressure_factor(source.asset.unit, facts.input_unit)
        own = limit_of(source.asset.spec, applied / factor) * factor
        step = source.asset.spec.resolution * factor
        parts.append(_part("Pressure reference", _through(facts, applied, own), "limit"))
        parts.append(
            _part("Resolution of the reference", _through(facts, applied, step), "resolution")
        )
    meter = ledger.kit.get("milliampere_meter")
    if meter:
        scale = 100 / out_span
        parts.append(
            _part("Milliampere meter", scale * float(limit_of(meter.asset.spec, reading)), "limit")
        )
        parts.append(
            _part(
                "Resolution of the meter", scale * float(meter.asset.spec.resolution), "resolution"
            )
        )
    if steadiness and steadiness.samples > 1:
        parts.append(
            uncertainty.Contribution(
                name="Scatter of the reading",
                value=100 * steadiness.std / math.sqrt(steadiness.samples) / out_span,
                kind="type_a",
                dof=steadiness.samples - 1,
            )
        )
    if not parts:
        parts.append(_part("No reference chosen", 0.0, "limit"))
    return uncertainty.combine(uncertainty.CombineIn(contributions=tuple(parts)))


def _part(name: str, value: float, kind: uncertainty.Kind) -> uncertainty.Contribution:
    return uncertainty.Contribution(name=name, value=value, kind=kind)


def _through(facts: ev.InstrumentFacts, applied: Decimal, step: Decimal) -> float:
    """Return what a small input error weighs at the output. [% of span]"""
    transfer = facts.transfer
    moved = ideal_output(transfer, applied + step) - ideal_output(transfer, applied)
    return to_float(abs(HUNDRED * moved / transfer.output_span))
