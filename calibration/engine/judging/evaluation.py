"""The figures of one run of a job: errors, hops, uncertainty and decision per point."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from decimal import Decimal
from functools import lru_cache
from typing import Any

from calibration.decisions import decision, uncertainty
from calibration.decisions.reference import limit_of
from calibration.engine.job import events as ev
from calibration.engine.job.kit import OUTPUT_QUANTITIES, quantity_of, scale_between
from calibration.engine.job.ledger import Ledger, Taken
from calibration.engine.job.parameters import Settings
from calibration.engine.judging.second_look import agreed
from calibration.engine.view.blocks import Mark
from calibration.kernel.numbers import HUNDRED, exceeds, to_float
from calibration.kernel.units import UNITS, convert
from calibration.runs import chain, hop_causes, run
from calibration.runs.causes import TOLD_BY_ONE, Cause
from calibration.runs.points import PlannedPoint
from calibration.signals.transfer import ideal_output

#: by what a reference measures; families join theirs
CONTRIBUTIONS: dict[
    str,
    Callable[[ev.InstrumentFacts, ev.AssetFacts, Decimal], tuple[uncertainty.Contribution, ...]],
] = {}
WORST: dict[str, int] = {"none": -1, "within": 0, "near": 1, "outside": 2}


@dataclass(frozen=True)
class RunFigures:
    """One run, evaluated. Lists follow ``order``, the plan indexes that have a reading."""

    plan: tuple[PlannedPoint, ...]
    taken: dict[int, Taken]
    order: tuple[int, ...]
    result: run.EvaluateOut | None
    located: chain.LocateOut | None
    budgets: tuple[uncertainty.CombineOut, ...]
    decisions: tuple[decision.AssessOut, ...]
    marks: tuple[Mark, ...]
    mark: Mark
    facts: ev.InstrumentFacts
    causes: tuple[Cause, ...] = ()
    #: points that cannot be reached
    left_out: frozenset[int] = frozenset()
    #: what a reading counts as by its plan index, where something was set before it was read
    counted: Mapping[int, Decimal] = field(default_factory=dict)

    @property
    def complete(self) -> bool:
        """Tell whether every planned point has a reading, or cannot be reached."""
        return self.current < 0

    @property
    def current(self) -> int:
        """Return the index of the first point without a reading; -1 when complete."""
        open_ones = (i for i in range(len(self.plan)) if i not in self.taken)
        return next((i for i in open_ones if i not in self.left_out), -1)


def only_told_by_one(figures: RunFigures) -> RunFigures:
    """Return a run that goes on yet, with the causes that one reading alone can tell."""
    return replace(figures, causes=tuple(c for c in figures.causes if c.cause in TOLD_BY_ONE))


@dataclass(frozen=True)
class Question:
    """All that the figures of a run depend on; a run that did not change is not computed again."""

    facts: ev.InstrumentFacts
    kit: tuple[tuple[str, ev.AssetFacts], ...]
    rule: decision.Rule
    adjust_share: Decimal
    cut_off: Decimal
    points: tuple[PlannedPoint, ...]
    contents: tuple[ev.ReadingTaken, ...]
    #: another meter read the same before
    seconded: bool = False


@dataclass(frozen=True)
class Answer:
    """Everything that is computed of some readings."""

    result: run.EvaluateOut
    located: chain.LocateOut
    budgets: tuple[uncertainty.CombineOut, ...]
    decisions: tuple[decision.AssessOut, ...]
    marks: tuple[Mark, ...]
    causes: tuple[Cause, ...]


def evaluate_run(
    ledger: Ledger,
    settings: Settings,
    name: str,
    facts: ev.InstrumentFacts,
    plan: tuple[PlannedPoint, ...],
    kit: Mapping[str, ev.AssetFacts],
    counts: Callable[[Taken], Decimal] = lambda taken: taken.content.reading,
) -> RunFigures:
    """Evaluate the readings that stand in one run, each by what it ``counts`` as."""
    taken = ledger.readings[name]
    order = tuple(i for i in sorted(taken) if i < len(plan))
    if not order:
        return RunFigures(plan, taken, (), None, None, (), (), (), "none", facts)
    counted = {i: counts(taken[i]) for i in order}
    answer = evaluate(
        Question(
            facts=facts,
            kit=tuple(kit.items()),
            rule=settings.rule,
            adjust_share=settings.share("adjust_share"),
            cut_off=settings.number("cut_off") if settings.has("cut_off") else Decimal(0),
            points=tuple(plan[i] for i in order),
            contents=tuple(replace(taken[i].content, reading=counted[i]) for i in order),
            seconded=agreed(ledger, name, facts),
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
        max(answer.marks, key=lambda m: WORST[m]),
        facts,
        answer.causes,
        counted={i: c for i, c in counted.items() if c != taken[i].content.reading},
    )


@lru_cache(maxsize=512)
def evaluate(q: Question) -> Answer:
    """Return errors, hops, uncertainties, decisions and causes of some readings."""
    facts, kit = q.facts, dict(q.kit)
    result = run.evaluate(
        run.EvaluateIn(
            **_transfer(facts),
            tolerance=facts.tolerance,
            readings=tuple(_reading(p, c) for p, c in zip(q.points, q.contents, strict=True)),
            adjust_share=q.adjust_share,
            cut_off_percent=q.cut_off,
            sensor=facts.sensor or None,  # type: ignore[arg-type]
            wires=facts.wires,
            junction_c=facts.junction_c,
        )
    )
    asked = chain.LocateIn(
        **_transfer(facts),
        tolerance=facts.tolerance,
        readings=tuple(_stations(c) for c in q.contents),
        indicated_lower=facts.indicated_lower,
        indicated_upper=facts.indicated_upper,
        indicated_characteristic=facts.indicated_characteristic,
        cut_off_percent=q.cut_off,
    )
    located = chain.locate(asked)
    budgets = tuple(
        budget(facts, kit, p.applied, p.reading, c.steadiness)
        for p, c in zip(result.points, q.contents, strict=True)
    )
    decisions = _decided(result.points, budgets, q.rule)
    shown = _receiver_errors(located, len(q.contents))
    marks = tuple(
        _mark(p, d, q.rule, r) for p, d, r in zip(result.points, decisions, shown, strict=True)
    )
    behind = hop_causes.receiver_cause(asked)
    doubt = None if q.seconded else hop_causes.meter_in_doubt(asked)
    causes = tuple(filter(None, (doubt, behind))) + tuple(
        _rooted(facts, c) for c in result.diagnosis
    )
    return Answer(result, located, budgets, decisions, marks, causes)


def weighed(
    figures: RunFigures,
    settings: Settings,
    parts: Callable[[run.Point], tuple[uncertainty.Contribution, ...]],
) -> RunFigures:
    """Return a run with budgets of the family's own, and what follows from them.

    ``parts`` gives what adds to the uncertainty of the error at a point. [% of span]
    """
    if figures.result is None or figures.located is None:
        return figures
    points, rule = figures.result.points, settings.rule
    budgets = tuple(
        uncertainty.combine(uncertainty.CombineIn(contributions=parts(p))) for p in points
    )
    decisions = _decided(points, budgets, rule)
    shown = _receiver_errors(figures.located, len(points))
    marks = tuple(_mark(p, d, rule, r) for p, d, r in zip(points, decisions, shown, strict=True))
    worst = max(marks, key=lambda m: WORST[m])
    return replace(figures, budgets=budgets, decisions=decisions, marks=marks, mark=worst)


def _decided(
    points: tuple[run.Point, ...],
    budgets: tuple[uncertainty.CombineOut, ...],
    rule: decision.Rule,
) -> tuple[decision.AssessOut, ...]:
    """Return the decision at each point, by the rule of the site."""
    return tuple(
        decision.assess(
            decision.AssessIn(
                error=to_float(p.error_percent_of_span),
                limit=to_float(p.limit_percent),
                expanded_uncertainty=b.expanded_uncertainty,
                k=b.k,
                rule=rule,
            )
        )
        for p, b in zip(points, budgets, strict=True)
    )


def _rooted(facts: ev.InstrumentFacts, found: Cause) -> Cause:
    """Name a wrong characteristic of a flow by what it does: no root at all, or two of them."""
    flow = facts.receiver is not None and (
        facts.characteristic == "square_root" or facts.indicated_characteristic == "square_root"
    )
    if found.cause != "wrong_characteristic" or not flow:
        return found
    twice = facts.characteristic == "linear"
    return replace(
        found,
        cause="root_twice" if twice else "root_missing",
        evidence=found.evidence
        + (
            " The receiver takes the root as well: the flow shown is far too high."
            if twice
            else " The receiver takes none either: the flow shown is far too low."
        ),
    )


def _transfer(facts: ev.InstrumentFacts) -> dict[str, Any]:
    return {
        "characteristic": facts.characteristic,
        "input_lower": facts.input_lower,
        "input_upper": facts.input_upper,
        "output_lower": facts.output_lower,
        "output_upper": facts.output_upper,
    }


def _reading(point: PlannedPoint, content: ev.ReadingTaken) -> run.Reading:
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
    if not point.judged:
        return "none"
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
    for asset in kit.values():
        if asset.quantity in OUTPUT_QUANTITIES and asset.quantity == quantity_of(facts.output_unit):
            factor = scale_between(asset.unit, facts.output_unit)
            scale = 100 / out_span * to_float(factor)
            own = limit_of(asset.spec, reading / factor)
            parts.append(_part(asset.description, scale * float(own), "limit"))
            step = f"Resolution of {asset.asset}"
            parts.append(_part(step, scale * float(asset.spec.resolution), "resolution"))
        elif asset.quantity in CONTRIBUTIONS:
            parts += CONTRIBUTIONS[asset.quantity](facts, asset, applied)
        elif facts.input_unit in UNITS:
            parts += _input_parts(facts, asset, applied)
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


def _input_parts(
    facts: ev.InstrumentFacts, asset: ev.AssetFacts, applied: Decimal
) -> list[uncertainty.Contribution]:
    factor = scale_between(asset.unit, facts.input_unit)
    own = limit_of(asset.spec, convert(applied, facts.input_unit, asset.unit)) * factor
    parts = [_part(asset.description, _through(facts, applied, own), "limit")]
    if asset.spec.resolution:
        step = asset.spec.resolution * factor
        name = f"Resolution of {asset.asset}"
        parts.append(_part(name, _through(facts, applied, step), "resolution"))
    return parts


def _part(name: str, value: float, kind: uncertainty.Kind) -> uncertainty.Contribution:
    return uncertainty.Contribution(name=name, value=value, kind=kind)


def _through(facts: ev.InstrumentFacts, applied: Decimal, step: Decimal) -> float:
    """Return what a small input error weighs at the output. [% of span]"""
    transfer = facts.transfer
    moved = ideal_output(transfer, applied + step) - ideal_output(transfer, applied)
    return to_float(abs(HUNDRED * moved / transfer.output_span))
