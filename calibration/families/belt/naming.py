"""What revolutions without and with weights, and loads of material, point to.

Pure: figures in, causes out.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from calibration.families.belt.cause_rows import ROWS
from calibration.families.belt.tells import TELLS
from calibration.families.shared.differential import Telling
from calibration.families.shared.naming import alike, sure
from calibration.runs.causes import Cause

#: Scatter of revolutions against what is usual.
SCATTER_RISES = 3.0
#: A speed that is shown too low takes one share off zero and span alike, to so much of it.
ALIKE = 0.35
#: No drift takes so much of a span: a cell of the weigh frame, or the speed, is lost. [%]
LOST = 20.0
#: A cell in a frame that carries gives more than this; a speed that is read as it is, is this near.
DEAD_MV, SPEED_NEAR = 1.0, 0.1
#: Idlers in line to this let no tension through. [mm]
IN_LINE_MM = 0.5


@dataclass(frozen=True, kw_only=True)
class Turned:
    """Zero and span in counts a revolution, against the last ones; in % of span and in %."""

    zero_percent: float | None
    span_percent: float | None
    zero_limit: float
    span_limit: float
    #: U (k = 2) of both
    zero_u: float
    span_u: float
    #: range of the revolutions, and what is usual [counts]
    spread: float
    usual_spread: float
    #: counts of the empty belt, as a share of those of the weights
    zero_share: float = 0.5
    #: speed on record [m/s]; 0 where it is not known
    speed: float = 0.0
    apart: Mapping[str, float] = field(default_factory=dict)


def causes_of(seen: Turned) -> tuple[Cause, ...]:
    """Return the causes, the likeliest first; of those that look alike all."""
    zero, span = seen.zero_percent or 0.0, seen.span_percent or 0.0
    zero_off = abs(zero) > max(seen.zero_limit, seen.zero_u)
    span_off = abs(span) > max(seen.span_limit, seen.span_u)
    if seen.spread > SCATTER_RISES * seen.usual_spread:
        said = f"The revolutions lie {seen.spread:.0f} counts apart; usual is "
        said += f"{seen.usual_spread:.0f}."
        return sure("idler_stuck", zero, said, ROWS)
    if span < -LOST:
        return _lost(seen, span)
    as_slip = span * seen.zero_share
    loose = max(ALIKE * abs(as_slip), seen.zero_u)
    if span_off and span < 0 and abs(zero - as_slip) < loose:
        said = f"Zero and weights both count {span:+.2f} %, by one share."
        return sure("belt_slip", span, said, ROWS)
    if zero_off:
        return _zero(seen, zero)
    if span_off:
        return _span(seen, span)
    return ()


def lost(seen: Turned) -> bool:
    """Tell whether so much of the span is gone that nothing may be set."""
    return (seen.span_percent or 0.0) < -LOST


def _lost(seen: Turned, span: float) -> tuple[Cause, ...]:
    said = f"The span lost {-span:.0f} % of itself; no drift takes that."
    speed, signal = seen.apart.get("speed_shown"), seen.apart.get("cell_least_mv")
    slow = speed is not None and seen.speed and speed < seen.speed * (1 - SPEED_NEAR)
    if slow:
        said += f" It takes the speed as {speed:g} of {seen.speed:g} m/s."
        return sure("belt_speed_lost", span, said, ROWS)
    if signal is not None and signal < DEAD_MV:
        said += f" One cell gives {signal:g} mV."
        return sure("belt_cell_lost", span, said, ROWS)
    tell = f"{TELLS['speed_shown'].tells} {TELLS['cell_least_mv'].tells}"
    return alike(("belt_cell_lost", "belt_speed_lost"), span, said, tell, ROWS)


def _zero(seen: Turned, zero: float) -> tuple[Cause, ...]:
    said = f"The zero deviates by {zero:+.2f} % of span."
    cleaned, line = seen.apart.get("zero_cleaned"), seen.apart.get("alignment_mm")
    names: tuple[str, ...] = ("belt_build_up", "belt_tension", "belt_zero_moved")
    if zero < 0:
        names = ("belt_tension", "belt_zero_moved")
    if cleaned is None or line is None:
        tell = f"{TELLS['zero_cleaned'].tells} {TELLS['alignment_mm'].tells}"
        return alike(names, zero, said, tell, ROWS)
    if abs(cleaned) < abs(zero) / 2:
        return sure("belt_build_up", zero, f"{said} Cleaned {cleaned:+.2f} %.", ROWS)
    if line > IN_LINE_MM:
        return sure("belt_tension", zero, f"{said} Idlers {line:.1f} mm out of line.", ROWS)
    return sure("belt_zero_moved", zero, said, ROWS)


def _span(seen: Turned, span: float) -> tuple[Cause, ...]:
    said = f"The span deviates by {span:+.2f} %; the zero is right."
    seated = seen.apart.get("span_seated")
    if seated is None:
        tell = TELLS["span_seated"].tells
        return alike(("weights_not_seated", "belt_span_moved"), span, said, tell, ROWS)
    gone = abs(seated) < abs(span) / 2
    return sure("weights_not_seated" if gone else "belt_span_moved", span, said, ROWS)


@dataclass(frozen=True, kw_only=True)
class Carried:
    """Loads of material against a truck scale; errors in %."""

    error: float
    limit: float
    u: float
    apart: Mapping[str, float] = field(default_factory=dict)


def causes_carried(seen: Carried) -> tuple[Cause, ...]:
    """Return the causes of loads that are counted wrong."""
    if abs(seen.error) <= max(seen.limit, seen.u):
        return ()
    said = f"Counted {seen.error:+.2f} % against the truck."
    other = seen.apart.get("other_route")
    if other is None:
        tell = TELLS["other_route"].tells
        return alike(("belt_span_moved", "material_lost"), seen.error, said, tell, ROWS)
    same = abs(other - seen.error) < abs(seen.error) / 2
    return sure("belt_span_moved" if same else "material_lost", seen.error, said, ROWS)


def asks(causes: tuple[Cause, ...]) -> tuple[Telling, ...]:
    """Return the measurements that would tell causes apart; none where one stands alone."""
    if len(causes) < 2:
        return ()
    names = {c.cause for c in causes}
    if "belt_cell_lost" in names:
        return TELLS["speed_shown"], TELLS["cell_least_mv"]
    if "material_lost" in names:
        return (TELLS["other_route"],)
    if "weights_not_seated" in names:
        return (TELLS["span_seated"],)
    return TELLS["zero_cleaned"], TELLS["alignment_mm"]
