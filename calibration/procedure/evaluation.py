"""The figures of one run of a job: errors, hops, uncertainty and decision per point."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache
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


@lru_cache(maxsize=256)
def _planned(request: run.PlanIn) -> tuple[run.PlannedPoint, ...]:
    return run.plan(request).points


def plan_of(ledger: Ledger, settings: Settings) -> tuple[run.PlannedPoint, ...]:
    """Return the test points of the job."""
    facts = ledger.facts
    return _planned(
        run.PlanIn(
            input_lower=facts.input_lower,
            input_upper=facts.input_upper,
            points=int(settings.number("points")),
            pattern=settings.pattern,
            cycles=int(settings.number("cycles")),
            overshoot_percent=settings.number("overshoot_percent"),
        )
    )


@dataclass(frozen=True)
class _Question:
    """All that the figures of a run depend on; a run that did not change is not computed again."""

    facts: ev.InstrumentFacts
    kit: tuple[tuple[str, ev.AssetFacts], ...]
    rule: decision.Rule
    adjust_share: Decimal
    points: tuple[run.PlannedPoint, ...]
    contents: tuple[ev.ReadingTaken, ...]


@dataclass(frozen=True)
class _Answer:
    result: run.EvaluateOut
    located: chain.LocateOut
    budgets: tuple[uncertainty.CombineOut, ...]
    decisions: tuple[decision.AssessOut, ...]
    marks: tuple[Mark, ...]


def evaluate_run(ledger: Ledger, settings: Settings, name: str) -> RunFigures:
    """Evaluate the readings that stand in one run."""
    plan = plan_of(ledger, settings)
    taken = ledger.readings[name]
    order = tuple(i for i in sorted(taken) if i < len(plan))
    if not order:
        return RunFigures(plan, taken, (), None, None, (), (), (), "none")
    answer = _evaluate(
        _Question(
            facts=ledger.facts,
            kit=tuple((role, chosen.asset) for role, chosen in ledger.kit.items()),
            rule=settings.rule,
            adjust_share=settings.share("adjust_share"),
            points=tuple(plan[i] for i in order),
            contents=tuple(taken[i].content for i in order),
        )
    )
    return RunFigures(
        plan,
        taken,
        order,
        answer.result,
        answer.located,
        answer.budgets,
        answer.decisions,
        answer.marks,
        max(answer.marks, key=lambda m: _WORST[m]),
    )


@lru_cache(maxsize=512)
def _evaluate(q: _Question) -> _Answer:
    facts, kit = q.facts, dict(q.kit)
    result = run.evaluate(
        run.EvaluateIn(
            **_transfer(facts),
            tolerance=facts.tolerance,
            readings=tuple(_reading(p, c) for p, c in zip(q.points, q.contents, strict=True)),
            adjust_share=q.adjust_share,
        )
    )
    located = chain.locate(
        chain.LocateIn(
            **_transfer(facts),
            tolerance=facts.tolerance,
            readings=tuple(_stations(c) for c in q.contents),
        )
    )
    budgets = tuple(
        budget(facts, kit, p.applied, p.reading, c.steadiness)
        for p, c in zip(result.points, q.contents, strict=True)
    )
    decisions = tuple(
        decision.assess(
            decision.AssessIn(
                error=to_float(p.error_percent_of_span),
                limit=to_float(p.limit_percent),
                expanded_uncertainty=b.expanded_uncertainty,
                k=b.k,
                rule=q.rule,
            )
        )
        for p, b in zip(result.points, budgets, strict=True)
    )
    shown = _receiver_errors(located, len(q.contents))
    marks = tuple(
        _mark(p, d, q.rule, r) for p, d, r in zip(result.points, decisions, shown, strict=True)
    )
    return _Answer(result, located, budgets, decisions, marks)


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
    facts: ev.InstrumentFacts,
    kit: Mapping[str, ev.AssetFacts],
    applied: Decimal,
    reading: Decimal,
    steadiness: ev.Steadiness | None,
) -> uncertainty.CombineOut:
    """Return the uncertainty of the error at one point. [% of span]"""
    out_span = abs(to_float(facts.output_upper - facts.output_lower))
    parts: list[uncertainty.Contribution] = []
    source = kit.get("pressure_reference")
    if source:
        factor = pressure_factor(source.unit, facts.input_unit)
        own = limit_of(source.spec, applied / factor) * factor
        step = source.spec.resolution * factor
        parts.append(_part("Pressure reference", _through(facts, applied, own), "limit"))
        parts.append(
            _part("Resolution of the reference", _through(facts, applied, step), "resolution")
        )
    meter = kit.get("milliampere_meter")
    if meter:
        scale = 100 / out_span
        parts.append(
            _part("Milliampere meter", scale * float(limit_of(meter.spec, reading)), "limit")
        )
        parts.append(
            _part("Resolution of the meter", scale * float(meter.spec.resolution), "resolution")
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
