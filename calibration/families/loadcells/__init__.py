"""Tanks and hoppers on load cells: by weights, by substitution, by data and then checked."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.reads import Reads
from calibration.engine.method.family import Family, Fit, Said, StepKind
from calibration.engine.method.method import KitRole
from calibration.engine.view.blocks import Row
from calibration.families.loadcells import task
from calibration.families.loadcells.cause_rows import ROWS
from calibration.families.loadcells.facts import LoadCells, vessel
from calibration.families.loadcells.judge import LoadCellJudge
from calibration.families.loadcells.kinds import LOADS
from calibration.families.loadcells.methods import BY_SUBSTITUTION, BY_THEORY, BY_WEIGHTS
from calibration.families.loadcells.model import MACHINE
from calibration.families.loadcells.shape import LoadCellShape
from calibration.families.loadcells.templates import TEMPLATES
from calibration.families.shared import setting, weights
from calibration.kernel.errors import InputError
from calibration.kernel.rounding import trimmed
from calibration.measuring.weighing import MinimumIn, minimum_weight
from calibration.simulate.machine import Follows


def _doubt(job: Reads, asset: AssetFacts) -> str:
    """Return what speaks against a set: too light for the electronics; empty when nothing."""
    if job.ledger.method.id == BY_THEORY.id:
        return ""
    own, load = vessel(job.ledger.facts), weights.whole_kg(asset)
    asked = MinimumIn(
        cells=own.cells, rated_kg=own.rated_kg, share_percent=own.least_percent, weight_kg=load
    )
    least = minimum_weight(asked)
    if least.enough:
        return ""
    return f"{trimmed(load)} kg is less than the {trimmed(least.minimum_kg)} kg it takes."


def _admit(job: Reads, role: KitRole, asset: AssetFacts, reason: str) -> None:
    """Refuse an empty set; ask for a reason where it is too light."""
    weights.empty_set(asset)
    if _doubt(job, asset) and not reason.strip():
        raise InputError(
            "reference.not_adequate",
            "data.reason",
            f"{asset.asset}: {_doubt(job, asset)}",
            "Choose more weight, take the method by data, or say why this one is used.",
        )


def _words(job: Reads, role: KitRole, asset: AssetFacts) -> tuple[str, str, str]:
    detail, u, _ = weights.KIND.words(job, role, asset)
    return detail, u, _doubt(job, asset)


def _plate(facts: InstrumentFacts) -> tuple[Row, ...]:
    own = vessel(facts)
    return (
        Row(
            label="Cells",
            value=f"{own.cells} × {trimmed(own.rated_kg)} kg, "
            f"{trimmed(own.sensitivity_mv_per_v)} mV/V, {own.wires} wires",
        ),
        Row(label="Empty vessel", value=f"{trimmed(own.dead_load_kg)} kg"),
        Row(label="Step", value=f"{trimmed(own.step_kg)} kg"),
    )


FAMILY = Family(
    id="load_cell_vessels",
    title="Vessels on load cells",
    methods=(BY_WEIGHTS, BY_SUBSTITUTION, BY_THEORY),
    claims=lambda facts: "dead_load_kg" in facts.own.values,
    templates=TEMPLATES,
    fits=(
        Fit(BY_WEIGHTS.id, lambda facts: True, "weights can be hung on it"),
        Fit(BY_SUBSTITUTION.id, lambda facts: True, "it can be filled and emptied", rank=1),
        Fit(BY_THEORY.id, lambda facts: True, "the data of its cells are known", rank=2),
    ),
    facts=LoadCells,
    assets={weights.WEIGHTS: replace(weights.KIND, admit=_admit, words=_words)},
    events={"cells_set": setting.EVENT},
    runs={LOADS.id: LOADS},
    steps={setting.KIND: StepKind(done=setting.done, sets=True)},
    shape=LoadCellShape(),
    judge=LoadCellJudge(),
    causes=ROWS,
    heading=task.heading,
    task=task.task,
    blocks=task.blocks,
    rig=Follows(MACHINE, tells=("cells_set",), asks=task.task),
    covers=task.covers,
    sections=task.sections,
    said=Said(plate=_plate, output=lambda job: "own display"),
)
