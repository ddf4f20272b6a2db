"""Analyzers of several components: zero gas and one mixture, all of it read and set together."""

from __future__ import annotations

from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.reads import Reads
from calibration.engine.method.family import (
    AssetKind,
    AutoChecks,
    EventKind,
    Family,
    Fit,
    Said,
    StepKind,
    Supplies,
)
from calibration.engine.method.method import KitRole, Step
from calibration.engine.view.blocks import Row
from calibration.families.mixture import (
    auto_checks,
    bench_links,
    entries,
    events,
    gases,
    kinds,
    sections,
    task,
)
from calibration.families.mixture.admit import chosen_for, doubt_of, fits
from calibration.families.mixture.cause_rows import ROWS
from calibration.families.mixture.facts import (
    MIXTURE,
    ZERO_GAS,
    Multi,
    components,
    multi,
)
from calibration.families.mixture.judge import MixJudge
from calibration.families.mixture.kinds import MIXTURES
from calibration.families.mixture.methods import MIX_CALIBRATE, MIX_CALIBRATE_1
from calibration.families.mixture.rig import MixRig
from calibration.families.mixture.shape import MixShape
from calibration.families.mixture.templates import TEMPLATES
from calibration.families.shared.contents import Holds, holds, in_words
from calibration.kernel.rounding import trimmed


def _words(job: Reads, role: KitRole, asset: AssetFacts) -> tuple[str, str, str]:
    worst = max((p.uncertainty_percent for p in holds(asset).parts), default=None)
    u = f"parts to ±{trimmed(worst)} %" if worst is not None else "zero gas"
    return in_words(asset), u, doubt_of(job, role, asset)


def _lines(asset: AssetFacts) -> tuple[Row, ...]:
    return (Row(label="Holds", value=in_words(asset)), Row(label="lot", value=holds(asset).lot))


def _plate(facts: InstrumentFacts) -> tuple[Row, ...]:
    rows = [
        Row(label=c.label, value=f"0 to {trimmed(c.upper)} {c.unit}, ±{trimmed(c.limit_percent)} %")
        for c in components(facts)
    ]
    every = multi(facts).auto_zero_minutes
    if every is not None:
        rows.append(Row(label="Automatic zero", value=f"every {trimmed(every)} min"))
    return tuple(rows)


def _span_words(facts: InstrumentFacts) -> str:
    return ", ".join(c.label.lower() for c in components(facts))


def _done(job: Reads, step: Step) -> bool:
    return gases.made(job, step)


FAMILY = Family(
    id="mixture_analyzers",
    title="Analyzers of several components",
    methods=(MIX_CALIBRATE_1, MIX_CALIBRATE),
    claims=lambda facts: "components" in facts.own.values,
    templates=TEMPLATES,
    fits=(Fit(MIX_CALIBRATE.id, lambda facts: True, "its components are in one mixture"),),
    facts=Multi,
    assets={
        MIXTURE: AssetKind(
            title="Cylinder of a mixture",
            measures="% vol",
            asked=("parts", "balance"),
            facts=Holds,
            admit=chosen_for,
            words=_words,
            contributions=kinds.of_mixture,
            fits=fits,
            lines=_lines,
            unit="L",
        ),
        ZERO_GAS: AssetKind(
            title="Zero gas for analyzers",
            measures="% vol",
            asked=("balance",),
            facts=Holds,
            admit=chosen_for,
            words=_words,
            contributions=kinds.of_zero_gas,
            lines=_lines,
            unit="L",
        ),
    },
    events={
        "mixed": EventKind(
            content=events.Mixed,
            add=entries.add_mixed,
            admit=entries.mixed,
            words=entries.mixed_in_words,
            sets="table",
        )
    },
    runs={MIXTURES.id: MIXTURES},
    steps={"together": StepKind(done=_done, sets=True, reads=gases.reads)},
    shape=MixShape(),
    judge=MixJudge(),
    causes=ROWS,
    heading=task.heading,
    task=task.task,
    blocks=task.blocks,
    rig=MixRig(),
    bench=bench_links.bench,
    sections=sections.sections,
    said=Said(
        plate=_plate,
        span=_span_words,
        range=lambda job: _span_words(job.ledger.facts),
        output=lambda job: "own display",
    ),
    supplies=Supplies(drawn=sections.drawn, aside=sections.aside),
    auto=AutoChecks(once=auto_checks.by_itself, acted=auto_checks.acted),
)
