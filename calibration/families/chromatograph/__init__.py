"""Portable gas chromatographs for dissolved gas: pairs of injections, retention, blank."""

from __future__ import annotations

from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.reads import Reads
from calibration.engine.method.family import (
    AssetKind,
    EventKind,
    Family,
    Fit,
    Learning,
    Said,
    StepKind,
    Supplies,
    Validity,
)
from calibration.engine.method.method import KitRole, Step
from calibration.engine.view.blocks import Row
from calibration.families.chromatograph import (
    admit,
    bench_links,
    device_file,
    entries,
    events,
    kinds,
    sections,
    task,
    validity,
)
from calibration.families.chromatograph.cause_rows import ROWS
from calibration.families.chromatograph.facts import (
    CALIBRATION_GAS,
    GAS_SYRINGE,
    GAS_TRAP,
    Chromatograph,
    Syringe,
    Trap,
    chromatograph,
    peaks,
    syringe,
    trap,
)
from calibration.families.chromatograph.injections import reads
from calibration.families.chromatograph.judge import GcJudge
from calibration.families.chromatograph.kinds import INJECTED
from calibration.families.chromatograph.ledger import part_of
from calibration.families.chromatograph.methods import GC_CALIBRATE, GC_CALIBRATE_1
from calibration.families.chromatograph.rig import GcRig
from calibration.families.chromatograph.shape import GcShape
from calibration.families.chromatograph.templates import TEMPLATES
from calibration.families.shared.contents import Holds, holds, in_words
from calibration.kernel.rounding import trimmed

_RUN = "It was injected then; that cannot be taken back. Inject once more where it was wrong."


def _gas_words(job: Reads, role: KitRole, asset: AssetFacts) -> tuple[str, str, str]:
    worst = max((p.uncertainty_percent for p in holds(asset).parts), default=None)
    u = f"parts to ±{trimmed(worst)} %" if worst is not None else ""
    return in_words(asset), u, admit.gas_doubt(job, asset)


def _trap_words(job: Reads, role: KitRole, asset: AssetFacts) -> tuple[str, str, str]:
    opened = trap(asset).opened_on
    said = f"opened {opened}" if opened else "new"
    return said, "", admit.trap_doubt(asset, job.now.date())


def _gas_lines(asset: AssetFacts) -> tuple[Row, ...]:
    return (Row(label="Holds", value=in_words(asset)), Row(label="lot", value=holds(asset).lot))


def _trap_lines(asset: AssetFacts) -> tuple[Row, ...]:
    own = trap(asset)
    return (
        Row(label="opened", value=own.opened_on or "not yet"),
        Row(label="serves", value=f"{trimmed(own.days)} d"),
    )


def _syringe_words(job: Reads, role: KitRole, asset: AssetFacts) -> tuple[str, str, str]:
    said = f"{trimmed(syringe(asset).volume_ml)} mL"
    return said, "", admit.syringe_doubt(asset, job.now.date())


def _syringe_lines(asset: AssetFacts) -> tuple[Row, ...]:
    own = syringe(asset)
    return (
        Row(label="to its mark", value=f"{trimmed(own.volume_ml)} mL"),
        Row(label="seal changed", value=own.seal_on or "not known"),
        Row(label="a seal serves", value=f"{trimmed(own.days)} d"),
    )


def _plate(facts: InstrumentFacts) -> tuple[Row, ...]:
    own = chromatograph(facts)
    rows = []
    if own.valid_on:
        rows.append(Row(label="Calibrated on", value=own.valid_on))
    if own.responses:
        rows.append(Row(label="Response, of the stored", value=own.responses))
    return tuple(rows)


def _span_words(facts: InstrumentFacts) -> str:
    return ", ".join(p.label.lower() for p in peaks(facts))


def _injected(job: Reads, step: Step) -> bool:
    return step.id in part_of(job.ledger).injections


def _stored(job: Reads, step: Step) -> bool:
    return step.id in part_of(job.ledger).stored


FAMILY = Family(
    id="chromatographs",
    title="Portable chromatographs",
    methods=(GC_CALIBRATE_1, GC_CALIBRATE),
    claims=lambda facts: "peaks" in facts.own.values,
    templates=TEMPLATES,
    fits=(Fit(GC_CALIBRATE.id, lambda facts: True, "its components come as peaks"),),
    facts=Chromatograph,
    assets={
        CALIBRATION_GAS: AssetKind(
            title="Calibration gas for chromatographs",
            measures="ppm",
            asked=("parts", "balance"),
            facts=Holds,
            admit=admit.gas_chosen,
            words=_gas_words,
            contributions=kinds.of_gas,
            lines=_gas_lines,
            unit="L",
        ),
        GAS_TRAP: AssetKind(
            title="Trap for clean air",
            measures="ppm",
            facts=Trap,
            admit=admit.trap_chosen,
            words=_trap_words,
            contributions=kinds.of_trap,
            lines=_trap_lines,
        ),
        GAS_SYRINGE: AssetKind(
            title="Gas-tight syringe",
            measures="ppm",
            facts=Syringe,
            admit=admit.syringe_chosen,
            words=_syringe_words,
            contributions=kinds.of_trap,
            lines=_syringe_lines,
        ),
    },
    events={
        "injected": EventKind(
            content=events.Injected,
            add=entries.add_injected,
            admit=entries.injected,
            words=entries.injected_in_words,
            stands=_RUN,
        ),
        "stored": EventKind(
            content=events.Stored,
            add=entries.add_stored,
            admit=entries.stored,
            words=entries.stored_in_words,
            sets="table",
        ),
    },
    runs={INJECTED.id: INJECTED},
    steps={
        "injection": StepKind(done=_injected, reads=reads),
        "storing": StepKind(done=_stored, sets=True),
        # There is no way on but to end the job.
        "no_pair": StepKind(done=lambda job, step: False),
    },
    shape=GcShape(),
    judge=GcJudge(),
    causes=ROWS,
    to_close=admit.to_close,
    heading=task.heading,
    task=task.task,
    blocks=task.blocks,
    filed=device_file.form,
    bench=bench_links.bench,
    rig=GcRig(),
    sections=sections.sections,
    said=Said(
        plate=_plate,
        span=_span_words,
        range=lambda job: _span_words(job.ledger.facts),
        output=lambda job: "own display",
    ),
    learning=Learning(
        learnt=sections.learnt, remembered=sections.remembered, courses=validity.courses
    ),
    supplies=Supplies(drawn=sections.drawn, aside=sections.aside),
    validity=Validity(happenings=validity.HAPPENINGS, standing=validity.standing),
)
