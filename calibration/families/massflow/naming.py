"""What the zero of a mass flow meter, and its runs against a quantity, point to.

Pure: figures in, causes out. Limits are those of physics and of what the readings scatter.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field

from calibration.families.massflow.cause_rows import ROWS
from calibration.families.massflow.tells import TELLS
from calibration.families.shared.differential import Telling
from calibration.families.shared.naming import alike, sure
from calibration.runs.causes import Cause

#: The drive gain of a sound meter stays within this share of what it is in flow.
GAIN_RISES = 1.6
#: Density of one liquid, a few kelvin apart, stays within this. [%]
DENSITY_PERCENT = 0.3
#: The density on record is that of a usual liquid; it stays within this. [%]
RECORD_PERCENT = 1.0
#: A pocket of gas that a pipe of liquid keeps: more than any that is carried along. [%]
POCKET_PERCENT = 8.0
#: Scatter of a live zero against what is usual.
SCATTER_RISES = 2.5
#: Through an opening the flow grows with the root of the pressure: fourfold, double.
LEAK_GROWS = 0.4


@dataclass(frozen=True, kw_only=True)
class Zero:
    """A live zero, and what was seen beside it; flows in kg/h."""

    zero: float
    stability: float
    #: expanded uncertainty of its mean, and scatter of the live value
    u: float
    spread: float
    usual_spread: float
    gain: float
    usual_gain: float
    density: float
    usual_density: float
    #: density on record, of the usual liquid
    record_density: float
    full: float
    apart: Mapping[str, float] = field(default_factory=dict)

    @property
    def outside(self) -> bool:
        """Tell whether the zero is beyond the zero stability."""
        return abs(self.zero) > self.stability

    @property
    def heavier(self) -> float:
        """Return by how much the density is higher than usual. [%]"""
        return 100 * (self.density / self.usual_density - 1)


def causes_of(seen: Zero) -> tuple[Cause, ...]:
    """Return the causes, the likeliest first; of those that look alike all."""
    percent = 100 * seen.zero / seen.full
    if seen.gain > GAIN_RISES * seen.usual_gain:
        return _damped(seen, percent)
    if seen.spread > SCATTER_RISES * seen.usual_spread:
        said = f"The live zero swings by {seen.spread:.2g} kg/h; usual is {seen.usual_spread:.2g}."
        return sure("crosstalk", percent, said, ROWS)
    if seen.outside:
        return _offset(seen, percent)
    if seen.density > seen.record_density * (1 + RECORD_PERCENT / 100):
        return _heavier(seen, percent)
    return ()


def _damped(seen: Zero, percent: float) -> tuple[Cause, ...]:
    """Return what damps the tubes: gas, an empty part, solids."""
    said = (
        f"Drive gain {seen.gain:.1f} %, in flow it is {seen.usual_gain:.1f} %; "
        f"density {seen.heavier:+.2f} %."
    )
    if seen.heavier < -POCKET_PERCENT:
        return sure("not_full", percent, said, ROWS)
    if seen.heavier < -DENSITY_PERCENT:
        return sure("gas_in_it", percent, said, ROWS)
    if seen.heavier > DENSITY_PERCENT:
        return sure("solids_in_it", percent, said, ROWS)
    later = seen.apart.get("density_later")
    if later is None:
        tell = TELLS["density_later"].tells
        return alike(("gas_in_it", "solids_in_it"), percent, said, tell, ROWS)
    name = "gas_in_it" if later > seen.density else "solids_in_it"
    return sure(name, percent, f"{said} Later {later:.1f} kg/m³.", ROWS)


def _offset(seen: Zero, percent: float) -> tuple[Cause, ...]:
    """Return what makes a quiet zero that is off: itself, or a little flow."""
    said = f"Live zero {seen.zero:+.2f} kg/h, steady, gain and density as usual."
    other = seen.apart.get("zero_at_pressure", seen.apart.get("zero_at_other"))
    before, then = seen.apart.get("pressure_before"), seen.apart.get("pressure_other")
    # Jobs of before had it at four times the pressure, by the name of the field.
    ratio = 4.0 if "zero_at_pressure" in seen.apart else _ratio(before, then)
    if other is None or ratio is None:
        tell = TELLS["zero_at_other"].tells
        return alike(("valve_leaks", "zero_moved"), percent, said, tell, ROWS)
    grew = abs(other) - abs(seen.zero)
    said += f" At {ratio:.3g} times the pressure {other:+.2f} kg/h."
    # A turbulent leak grows with the root of the pressure, a laminar one with the pressure itself:
    # the smaller is held against what can be told. U of a difference is √2 U.
    whole = abs(seen.zero) * (math.sqrt(ratio) - 1)
    told = 1.5 * seen.u
    if whole <= 2 * told:
        tell = (
            f"If all of it leaked it would grow by {whole:.2g} kg/h only, and ±{told:.2g} cannot "
            "be told: the pressure must be moved further."
        )
        return alike(("valve_leaks", "zero_moved"), percent, said, tell, ROWS)
    leaks = grew > max(told, LEAK_GROWS * whole)
    return sure("valve_leaks" if leaks else "zero_moved", percent, said, ROWS)


def _ratio(before: float | None, then: float | None) -> float | None:
    """Return by how much the pressure across the valve was raised; none where it was not."""
    if before is None or then is None or before <= 0 or then <= before:
        return None
    return then / before


def _heavier(seen: Zero, percent: float) -> tuple[Cause, ...]:
    """Return why the density is high while the zero is right."""
    more = 100 * (seen.density / seen.record_density - 1)
    said = f"The zero is right; the density is {more:+.2f} % from the record."
    sample = seen.apart.get("sample_density")
    if sample is None:
        tell = TELLS["sample_density"].tells
        return alike(("tube_coated", "another_fluid"), percent, said, tell, ROWS)
    nearer = abs(sample - seen.density) < abs(sample - seen.record_density)
    return sure("another_fluid" if nearer else "tube_coated", percent, said, ROWS)


@dataclass(frozen=True, kw_only=True)
class Proved:
    """Runs against a quantity; errors in %."""

    error: float
    limit: float
    repeatable: bool
    width: float
    apart: Mapping[str, float] = field(default_factory=dict)


def causes_proved(seen: Proved) -> tuple[Cause, ...]:
    """Return the causes of runs that differ, or of a mean that is off."""
    if not seen.repeatable:
        said = f"The runs lie {seen.width:.3f} % apart."
        return sure("runs_differ", seen.error, said, ROWS)
    if abs(seen.error) <= seen.limit:
        return ()
    said = f"All runs repeat; their mean is {seen.error:+.3f} % off."
    off = seen.apart.get("reference_off")
    if off is None:
        tell = TELLS["reference_off"].tells
        return alike(("factor_moved", "quantity_wrong"), seen.error, said, tell, ROWS)
    # A reference that says too much makes the meter look low.
    own = abs(seen.error + off) > abs(seen.error) / 2
    return sure("factor_moved" if own else "quantity_wrong", seen.error, said, ROWS)


def asks(causes: tuple[Cause, ...]) -> tuple[Telling, ...]:
    """Return the measurement that would tell causes apart; none where one stands alone."""
    if len(causes) > 1 and causes[0].cause == "valve_leaks":
        return TELLS["pressure_before"], TELLS["pressure_other"], TELLS["zero_at_other"]
    by = {
        "gas_in_it": "density_later",
        "tube_coated": "sample_density",
        "factor_moved": "reference_off",
    }
    return (TELLS[by[causes[0].cause]],) if len(causes) > 1 else ()
