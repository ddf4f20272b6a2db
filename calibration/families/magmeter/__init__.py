"""Electromagnetic flow meters, verified with a plug-in tester; nothing in them is changed."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from calibration.decisions.uncertainty import Contribution
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.reads import Reads
from calibration.engine.method.family import AssetKind, EventKind, Family, Fit, Said, StepKind
from calibration.engine.method.method import KitRole, Step
from calibration.engine.view.blocks import Row
from calibration.families.magmeter import device_file, entries, events, ledger, task
from calibration.families.magmeter.cause_rows import ROWS
from calibration.families.magmeter.facts import TESTER, MagMeter, Tester, meter, tester
from calibration.families.magmeter.judge import MagJudge
from calibration.families.magmeter.kinds import LINES, OUTPUT
from calibration.families.magmeter.methods import VERIFY
from calibration.families.magmeter.model import MACHINE
from calibration.families.magmeter.powered import VERIFY_POWERED
from calibration.families.magmeter.rig import MagRig, read_lines
from calibration.families.magmeter.shape import MagShape
from calibration.families.magmeter.templates import TEMPLATES
from calibration.families.magmeter.words import Testing
from calibration.kernel.rounding import trimmed
from calibration.simulate.rigs import KINDS


def _chosen(job: Reads, role: KitRole, asset: AssetFacts, reason: str) -> None:
    tester(asset)


def _words(job: Reads, role: KitRole, asset: AssetFacts) -> tuple[str, str, str]:
    own = tester(asset)
    return f"±{trimmed(own.uncertainty_percent)} % {own.program}".strip(), "", ""


def _none(facts: InstrumentFacts, asset: AssetFacts, applied: Decimal) -> tuple[Contribution, ...]:
    """Return nothing: the budget of each line holds the tester."""
    return ()


def _lines(asset: AssetFacts) -> tuple[Row, ...]:
    own = tester(asset)
    return (Row(label="Measures", value=f"±{trimmed(own.uncertainty_percent)} %"),)


def _plate(facts: InstrumentFacts) -> tuple[Row, ...]:
    own = meter(facts)
    return (
        Row(label="Build", value=f"{own.build}, {trimmed(own.size_mm)} mm"),
        Row(label="Test", value=f"{len(own.lines)} lines with stored values"),
    )


def _read(step: Step) -> tuple[str, ...]:
    return ("as_found",) if isinstance(step, Testing) else ()


RIG = MagRig(MACHINE, asks=task.task)
KINDS[MACHINE.kind] = replace(KINDS[MACHINE.kind], task=read_lines)
FAMILY = Family(
    id="magnetic_flow_meters",
    title="Electromagnetic flow meters",
    methods=(VERIFY, VERIFY_POWERED),
    claims=lambda facts: "conductivity_us_cm" in facts.own.values,
    templates=TEMPLATES,
    fits=(Fit(VERIFY.id, lambda facts: True, "its stored values are on record"),),
    facts=MagMeter,
    assets={
        TESTER: AssetKind(
            title="Plug-in tester for flow meters",
            measures="%",
            facts=Tester,
            admit=_chosen,
            words=_words,
            contributions=_none,
            lines=_lines,
        )
    },
    events={
        "plugged": EventKind(
            content=events.Plugged,
            add=ledger.add_plugged,
            admit=entries.plugged,
            words=entries.plugged_in_words,
        ),
        "lines_read": EventKind(
            content=events.LinesRead,
            add=ledger.add_lines,
            admit=entries.lines,
            words=entries.lines_in_words,
        ),
    },
    runs={LINES.id: LINES, OUTPUT.id: OUTPUT},
    steps={
        "plugging": StepKind(done=entries.all_plugged),
        "testing": StepKind(done=entries.tested, reads=_read),
    },
    shape=MagShape(),
    judge=MagJudge(),
    causes=ROWS,
    heading=task.heading,
    task=task.task,
    blocks=task.blocks,
    filed=device_file.form,
    rig=RIG,
    sections=task.sections,
    said=Said(
        plate=_plate,
        limit="none is claimed: each line against its stored value",
        output=lambda job: "4 to 20 mA",
    ),
)
