"""Belt scales: zero and span with weights under lock-out, commissioning, material tests."""

from __future__ import annotations

from decimal import Decimal

from calibration.decisions.uncertainty import Contribution
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.reads import Reads
from calibration.engine.method.family import AssetKind, Family, Fit, Learning, Said
from calibration.engine.method.method import KitRole
from calibration.engine.view.blocks import Row
from calibration.families.belt import task, validity
from calibration.families.belt.cause_rows import ROWS
from calibration.families.belt.facts import (
    TRUCK_SCALE,
    BeltScale,
    TruckScale,
    belt,
    load_t_h,
    truck_scale,
    turns,
)
from calibration.families.belt.judge import BeltJudge
from calibration.families.belt.kinds import MATERIAL, TURNS
from calibration.families.belt.methods import COMMISSION, MATERIAL_TEST, ROUTINE
from calibration.families.belt.model import MACHINE
from calibration.families.belt.shape import BeltShape
from calibration.families.belt.templates import TEMPLATES
from calibration.families.shared import weights
from calibration.kernel.rounding import show, trimmed
from calibration.simulate.machine import Follows


def _plate(facts: InstrumentFacts) -> tuple[Row, ...]:
    own, out = belt(facts), turns(facts)
    return (
        Row(
            label="Belt",
            value=f"{trimmed(own.belt_length_m)} m at {trimmed(own.belt_speed_m_s)} m/s: "
            f"{out.revolutions} revolutions of {show(out.one_revolution_s, 1)} s",
        ),
        Row(
            label="Test weights",
            value=f"{trimmed(own.test_weight_kg)} kg, {show(load_t_h(facts), 0)} t/h",
        ),
    )


def _chosen(job: Reads, role: KitRole, asset: AssetFacts, reason: str) -> None:
    truck_scale(asset)


def _words(job: Reads, role: KitRole, asset: AssetFacts) -> tuple[str, str, str]:
    return f"±{trimmed(truck_scale(asset).uncertainty_kg)} kg a weighing", "", ""


def _none(facts: InstrumentFacts, asset: AssetFacts, applied: Decimal) -> tuple[Contribution, ...]:
    """Return nothing: the budget of the loads holds the scale as a whole."""
    return ()


def _lines(asset: AssetFacts) -> tuple[Row, ...]:
    return (Row(label="A weighing", value=f"±{trimmed(truck_scale(asset).uncertainty_kg)} kg"),)


FAMILY = Family(
    id="belt_scales",
    title="Belt scales",
    methods=(ROUTINE, COMMISSION, MATERIAL_TEST),
    claims=lambda facts: "belt_length_m" in facts.own.values,
    templates=TEMPLATES,
    fits=(
        Fit(ROUTINE.id, lambda facts: True, "weights can be hung on it"),
        Fit(MATERIAL_TEST.id, lambda facts: True, "material goes over belt and truck", rank=1),
        Fit(COMMISSION.id, lambda facts: True, "the belt or the scale is new", rank=2),
    ),
    facts=BeltScale,
    assets={
        weights.WEIGHTS: weights.KIND,
        TRUCK_SCALE: AssetKind(
            title="Truck scale",
            measures="kg",
            facts=TruckScale,
            admit=_chosen,
            words=_words,
            contributions=_none,
            lines=_lines,
        ),
    },
    runs={TURNS.id: TURNS, MATERIAL.id: MATERIAL},
    shape=BeltShape(),
    judge=BeltJudge(),
    causes=ROWS,
    heading=task.heading,
    task=task.task,
    blocks=task.blocks,
    rig=Follows(MACHINE, asks=task.task),
    sections=task.sections,
    said=Said(plate=_plate, output=lambda job: "own display"),
    learning=Learning(
        learnt=validity.learnt, remembered=validity.remembered, courses=validity.courses
    ),
)
