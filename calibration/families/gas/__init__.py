"""Gas detectors, fixed and portable: bump checks, zero and span, rounds, receiving."""

from __future__ import annotations

from calibration.detector.cause_rows import ROWS
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.history import title_of
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
from calibration.families.gas import (
    admit,
    admit_set,
    alarms,
    at_rest,
    breathed,
    events,
    exposed,
    exposure,
    forcing,
    heads,
    learnt,
    ledger,
    proven,
    pumped,
    sections,
    since,
    task,
)
from calibration.families.gas.bump import GAS_BUMP, GAS_BUMP_1
from calibration.families.gas.causes import in_doubt
from calibration.families.gas.facts import Detector, channels
from calibration.families.gas.fixed import (
    GAS_INFRARED,
    GAS_OXYGEN,
    GAS_TWO_CHANNEL,
    GAS_ZERO_SPAN,
)
from calibration.families.gas.gases import fit_of, left_on, needs_l
from calibration.families.gas.judge import DetectorJudge
from calibration.families.gas.kinds import GAS, of_cylinder
from calibration.families.gas.ledger import gas_of
from calibration.families.gas.portable import GAS_PORTABLE, GAS_RECEIVING
from calibration.families.gas.rig import DetectorRig
from calibration.families.gas.shape import DetectorShape
from calibration.families.gas.templates import TEMPLATES
from calibration.families.gas.view import output_words, plate, range_words, span_words
from calibration.kernel.rounding import show

_STANDS = "Gas was on or off at that time; that cannot be taken back. Shut or open it anew."


def _set_done(job: Reads, step: Step) -> bool:
    part = gas_of(job.ledger)
    return (step.id in part.set_now or step.id in part.kept) and not left_on(job.ledger, step)


def _cylinder_words(job: Reads, role: KitRole, asset: AssetFacts) -> tuple[str, str, str]:
    fit = fit_of(job, role, asset)
    return fit.shown, f"{show(needs_l(job, role.id), 1)} L set aside", fit.remark


def _one(facts: InstrumentFacts, *principles: str) -> bool:
    gases = channels(facts)
    return len(gases) == 1 and (not principles or gases[0].principle in principles)


FAMILY = Family(
    id="gas_detectors",
    title="Gas detectors",
    methods=(
        GAS_BUMP_1,
        GAS_BUMP,
        GAS_ZERO_SPAN,
        GAS_INFRARED,
        GAS_OXYGEN,
        GAS_TWO_CHANNEL,
        GAS_PORTABLE,
        GAS_RECEIVING,
        *since.METHODS,
        *pumped.METHODS,
        *at_rest.METHODS,
        *proven.METHODS,
        *heads.METHODS,
        *breathed.METHODS,
    ),
    claims=lambda facts: "channels" in facts.own.values,
    templates=TEMPLATES,
    fits=(
        Fit(
            GAS_TWO_CHANNEL.id,
            lambda f: len(channels(f)) == 2 and f.output_unit == "mA",
            "two sensors, each with its own gas",
        ),
        Fit(
            heads.GAS_TWO_HEADS.id,
            lambda f: len(channels(f)) == 2 and f.output_unit in ("mA", "gas"),
            "two sensors in a fixed box: read, and set there and then",
            rank=2,
        ),
        Fit(
            GAS_PORTABLE.id,
            lambda f: f.output_unit != "mA",
            "a portable with its own display",
        ),
        Fit(
            GAS_RECEIVING.id,
            lambda f: f.output_unit != "mA",
            "a portable that is new or back from repair",
        ),
        Fit(
            GAS_OXYGEN.id,
            lambda f: _one(f) and channels(f)[0].gas == "oxygen",
            "it measures oxygen",
        ),
        Fit(
            GAS_INFRARED.id,
            lambda f: _one(f, "infrared"),
            "an infrared head: only its zero is set",
        ),
        Fit(
            GAS_ZERO_SPAN.id,
            lambda f: _one(f, "catalytic", "electrochemical"),
            "zero and span can be set",
        ),
        Fit(
            heads.GAS_HEAD.id,
            lambda f: _one(f, "catalytic", "electrochemical", "infrared"),
            "each gas is opened once: read, and set there and then",
            rank=1,
        ),
        Fit(
            GAS_BUMP.id,
            lambda f: _one(f) and f.output_unit == "mA" and channels(f)[0].gas != "oxygen",
            "a quick proof that it answers",
        ),
    ),
    facts=Detector,
    assets={
        "gas": AssetKind(
            title="Cylinder of calibration gas",
            measures="",
            admit=forcing.cylinder_chosen,
            words=_cylinder_words,
            contributions=of_cylinder,
        )
    },
    events={
        "gas_on": EventKind(
            content=events.GasOn,
            add=ledger.add_on,
            admit=admit.gas_on,
            words=sections.opened_in_words,
            stands=_STANDS,
        ),
        "gas_off": EventKind(
            content=events.GasOff,
            add=ledger.add_off,
            admit=admit.gas_off,
            words=lambda ledger, content: "Gas off",
            stands=_STANDS,
        ),
        "gas_set": EventKind(
            content=events.GasSet,
            add=ledger.add_set,
            admit=admit_set.gas_set,
            words=sections.set_in_words,
            sets="table",
        ),
        "gas_kept": EventKind(
            content=events.GasKept,
            add=ledger.add_kept,
            admit=admit_set.gas_kept,
            words=lambda ledger, content: f"{title_of(ledger.method, content.step)}: left as it is",
        ),
        "exposed": EventKind(
            content=events.Exposed,
            add=exposed.add_exposed,
            admit=exposed.exposed,
            words=exposed.exposed_in_words,
            sets="table",
        ),
        "agreed": EventKind(
            content=events.Agreed,
            add=ledger.add_agreed,
            admit=forcing.agreed,
            words=sections.agreed_in_words,
        ),
    },
    runs={GAS.id: GAS},
    steps={
        "gas_set": StepKind(done=_set_done, sets=True),
        "exposure": StepKind(done=exposure.done, sets=True, reads=exposure.reads),
    },
    shape=DetectorShape(),
    judge=DetectorJudge(),
    causes=ROWS,
    bars=breathed.bars,
    on=task.on,
    to_close=task.to_close,
    heading=task.heading,
    task=task.task,
    states=task.states,
    blocks=task.blocks,
    rig=DetectorRig(),
    covers=lambda job: (*exposure.not_tested(job), *in_doubt(job), *alarms.said(job)),
    lacks=alarms.lacks,
    untested=exposure.untested_gases,
    sections=sections.sections,
    no_sections=sections.NO_SECTIONS,
    said=Said(plate=plate, span=span_words, range=range_words, output=output_words),
    learning=Learning(
        learnt=learnt.responses, remembered=learnt.remembered, courses=learnt.courses
    ),
    supplies=Supplies(drawn=learnt.drawn, aside=learnt.aside),
)
