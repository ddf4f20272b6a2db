"""pH analyzers: calibrate with buffers, check only."""

from __future__ import annotations

from datetime import date

from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.reads import Reads
from calibration.engine.method.family import (
    AssetKind,
    EventKind,
    Family,
    Fit,
    Learning,
    Said,
    Supplies,
)
from calibration.engine.method.method import KitRole
from calibration.engine.view.blocks import Row
from calibration.families.ph import admit, events, learnt, ledger, sections, task
from calibration.families.ph.cause_rows import ROWS
from calibration.families.ph.facts import BOTTLE, THERMOMETER, Analyzer, Bottle, analyzer, bottle
from calibration.families.ph.judge import ElectrodeJudge
from calibration.families.ph.kinds import BUFFERS, of_bottle, of_thermometer
from calibration.families.ph.methods import PH_BUFFERS, PH_CHECK
from calibration.families.ph.rig import ElectrodeRig
from calibration.families.ph.shape import ElectrodeShape, lacks
from calibration.families.ph.templates import TEMPLATES
from calibration.kernel.rounding import show

_TAKEN = "The analyzer has taken it, and counts with it. Read it and let it be taken anew."
_STANDS = "A portion that was used cannot be poured back. Put it into the right one anew."


def _bottle_words(job: Reads, role: KitRole, asset: AssetFacts) -> tuple[str, str, str]:
    own = bottle(asset)
    said = f"{own.set} {own.nominal}, lot {own.lot}"
    return said, f"±{show(asset.spec.absolute, 2)} pH", admit.doubt(job, asset, job.now.date())


def _lines(asset: AssetFacts) -> tuple[Row, ...]:
    own = bottle(asset)
    return (
        Row(label="Set", value=f"{own.set} {own.nominal}"),
        Row(label="lot", value=own.lot),
        Row(label="opened", value=own.opened_on or "not yet"),
    )


def _thermometer_words(job: Reads, role: KitRole, asset: AssetFacts) -> tuple[str, str, str]:
    return asset.description, f"±{show(asset.spec.absolute, 1)} °C", ""


def _any(job: Reads, role: KitRole, asset: AssetFacts, reason: str) -> None:
    """Admit any thermometer in date."""


def _plate(facts: InstrumentFacts) -> tuple[Row, ...]:
    own = analyzer(facts)
    last = "none known"
    if own.slope_percent is not None and own.offset_mv is not None:
        last = f"{own.slope_percent} %, {own.offset_mv} mV"
    since = date.fromisoformat(own.fitted_on).isoformat() if own.fitted_on else "unknown"
    return (
        Row(label="Process", value=f"pH {own.process_ph} at {own.process_c} °C, {own.mounting}"),
        Row(label="Temperature", value=own.compensation),
        Row(label="Electrode fitted", value=since),
        Row(label="Last slope, offset", value=last),
    )


FAMILY = Family(
    id="ph",
    title="pH analyzers",
    methods=(PH_BUFFERS, PH_CHECK),
    claims=lambda facts: "process_ph" in facts.own.values,
    templates=TEMPLATES,
    fits=(
        Fit(PH_BUFFERS.id, lambda facts: True, "slope and offset can be set with buffers"),
        Fit(PH_CHECK.id, lambda facts: True, "read in buffers, nothing changed", rank=1),
    ),
    facts=Analyzer,
    assets={
        BOTTLE: AssetKind(
            title="Bottle of pH buffer",
            measures="pH",
            facts=Bottle,
            admit=admit.bottle_chosen,
            words=_bottle_words,
            contributions=of_bottle,
            fits=admit.fits,
            lines=_lines,
            unit="mL",
        ),
        THERMOMETER: AssetKind(
            title="Thermometer for buffers",
            measures="°C",
            admit=_any,
            words=_thermometer_words,
            contributions=of_thermometer,
        ),
    },
    events={
        "buffer_in": EventKind(
            content=events.Immersed,
            add=ledger.add_immersed,
            admit=admit.immersed,
            words=sections.immersed_in_words,
            stands=_STANDS,
        ),
        "buffer_accepted": EventKind(
            content=events.Accepted,
            add=ledger.add_accepted,
            admit=admit.accepted,
            words=sections.accepted_in_words,
            sets="table",
            stands=_TAKEN,
        ),
    },
    runs={BUFFERS.id: BUFFERS},
    shape=ElectrodeShape(),
    lacks=lacks,
    judge=ElectrodeJudge(),
    causes=ROWS,
    to_close=admit.to_close,
    heading=task.heading,
    task=task.task,
    blocks=task.blocks,
    rig=ElectrodeRig(),
    sections=sections.sections,
    said=Said(plate=_plate),
    learning=Learning(learnt=learnt.lines, remembered=learnt.remembered),
    supplies=Supplies(drawn=sections.drawn),
)
