"""Load-cell indicators: set with a load, or only checked."""

from __future__ import annotations

from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.method.family import Family, Fit, Said, StepKind
from calibration.engine.view.blocks import Row
from calibration.families.indicator import task
from calibration.families.indicator.cause_rows import ROWS
from calibration.families.indicator.facts import Indicator, indicator
from calibration.families.indicator.judge import IndicatorJudge
from calibration.families.indicator.kinds import ON_PLATFORM
from calibration.families.indicator.methods import ADJUST, CHECK
from calibration.families.indicator.model import MACHINE
from calibration.families.indicator.shape import IndicatorShape
from calibration.families.indicator.templates import TEMPLATES
from calibration.families.shared import setting, weights
from calibration.kernel.rounding import trimmed
from calibration.simulate.machine import Follows


def _plate(facts: InstrumentFacts) -> tuple[Row, ...]:
    own = indicator(facts)
    return (
        Row(
            label="Cell",
            value=f"{trimmed(own.cell_kg)} kg, {trimmed(own.sensitivity_mv_per_v)} mV/V",
        ),
        Row(label="Step", value=f"{trimmed(own.indicator_step)} kg"),
    )


def _only_checked(facts: InstrumentFacts) -> bool:
    return indicator(facts).never_adjusted


FAMILY = Family(
    id="load_cell_indicators",
    title="Load-cell indicators",
    methods=(ADJUST, CHECK),
    claims=lambda facts: "indicator_step" in facts.own.values,
    templates=TEMPLATES,
    fits=(
        Fit(CHECK.id, _only_checked, "the site only checks it"),
        Fit(ADJUST.id, lambda facts: not _only_checked(facts), "it is set with a load", rank=1),
        Fit(CHECK.id, lambda facts: not _only_checked(facts), "it may also be checked", rank=2),
    ),
    facts=Indicator,
    assets={weights.WEIGHTS: weights.KIND},
    events={"indicator_set": setting.EVENT},
    runs={ON_PLATFORM.id: ON_PLATFORM},
    steps={setting.KIND: StepKind(done=setting.done, sets=True)},
    shape=IndicatorShape(),
    judge=IndicatorJudge(),
    causes=ROWS,
    heading=task.heading,
    task=task.task,
    blocks=task.blocks,
    rig=Follows(MACHINE, tells=("indicator_set",), asks=task.task),
    sections=task.sections,
    said=Said(plate=_plate, output=lambda job: "own display"),
)
