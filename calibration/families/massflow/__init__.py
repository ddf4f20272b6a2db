"""Mass flow meters: the zero verified, and the meter proved against a quantity."""

from __future__ import annotations

from decimal import Decimal

from calibration.decisions.uncertainty import Contribution
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.reads import Reads
from calibration.engine.method.family import AssetKind, Family, Fit, Said, StepKind
from calibration.engine.method.method import KitRole, Step
from calibration.engine.view.blocks import Row
from calibration.families.massflow import task
from calibration.families.massflow.cause_rows import ROWS
from calibration.families.massflow.facts import QUANTITY, MassFlow, Quantity, meter, quantity
from calibration.families.massflow.judge import MassFlowJudge
from calibration.families.massflow.kinds import LIVE_ZERO, PROVED_RUNS
from calibration.families.massflow.methods import PROVE, VERIFY_ZERO
from calibration.families.massflow.model import MACHINE
from calibration.families.massflow.shape import MassFlowShape, covers
from calibration.families.massflow.templates import TEMPLATES
from calibration.families.massflow.words import ATTEMPTS
from calibration.families.shared import setting
from calibration.kernel.errors import InputError
from calibration.kernel.rounding import trimmed
from calibration.simulate.machine import Follows

#: The error accepted is at least so many times the uncertainty of the quantity.
RATIO = 3


def _words(job: Reads, role: KitRole, asset: AssetFacts) -> tuple[str, str, str]:
    own = quantity(asset)
    return (
        f"{own.reference_is}, ±{trimmed(own.uncertainty_percent)} %",
        f"{trimmed(_ratio(job, asset))} to 1",
        _doubt(job, asset),
    )


def _ratio(job: Reads, asset: AssetFacts) -> Decimal:
    accepted = meter(job.ledger.facts).prove_percent
    return (accepted / quantity(asset).uncertainty_percent).quantize(Decimal("0.1"))


def _doubt(job: Reads, asset: AssetFacts) -> str:
    if _ratio(job, asset) >= RATIO:
        return ""
    return f"Less than {RATIO} times better than what is accepted of the meter."


def _chosen(job: Reads, role: KitRole, asset: AssetFacts, reason: str) -> None:
    """Ask for a reason where a reference is hardly better than the meter."""
    if _doubt(job, asset) and not reason.strip():
        raise InputError(
            "reference.not_adequate",
            "data.reason",
            f"{asset.asset}: {_doubt(job, asset)}",
            "Choose another one, or say why this one is used.",
        )


def _none(facts: InstrumentFacts, asset: AssetFacts, applied: Decimal) -> tuple[Contribution, ...]:
    """Return nothing: the budget of the runs holds the reference as a whole."""
    return ()


def _lines(asset: AssetFacts) -> tuple[Row, ...]:
    own = quantity(asset)
    return (
        Row(label="Quantity", value=f"{own.reference_is}, ±{trimmed(own.uncertainty_percent)} %"),
    )


def _plate(facts: InstrumentFacts) -> tuple[Row, ...]:
    own = meter(facts)
    return (
        Row(label="Zero stability", value=f"{trimmed(own.zero_stability)} kg/h"),
        Row(
            label="Flow",
            value=f"{trimmed(own.minimum_flow)} to {trimmed(own.normal_flow)} kg/h",
        ),
    )


def _zeroed(job: Reads, step: Step) -> bool:
    return setting.done(job, step) or setting.tries_left(job, step.id, ATTEMPTS) <= 0


FAMILY = Family(
    id="mass_flow_meters",
    title="Mass flow meters",
    methods=(VERIFY_ZERO, PROVE),
    claims=lambda facts: "zero_stability" in facts.own.values,
    templates=TEMPLATES,
    fits=(
        Fit(VERIFY_ZERO.id, lambda facts: True, "its zero is verified while nothing flows"),
        Fit(PROVE.id, lambda facts: True, "it is proved against a quantity", rank=1),
    ),
    facts=MassFlow,
    assets={
        QUANTITY: AssetKind(
            title="Scale or meter that says a quantity",
            measures="kg",
            facts=Quantity,
            admit=_chosen,
            words=_words,
            contributions=_none,
            lines=_lines,
        ),
    },
    events={"zeroed": setting.EVENT},
    runs={LIVE_ZERO.id: LIVE_ZERO, PROVED_RUNS.id: PROVED_RUNS},
    steps={setting.KIND: StepKind(done=_zeroed, sets=True)},
    shape=MassFlowShape(),
    covers=covers,
    judge=MassFlowJudge(),
    causes=ROWS,
    heading=task.heading,
    task=task.task,
    blocks=task.blocks,
    rig=Follows(MACHINE, tells=("zeroed",), asks=task.task),
    sections=task.sections,
    said=Said(plate=_plate, output=lambda job: "own display"),
)
