"""What the lines of a plug-in tester point to, taken together.

Pure: figures in, causes out.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from calibration.families.magmeter.cause_rows import ROWS
from calibration.families.magmeter.tells import TELLS
from calibration.families.shared.differential import Telling
from calibration.families.shared.naming import alike, sure
from calibration.runs.causes import Cause

#: Copper changes by so much of its value at 20 °C. [1/°C] IEC 60028
COPPER = 0.00393
#: So much of what a line is off must be explained.
EXPLAINS = 0.5


@dataclass(frozen=True, kw_only=True)
class Line:
    """One line as it was measured; copper already turned to 20 °C."""

    id: str
    label: str
    part: str
    kind: str
    passed: bool
    #: share of its limit, signed [%]; and how far it is off [% of the stored value]
    share: float
    off_percent: float
    copper: bool = False


@dataclass(frozen=True, kw_only=True)
class Tested:
    """All lines, and what was measured to tell causes apart."""

    lines: tuple[Line, ...]
    #: temperature of the coil as it was written down, and the usual conductivity
    coil_c: float
    conductivity: float
    apart: Mapping[str, float] = field(default_factory=dict)


def causes_of(seen: Tested) -> tuple[Cause, ...]:
    """Return the causes of the lines that fail, the worst first; of those that look alike both."""
    failed = sorted((x for x in seen.lines if not x.passed), key=lambda x: -abs(x.share))
    found: list[Cause] = []
    for line in failed:
        for cause in _of(seen, line):
            if cause.cause not in {c.cause for c in found}:
                found.append(cause)
        if len(found) > 1:
            break
    return tuple(found)


def _of(seen: Tested, line: Line) -> tuple[Cause, ...]:
    said = f"{line.label}: {line.share:+.0f} % of its limit."
    if line.kind == "yes_no":
        said = f"{line.label}: no."
    if line.part == "coil":
        return _coil(seen, line, said)
    if line.part == "electrode":
        return _electrode(seen, line, said)
    name = "mag_output_off" if line.part == "output" else "mag_electronics"
    return sure(name, line.share, said, ROWS)


def _coil(seen: Tested, line: Line, said: str) -> tuple[Cause, ...]:
    if line.kind == "at_least":
        return sure("coil_wet", line.share, said, ROWS)
    if not line.copper:
        return sure("magnet_weak", line.share, said, ROWS)
    said += f" Turned to 20 °C it is {line.off_percent:+.1f} % off."
    now = seen.apart.get("coil_c_checked")
    if now is None:
        return alike(
            ("coil_shorted", "coil_warm"), line.share, said, TELLS["coil_c_checked"].tells, ROWS
        )
    # What the right temperature takes of what it is off.
    explained = 100 * COPPER * (now - seen.coil_c)
    warm = abs(line.off_percent - explained) < EXPLAINS * abs(line.off_percent)
    return sure("coil_warm" if warm else "coil_shorted", line.share, said, ROWS)


def _electrode(seen: Tested, line: Line, said: str) -> tuple[Cause, ...]:
    if line.kind == "at_least":
        return sure("electrode_wet", line.share, said, ROWS)
    now = seen.apart.get("conductivity_now")
    if now is None:
        names = ("electrode_coated", "liquid_conducts_less")
        return alike(names, line.share, said, TELLS["conductivity_now"].tells, ROWS)
    explained = 100 * (seen.conductivity / now - 1) if now > 0 else 0.0
    other = abs(line.off_percent - explained) < EXPLAINS * abs(line.off_percent)
    return sure("liquid_conducts_less" if other else "electrode_coated", line.share, said, ROWS)


def asks(causes: tuple[Cause, ...]) -> tuple[Telling, ...]:
    """Return the measurement that would tell causes apart; none where one stands alone."""
    names = {c.cause for c in causes}
    if {"coil_shorted", "coil_warm"} <= names:
        return (TELLS["coil_c_checked"],)
    if {"electrode_coated", "liquid_conducts_less"} <= names:
        return (TELLS["conductivity_now"],)
    return ()
