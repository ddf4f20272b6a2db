"""Which entries at a trace oxygen analyzer may count, and which are asked about."""

from __future__ import annotations

from decimal import Decimal

from calibration.engine.job.events import Event
from calibration.engine.job.facts import AssetFacts
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import KitRole
from calibration.families.trace.bleeding import sides, span_ppm, too_much_left
from calibration.families.trace.facts import regulator, span_gas
from calibration.families.trace.ledger import part_of
from calibration.families.trace.words import Bleeding, SettingSpan
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED
from calibration.kernel.rounding import trimmed

#: A span gas below this share of the range tells little; one beyond it cannot be read. [%]
LEAST_SHARE, MOST_SHARE = Decimal(10), Decimal(100)
#: After it was set it shows the gas within this share of it. [%]
SET_WITHIN = Decimal(10)
MOST_TIMES = 60


def gas_fits(job: Reads, role: KitRole, asset: AssetFacts) -> bool:
    """Tell whether a cylinder lies within the range of the analyzer."""
    facts = job.ledger.facts
    return not _outside(asset, facts.input_upper)


def _outside(asset: AssetFacts, top: Decimal) -> str:
    share = HUNDRED * span_gas(asset).oxygen_ppm / top
    value = trimmed(span_gas(asset).oxygen_ppm)
    if share > MOST_SHARE:
        return f"{value} ppm is past the range of {trimmed(top)} ppm."
    if share < LEAST_SHARE:
        return f"{value} ppm is too little for a range of {trimmed(top)} ppm."
    return ""


def gas_chosen(job: Reads, role: KitRole, asset: AssetFacts, reason: str) -> None:
    """Refuse a cylinder outside the window of the range.

    Raises
    ------
    InputError
        ``gas.outside_range``.
    """
    wrong = _outside(asset, job.ledger.facts.input_upper)
    if wrong:
        raise InputError(
            "gas.outside_range",
            "data.asset",
            f"{asset.asset}: {wrong}",
            "Choose a cylinder between a tenth and all of the range.",
        )


def doubt_of(asset: AssetFacts) -> str:
    """Return what speaks against a regulator; empty when nothing."""
    if regulator(asset).diaphragm == "rubber":
        return "A rubber diaphragm lets oxygen through: take one of metal."
    return ""


def regulator_chosen(job: Reads, role: KitRole, asset: AssetFacts, reason: str) -> None:
    """Ask for a reason where a regulator lets air through.

    Raises
    ------
    InputError
        ``reference.not_adequate``.
    """
    against = doubt_of(asset)
    if against and not reason.strip():
        raise InputError(
            "reference.not_adequate",
            "data.reason",
            f"{asset.asset}: {against}",
            "Choose another regulator, or say why this one is used.",
        )


def bled(job: Reads, event: Event, known: dict[str, Event]) -> None:
    """Refuse filling and venting that is not due, in the wrong order or at no pressure.

    Raises
    ------
    InputError
        ``bleed.not_due``, ``bleed.high_first``, ``number.range``.
    """
    content = event.content
    step = job.step(content.step)
    if not isinstance(step, Bleeding) or job.current is not step:
        raise InputError(
            "bleed.not_due", "data.step", "Nothing is bled there now.", "Go on with the step."
        )
    if not 1 <= content.times <= MOST_TIMES:
        raise InputError(
            "number.range", "data.times", f"{content.times} times?", f"Type 1 to {MOST_TIMES}."
        )
    if not 0 < content.bar <= 300:
        raise InputError(
            "number.range",
            "data.bar",
            f"{content.bar} bar is no pressure to fill it to.",
            "Read the gauge of that side; it shows the pressure above that of the air.",
        )
    high = sides(job)[0]
    if content.side == "low" and high.done < high.wanted:
        raise InputError(
            "bleed.high_first",
            "data.side",
            f"The high side is filled and vented {high.done} of {high.wanted} times.",
            "High side first: else its air goes into the low side.",
        )


def span_set(job: Reads, event: Event, known: dict[str, Event]) -> None:
    """Refuse to set a span that is not due; ask about one that did not take.

    Raises
    ------
    InputError
        ``set.not_due``, ``slip.suspected``.
    """
    content = event.content
    step = job.step(content.step)
    if not isinstance(step, SettingSpan) or job.current is not step:
        raise InputError(
            "set.not_due", "data.step", "No span is set there now.", "Go on with the step."
        )
    value = span_ppm(job.ledger) or Decimal(1)
    off = HUNDRED * (content.after - value) / value
    if abs(off) > SET_WITHIN and not content.kept:
        raise InputError(
            "slip.suspected",
            "data.after",
            f"After it was set it shows {content.after} ppm where the gas is {trimmed(value)}. "
            "Keep it?",
            "Read it once more. Not confirmed in time? Then it was not set: set it again.",
        )


def to_close(job: Reads) -> tuple[str, ...]:
    """Return what the family wants before a signature: no span set with air in the regulator."""
    left = too_much_left(job)
    if part_of(job.ledger).moves and left:
        return (f"A span was set. {left} Bleed it.",)
    return ()


def doubt(job: Reads, asset: AssetFacts) -> str:
    """Return what speaks against a cylinder; empty when nothing."""
    return _outside(asset, job.ledger.facts.input_upper)
