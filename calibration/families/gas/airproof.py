"""Whether the air around is good air: without a proof nobody knows what oxygen should read in it.

A detector that people rely on is never set to 20.9 because it stands in "air".
"""

from __future__ import annotations

import math
from decimal import Decimal

from calibration.engine.job.ledger import Ledger
from calibration.kernel.numbers import from_float, parse_decimal, to_float
from calibration.kernel.rounding import fixed, trimmed

#: Steps in which the air is proven: beside a fixed detector; by the place of a portable.
PROOF, PLACE = "air_proof", "air_place"
#: Fields: which other instrument, and what it reads in the same air. [% vol]
INSTRUMENT, READS = "beside_instrument", "beside_reads"
#: Oxygen in dry air, and how far good air may read from it. [% vol]
DRY, NEAR = Decimal("20.9"), Decimal("0.5")
#: Standard atmosphere. [hPa]
ATMOSPHERE_HPA = 1013.25


def asked(ledger: Ledger) -> bool:
    """Tell whether the method asks for a proof of the air; those of before did not."""
    return any(step.id in (PROOF, PLACE) for step in ledger.method.steps)


def _noted(ledger: Ledger, field: str) -> str:
    return next((v for (_, name), (v, _) in ledger.recorded.items() if name == field), "")


def oxygen_of_moist_air(temperature_c: float, humidity_percent: float) -> Decimal:
    """Return what humid air holds of oxygen. [% vol]

    Parameters
    ----------
    temperature_c : float
        Temperature of the air. [°C]
    humidity_percent : float
        Relative humidity. [%]

    Returns
    -------
    Decimal
        Oxygen, one decimal. [% vol]

    References
    ----------
    Saturation pressure over water by WMO-No. 8, annex 4.B: 6.112·exp(17.62 t/(243.12 + t)) hPa.

    Examples
    --------
    >>> oxygen_of_moist_air(30.0, 80.0)
    Decimal('20.2')
    """
    steam = 6.112 * math.exp(17.62 * temperature_c / (243.12 + temperature_c))
    share = humidity_percent / 100 * steam / ATMOSPHERE_HPA
    return fixed(DRY * (1 - from_float(share)), 1)


def holds(ledger: Ledger) -> Decimal:
    """Return what good air holds here: less where its moisture was noted. [% vol]"""
    warm, moist = _noted(ledger, "temperature"), _noted(ledger, "humidity")
    if not asked(ledger) or not warm or not moist:
        return DRY
    return oxygen_of_moist_air(
        to_float(parse_decimal(warm, "data.temperature")),
        to_float(parse_decimal(moist, "data.humidity")),
    )


def good(ledger: Ledger, reading: Decimal) -> bool:
    """Tell whether a reading may be that of good air: 20.4 to 21.4 where it is dry."""
    return abs(reading - holds(ledger)) <= NEAR


def answered(ledger: Ledger) -> bool:
    """Tell whether the question of the air was answered: by a reading, or that there is none."""
    return bool(_noted(ledger, READS)) or ledger.not_here(PROOF)


def read_beside(ledger: Ledger) -> Decimal | None:
    """Return what another instrument reads in the same air; none where none was read. [% vol]"""
    seen = _noted(ledger, READS)
    return parse_decimal(seen, f"data.{READS}") if seen else None


def doubt(ledger: Ledger, other: Decimal | None = None) -> str:
    """Return why nothing may be set in the air around; empty where it is proven.

    ``other``: what another instrument reads beside it, where that is said with the reading.
    """
    name = _noted(ledger, INSTRUMENT)
    other = read_beside(ledger) if other is None else other
    if other is None or not name.strip():
        return (
            "The air is not proven: nobody knows what oxygen should read in it. Read another "
            "instrument beside it, or take bottled air."
        )
    if not good(ledger, other):
        kind = "poor" if other < holds(ledger) else "rich"
        return (
            f"{name} reads {trimmed(other)} % vol in the same air: the air is {kind}, or {name} is "
            "wrong. Nothing is set in it."
        )
    return ""


def proven_by(ledger: Ledger) -> str:
    """Return by what the air was proven, in words; empty where it was not."""
    if doubt(ledger):
        return ""
    return f"{_noted(ledger, INSTRUMENT)}, which reads {_noted(ledger, READS)} % vol beside it"
