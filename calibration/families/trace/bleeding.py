"""How a regulator is bled: whether it is due, how often, and what is left of the air in it."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from calibration.engine.job.ledger import Ledger
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.families.trace.facts import analyzer, regulator, span_gas
from calibration.families.trace.ledger import part_of
from calibration.families.trace.words import (
    APART,
    BLEED,
    GAS,
    MOUNTED,
    REGULATOR,
    SIDES,
    Side,
)
from calibration.gas.purging import BleedIn, bleed_cycles
from calibration.kernel.numbers import HUNDRED, parse_decimal, to_float
from calibration.kernel.rounding import show

#: Less than this share of the pressure that was left in it: it leaked, and air may be in it.
KEPT_SHARE = Decimal("0.5")
#: A gauge that shows less than this shows nothing. [bar]
NOTHING_BAR = Decimal("0.2")


@dataclass(frozen=True)
class SideOf:
    """One side of a regulator: filled to what, how often it is to be and was, and what is left."""

    side: Side
    bar: Decimal
    wanted: int
    done: int
    residual_ppm: float
    residual_percent: float


def noted(ledger: Ledger, step: str, field: str) -> Decimal | None:
    """Return a number written down in a step; none where it was not."""
    entry = ledger.recorded.get((step, field))
    return None if entry is None else parse_decimal(entry[0], f"data.{field}")


def told(ledger: Ledger, field: str) -> Decimal | None:
    """Return a measurement that tells causes apart, of the test as it is taken now."""
    entry = ledger.recorded.get((APART, field))
    before = ledger.attempts[-1].event.seq if ledger.attempts else 0
    return None if entry is None or entry[1].seq < before else noted(ledger, APART, field)


def span_ppm(ledger: Ledger) -> Decimal | None:
    """Return the oxygen in the span gas; none while no cylinder is chosen. [ppm]"""
    chosen = ledger.kit.get(GAS)
    return span_gas(chosen.asset).oxygen_ppm if chosen is not None else None


def pressure(ledger: Ledger, side: Side) -> Decimal:
    """Return to what a side is filled, by gauge: the cylinder's, or the regulator's. [bar]"""
    if side == "high":
        seen, chosen = noted(ledger, MOUNTED, "high_bar"), ledger.kit.get(GAS)
        known = span_gas(chosen.asset).bar if chosen is not None else Decimal(100)
    else:
        seen, chosen = noted(ledger, MOUNTED, "low_bar"), ledger.kit.get(REGULATOR)
        known = regulator(chosen.asset).low_bar if chosen is not None else Decimal(5)
    return seen if seen is not None and seen > NOTHING_BAR else known


def wanted(ledger: Ledger, settings: Settings, side: Side) -> int:
    """Return how often a side is filled and vented.

    References
    ----------
    :func:`calibration.gas.purging.bleed_cycles`: air of 209 476 ppm, until what is left of it is
    a share of the span gas; at least as often as the manual says.
    """
    asked = to_bleed(ledger, settings, side)
    least = int(settings.number("bleed_least"))
    return least if asked is None else max(least, bleed_cycles(asked).cycles)


def to_bleed(ledger: Ledger, settings: Settings, side: Side) -> BleedIn | None:
    """Return what is asked about the cycles of a side; none while no cylinder is chosen."""
    value = span_ppm(ledger)
    if value is None:
        return None
    return BleedIn(
        fill_bar_abs=to_float(pressure(ledger, side)),
        fill_is="gauge",
        target_ppm=to_float(value * settings.share("bleed_percent")),
    )


def residual_ppm(ledger: Ledger, side: Side) -> float:
    """Return what is left of the air in a side after all that was done. [ppm]"""
    left = 209476.0
    for content, _ in part_of(ledger).bled:
        if content.side == side:
            asked = BleedIn(
                start_ppm=left,
                fill_bar_abs=to_float(content.bar),
                fill_is="gauge",
                cycles=content.times,
            )
            left = bleed_cycles(asked).residual_ppm
    return left


def sides(job: Reads) -> tuple[SideOf, ...]:
    """Return both sides of the regulator, the high one first."""
    value = span_ppm(job.ledger) or Decimal(1)
    found = []
    for side in SIDES:
        left = residual_ppm(job.ledger, side)
        found.append(
            SideOf(
                side=side,
                bar=pressure(job.ledger, side),
                wanted=wanted(job.ledger, job.settings, side),
                done=part_of(job.ledger).times(side),
                residual_ppm=left,
                residual_percent=100 * left / to_float(value),
            )
        )
    return tuple(found)


def why_due(job: Reads) -> str:
    """Return why the regulator is to be bled; empty where it needs not to be.

    What keeps it clean is its outlet valve, shut with pressure inside.
    """
    ledger = job.ledger
    gas, chosen = ledger.kit.get(GAS), ledger.kit.get(REGULATOR)
    if gas is None or chosen is None:
        return "Not known which regulator is on which cylinder."
    if ledger.attempts:
        return "The test is repeated: bled again before anything is set."
    own, last = regulator(chosen.asset), analyzer(ledger.facts)
    gauge = noted(ledger, MOUNTED, "gauge_found")
    if gauge is not None and gauge <= NOTHING_BAR:
        return "Its gauge stood at zero: air came in."
    if own.mounted_on != gas.asset.asset:
        on = f"on {own.mounted_on}" if own.mounted_on else "on no cylinder"
        return f"On record it is {on}: it was changed over."
    if last.bled_with != pair(ledger):
        return f"Mounted since {own.mounted_since or 'nobody knows when'}, and not bled since."
    if own.mounted_since > last.bled_on:
        return f"Mounted anew on {own.mounted_since}, bled last on {last.bled_on}."
    if gauge is not None and last.left_bar is not None and gauge < last.left_bar * KEPT_SHARE:
        was = show(last.left_bar, 1)
        return f"It was left at {was} bar and stands at {show(gauge, 1)}: it leaked."
    return ""


def pair(ledger: Ledger) -> str:
    """Return regulator and cylinder as one name."""
    gas, chosen = ledger.kit.get(GAS), ledger.kit.get(REGULATOR)
    if gas is None or chosen is None:
        return ""
    return f"{chosen.asset.asset} on {gas.asset.asset}"


def left_percent(ledger: Ledger) -> Decimal:
    """Return what is left of the air in both sides, in % of the span gas; none where not due."""
    value = span_ppm(ledger)
    if value is None or not (part_of(ledger).bled or ledger.not_here(BLEED)):
        return Decimal(0)
    left = sum(residual_ppm(ledger, side) for side in SIDES)
    return HUNDRED * Decimal(repr(round(left, 6))) / value


def too_much_left(job: Reads) -> str:
    """Return that the gas is not what the cylinder says, for the air left; empty where it is."""
    left = left_percent(job.ledger)
    if left <= job.settings.number("bleed_percent") * 2:
        return ""
    if left > HUNDRED:
        return "The regulator was not bled: what comes out of it is not known."
    return f"Air is left in the regulator: at most {show(left, 1)} % of the gas."


def done(job: Reads) -> bool:
    """Tell whether both sides were filled and vented as often as wanted."""
    return all(s.done >= s.wanted for s in sides(job))
