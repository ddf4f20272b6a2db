"""Trace oxygen analyzers: calibrate in service, and a new sensor."""

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
)
from calibration.engine.method.method import KitRole, Step
from calibration.engine.view.blocks import Row
from calibration.families.trace import (
    admit,
    bench_links,
    bleeding,
    budget,
    events,
    ledger,
    life,
    sections,
    task,
)
from calibration.families.trace.cause_rows import ROWS
from calibration.families.trace.facts import (
    PRESSURE_REGULATOR,
    SPAN_GAS,
    Regulator,
    SpanGas,
    TraceAnalyzer,
    analyzer,
    regulator,
    span_gas,
)
from calibration.families.trace.judge import TraceJudge
from calibration.families.trace.kinds import IN_SPAN_GAS
from calibration.families.trace.ledger import part_of
from calibration.families.trace.methods import (
    NEW_SENSOR,
    NEW_SENSOR_1,
    TRACE_OXYGEN,
    TRACE_OXYGEN_1,
)
from calibration.families.trace.rig import TraceRig
from calibration.families.trace.shape import TraceShape
from calibration.families.trace.templates import TEMPLATES
from calibration.kernel.rounding import trimmed

_VENTED = "It was vented then; that cannot be taken back."


def _gas_words(job: Reads, role: KitRole, asset: AssetFacts) -> tuple[str, str, str]:
    own = span_gas(asset)
    said = f"{trimmed(own.oxygen_ppm)} ppm, lot {own.lot}".removesuffix(", lot ")
    return said, f"±{trimmed(own.uncertainty_percent)} %", admit.doubt(job, asset)


def _gas_lines(asset: AssetFacts) -> tuple[Row, ...]:
    own = span_gas(asset)
    return (
        Row(label="Oxygen in nitrogen", value=f"{trimmed(own.oxygen_ppm)} ppm"),
        Row(label="lot", value=own.lot),
    )


def _regulator_words(job: Reads, role: KitRole, asset: AssetFacts) -> tuple[str, str, str]:
    own = regulator(asset)
    on = f"on {own.mounted_on} since {own.mounted_since}" if own.mounted_on else "on no cylinder"
    return on, f"{own.diaphragm} diaphragm", admit.doubt_of(asset)


def _regulator_lines(asset: AssetFacts) -> tuple[Row, ...]:
    own = regulator(asset)
    return (
        Row(label="on", value=own.mounted_on or "no cylinder"),
        Row(label="since", value=own.mounted_since or "not known"),
    )


def _plate(facts: InstrumentFacts) -> tuple[Row, ...]:
    own = analyzer(facts)
    rows = [
        Row(label="Process", value=f"about {trimmed(own.sample_ppm)} ppm"),
        Row(label="Tubing", value=own.tubing),
        Row(label="Hold-off", value=f"ends by itself after {trimmed(own.holds_minutes)} min"),
        Row(label="Sensor fitted", value=own.fitted_on or "unknown"),
    ]
    if own.response_percent is not None:
        rows.append(Row(label="Response", value=f"{trimmed(own.response_percent)} % of a new one"))
    if own.bled_with:
        rows.append(Row(label="Bled last", value=f"{own.bled_with}, {own.bled_on}".rstrip(", ")))
    return tuple(rows)


def _bled(job: Reads, step: Step) -> bool:
    return bleeding.done(job)


def _set(job: Reads, step: Step) -> bool:
    return step.id in part_of(job.ledger).span


FAMILY = Family(
    id="trace_oxygen_analyzers",
    title="Trace oxygen analyzers",
    methods=(TRACE_OXYGEN_1, TRACE_OXYGEN, NEW_SENSOR_1, NEW_SENSOR),
    claims=lambda facts: "holds_minutes" in facts.own.values,
    templates=TEMPLATES,
    fits=(
        Fit(TRACE_OXYGEN.id, lambda facts: True, "read in span gas in service, set where needed"),
        Fit(NEW_SENSOR.id, lambda facts: True, "its sensor is replaced", rank=1),
    ),
    facts=TraceAnalyzer,
    assets={
        SPAN_GAS: AssetKind(
            title="Cylinder of trace oxygen",
            measures="ppm",
            facts=SpanGas,
            admit=admit.gas_chosen,
            words=_gas_words,
            contributions=budget.of_cylinder,
            fits=admit.gas_fits,
            lines=_gas_lines,
            unit="L",
        ),
        PRESSURE_REGULATOR: AssetKind(
            title="Regulator for trace gas",
            measures="bar",
            facts=Regulator,
            admit=admit.regulator_chosen,
            words=_regulator_words,
            contributions=budget.of_regulator,
            lines=_regulator_lines,
        ),
    },
    events={
        "bled": EventKind(
            content=events.Bled,
            add=ledger.add_bled,
            admit=admit.bled,
            words=sections.bled_in_words,
            stands=_VENTED,
        ),
        "span_set": EventKind(
            content=events.SpanSet,
            add=ledger.add_span,
            admit=admit.span_set,
            words=sections.set_in_words,
            sets="table",
        ),
    },
    runs={IN_SPAN_GAS.id: IN_SPAN_GAS},
    steps={
        "bleeding": StepKind(done=_bled),
        "span_setting": StepKind(done=_set, sets=True),
    },
    shape=TraceShape(),
    judge=TraceJudge(),
    causes=ROWS,
    to_close=admit.to_close,
    heading=task.heading,
    task=task.task,
    blocks=task.blocks,
    bench=bench_links.bench,
    rig=TraceRig(),
    sections=sections.sections,
    said=Said(plate=_plate),
    learning=Learning(learnt=life.lines, remembered=life.remembered, courses=life.courses),
    supplies=Supplies(drawn=sections.drawn, aside=sections.aside),
)
