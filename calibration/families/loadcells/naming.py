"""What weights up and down, corners and the signal of the cells point to.

Pure: figures in, causes out.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from calibration.families.loadcells.cause_rows import ROWS
from calibration.families.loadcells.tells import TELLS
from calibration.families.shared.differential import Telling
from calibration.families.shared.naming import alike, sure
from calibration.runs.causes import Cause

#: A weight over a cell that does not count shows less than this of itself.
GONE = 0.75
HALF = 0.5
#: Insulation below this moves a zero. [MΩ]
DRY_MOHM = 1000.0
#: The signal moved as the display did when it explains at least so much of it.
EXPLAINS = 0.5


@dataclass(frozen=True, kw_only=True)
class Loaded:
    """Weights up and down; in kg."""

    capacity: float
    #: the largest load, what is accepted at it and at zero, and U (k = 2) there
    load: float
    limit: float
    zero_limit: float
    u: float
    zero: float
    span: float
    half_up: float | None = None
    half_down: float | None = None
    rested: float | None = None
    back: float | None = None
    #: by how much more the signal of the cells grew than their data say [%]; none where not read
    signal_percent: float | None = None
    #: each corner: shown of what stood there
    corners: tuple[float, ...] = ()
    corner_percent: float = 0.3
    apart: Mapping[str, float] = field(default_factory=dict)

    @property
    def span_error(self) -> float:
        """Return by how much the load shows too much, its zero taken off. [kg]"""
        return self.span - self.zero - self.load

    @property
    def hysteresis(self) -> float:
        """Return what half the load shows more on the way down. [kg]"""
        if self.half_up is None or self.half_down is None:
            return 0.0
        return self.half_down - self.half_up


def causes_of(seen: Loaded) -> tuple[Cause, ...]:
    """Return the causes, the likeliest first; of those that look alike all."""
    corner = _corners(seen)
    if corner:
        return corner
    # An error below its own uncertainty is no error of anything yet.
    least = max(seen.limit, seen.u)
    if abs(seen.span_error) > least:
        return _span(seen)
    if abs(seen.zero) > max(seen.zero_limit, seen.u):
        return _zero(seen)
    return _moving(seen, least)


def _corners(seen: Loaded) -> tuple[Cause, ...]:
    if not seen.corners:
        return ()
    low, mean = min(seen.corners), sum(seen.corners) / len(seen.corners)
    place = seen.corners.index(low) + 1
    percent = 100 * (low - 1) * seen.load / seen.capacity
    if low < GONE:
        said = f"At corner {place} only {100 * low:.0f} % of the weight shows."
        lost = seen.span_error < -seen.load / len(seen.corners) / 2
        return sure("cell_dead" if lost else "cell_open", percent, said, ROWS)
    worst = max(seen.corners, key=lambda c: abs(c - mean))
    off = 100 * (worst - mean)
    # A cell that gives otherwise moves zero and span with it: half the limit says enough then.
    moved = abs(seen.zero) > seen.zero_limit or abs(seen.span_error) > seen.limit
    if abs(off) <= seen.corner_percent * (HALF if moved else 1):
        return ()
    said = f"Corner {seen.corners.index(worst) + 1} shows {off:+.2f} % against the others."
    return sure("corner_off", off * seen.load / seen.capacity, said, ROWS)


def _span(seen: Loaded) -> tuple[Cause, ...]:
    error = 100 * seen.span_error / seen.load
    percent = 100 * seen.span_error / seen.capacity
    said = f"The load shows {error:+.2f} % of itself."
    sticks = abs(seen.hysteresis) > max(seen.limit, seen.u)
    if error < 0 and sticks:
        said += f" Half of it shows {seen.hysteresis:+.2f} kg more on the way down."
        return sure("piping", percent, said, ROWS)
    names: tuple[str, ...] = ("weights_wrong", "cell_signal")
    names = ("piping", *names) if error < 0 else names
    if seen.signal_percent is None:
        tell = f"{TELLS['mvv_grown'].tells} {TELLS['weights_percent'].tells}"
        return alike(("span_parameter", *names), percent, said, tell, ROWS)
    said += f" The signal of the cells is {seen.signal_percent:+.2f} % from their data."
    if abs(seen.signal_percent - error) > EXPLAINS * abs(error):
        return sure("span_parameter", percent, said, ROWS)
    other = seen.apart.get("weights_percent")
    if other is None:
        return alike(names, percent, said, TELLS["weights_percent"].tells, ROWS)
    said += f" With the weights counted again or others {other:+.2f} %."
    if abs(other) < abs(error) / 2:
        return sure("weights_wrong", percent, said, ROWS)
    if error > 0:
        return sure("cell_signal", percent, said, ROWS)
    free = seen.apart.get("pipes_free_percent")
    if free is None:
        tell = TELLS["pipes_free_percent"].tells
        return alike(("piping", "cell_signal"), percent, said, tell, ROWS)
    gone = abs(free) < abs(error) / 2
    said += f" With pipes loosened {free:+.2f} %."
    return sure("piping" if gone else "cell_signal", percent, said, ROWS)


def _zero(seen: Loaded) -> tuple[Cause, ...]:
    percent = 100 * seen.zero / seen.capacity
    said = f"Empty it shows {seen.zero:+.2f} kg; the span is right."
    cleaned, insulation = seen.apart.get("after_cleaning"), seen.apart.get("insulation_mohm")
    names: tuple[str, ...] = ("build_up", "scale_zero_moved", "moisture")
    if seen.zero < 0:
        names = ("scale_zero_moved", "moisture")
    if cleaned is None or insulation is None:
        tell = f"{TELLS['after_cleaning'].tells} {TELLS['insulation_mohm'].tells}"
        return alike(names, percent, said, tell, ROWS)
    if abs(cleaned) < abs(seen.zero) / 2:
        return sure("build_up", percent, f"{said} Cleaned {cleaned:+.2f} kg.", ROWS)
    if insulation < DRY_MOHM:
        return sure("moisture", percent, f"{said} Insulation {insulation:.0f} MΩ.", ROWS)
    return sure("scale_zero_moved", percent, said, ROWS)


def _moving(seen: Loaded, least: float) -> tuple[Cause, ...]:
    """Return what does not stand still: creep, hysteresis, a zero that does not come back."""
    share = 100 / seen.capacity
    if seen.rested is not None and abs(seen.rested - seen.span) > least:
        crept = seen.rested - seen.span
        said = f"The load shows {crept:+.2f} kg more after it stood."
        return sure("creep", crept * share, said, ROWS)
    if abs(seen.hysteresis) > least:
        said = f"Half of it shows {seen.hysteresis:+.2f} kg more on the way down."
        return sure("piping", seen.hysteresis * share, said, ROWS)
    if seen.back is not None and abs(seen.back - seen.zero) > least:
        stays = seen.back - seen.zero
        said = f"Empty again it shows {stays:+.2f} kg more than before."
        return sure("no_return", stays * share, said, ROWS)
    return ()


def asks(causes: tuple[Cause, ...]) -> tuple[Telling, ...]:
    """Return the measurements that would tell causes apart; none where one stands alone."""
    if len(causes) < 2:
        return ()
    names = {c.cause for c in causes}
    if "span_parameter" in names:
        return TELLS["mvv_grown"], TELLS["weights_percent"]
    if "weights_wrong" in names:
        return (TELLS["weights_percent"],)
    if "piping" in names:
        return (TELLS["pipes_free_percent"],)
    return TELLS["after_cleaning"], TELLS["insulation_mohm"]
