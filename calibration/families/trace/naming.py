"""What a reading in span gas points to. Where two causes look alike both are named, and what tells.

Pure: figures in, causes out. What counts as a difference comes from the scatter of the readings
themselves and from the uncertainty of the gas.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from calibration.families.shared.naming import alike, sure
from calibration.families.trace.cause_rows import ROWS
from calibration.families.trace.tells import TELLS
from calibration.runs.causes import Cause

#: Share of what it reads too high that must go at the doubled flow: a leak halves.
HALVES = 0.25
#: A weaker sensor than this of a new one is near its end. [%]
SPENT_PERCENT = 50.0
#: A sensor weakens by no more than this in a month. [%]
MONTHLY_PERCENT = 1.5


@dataclass(frozen=True, kw_only=True)
class Evidence:
    """What was seen in span gas; concentrations in ppm."""

    value: float
    shows: float
    #: what is accepted, U (k = 2) of the error, and the scatter of a reading (k = 2)
    limit: float
    u: float
    scatter: float
    range: float
    slope: float | None = None
    #: response now, of a new sensor [%], and months since its span was set; none where not known
    of_new: float | None = None
    months: float | None = None
    plastic: bool = False
    #: error of the output against the display, and what is accepted of it
    output_off: float = 0.0
    #: what tells causes apart, where it was measured: by its field
    apart: Mapping[str, float] = field(default_factory=dict)


def causes_of(seen: Evidence) -> tuple[Cause, ...]:
    """Return the causes, the likeliest first; of those that look alike both."""
    error = seen.shows - seen.value
    if abs(error) <= seen.limit:
        return _output(seen)
    if error > 0:
        return _high(seen, error)
    return _low(seen, -error)


def asks(seen: Evidence) -> tuple[str, ...]:
    """Return the measurements that would tell more, the most telling first."""
    error = seen.shows - seen.value
    if abs(error) <= seen.limit:
        return ()
    wanted = []
    if error < 0:
        return () if _second_told(seen) or _as_expected(seen, -error) else ("second",)
    if "at_double_flow" not in seen.apart:
        wanted.append("flow")
    if "after_bleeding" not in seen.apart:
        wanted.append("bleeding")
    if not wanted:
        names = [c.cause for c in causes_of(seen)]
        if names[:1] == ["air_leak"] and len(names) > 1 and "wetted" not in seen.apart:
            wanted.append("soap")
        if "another_span_gas" in names and not _second_told(seen):
            wanted.append("second")
    return tuple(wanted)


def _named(seen: Evidence, size: float, said: str, tells: str, *names: str) -> tuple[Cause, ...]:
    """Return one cause, or several that look alike, with the measurement that would tell."""
    percent = 100 * size / seen.range
    if len(names) == 1:
        return sure(names[0], percent, said, ROWS)
    return alike(names, percent, said, TELLS[tells], ROWS)


def _output(seen: Evidence) -> tuple[Cause, ...]:
    if abs(seen.output_off) <= seen.limit:
        return ()
    said = f"Its display is right; its output says {seen.output_off:+.2f} ppm more."
    return _named(seen, abs(seen.output_off), said, "", "output_off")


def _high(seen: Evidence, error: float) -> tuple[Cause, ...]:
    said = f"It reads {error:.2f} ppm too high."
    doubled, bled = seen.apart.get("at_double_flow"), seen.apart.get("after_bleeding")
    if doubled is not None:
        fell = seen.shows - doubled
        if fell > max(seen.scatter, HALVES * error):
            said += f" At the doubled flow it reads {fell:.2f} ppm less."
            return _leaks(seen, error, said)
        said += " The flow changes nothing."
    if bled is not None:
        fell = seen.shows - bled
        if fell > max(seen.scatter, HALVES * error):
            said += f" Bled again it reads {fell:.2f} ppm less."
            return _named(seen, error, said, "", "unbled_regulator")
        said += " Bleeding changes nothing."
    if _falls(seen):
        said += f" It falls by {abs(seen.slope or 0):.2f} ppm a minute."
    if doubled is None and bled is None:
        if _falls(seen):
            return _named(seen, error, said, "bleeding", "unbled_regulator", "sensor_exposed")
        way = ("air_leak", "permeable_tubing") if seen.plastic else ("air_leak",)
        rest = ("unbled_regulator", "sensor_exposed", "span_high")
        return _named(seen, error, said, "flow", *way, *rest)
    if doubled is None:
        return _named(seen, error, said, "flow", "air_leak", "span_high")
    if bled is None:
        return _named(seen, error, said, "bleeding", "unbled_regulator", "sensor_exposed")
    return _by_second(seen, error, said, "span_high", "sensor_exposed", "another_span_gas")


def _falls(seen: Evidence) -> bool:
    """Tell whether it falls by more than its scatter within a minute."""
    return seen.slope is not None and seen.slope < -seen.scatter


def _leaks(seen: Evidence, error: float, said: str) -> tuple[Cause, ...]:
    if not seen.plastic:
        return _named(seen, error, f"{said} The tubing is metal.", "", "air_leak")
    wetted = seen.apart.get("wetted")
    if wetted is None:
        return _named(seen, error, said, "soap", "air_leak", "permeable_tubing")
    sure = "air_leak" if abs(wetted) > seen.scatter else "permeable_tubing"
    return _named(seen, error, said, "", sure)


def _low(seen: Evidence, error: float) -> tuple[Cause, ...]:
    said = f"It reads {error:.2f} ppm too low."
    own = "trace_aged"
    if seen.of_new is not None:
        said += f" Its response is {seen.of_new:.0f} % of a new sensor."
        own = "trace_spent" if seen.of_new < SPENT_PERCENT else own
    if _as_expected(seen, error):
        return _named(seen, error, said, "", own)
    return _by_second(seen, error, said, own, "another_span_gas")


def _as_expected(seen: Evidence, error: float) -> bool:
    """Tell whether so much was to be expected since the span was set last."""
    if seen.months is None:
        return False
    return error <= seen.value * MONTHLY_PERCENT * seen.months / 100 + seen.u


def _second_told(seen: Evidence) -> bool:
    return {"second_value", "second_shows"} <= seen.apart.keys()


def _by_second(seen: Evidence, error: float, said: str, *names: str) -> tuple[Cause, ...]:
    """Return the sensor or the gas: what a second cylinder of another value reads tells."""
    if not _second_told(seen):
        return _named(seen, error, said, "second", *names)
    value, shows = seen.apart["second_value"], seen.apart["second_shows"]
    expected = {
        "another_span_gas": value,
        "sensor_exposed": value + seen.shows - seen.value,
    }
    by_share = value * seen.shows / seen.value
    away = sorted((abs(shows - expected.get(n, by_share)), n) for n in names)
    said += f" A second cylinder of {value:.2f} ppm reads {shows:.2f}."
    first = away[0][1]
    if len(away) > 1 and away[1][0] - away[0][0] < seen.scatter:
        return _named(seen, error, said, "second", first, away[1][1])
    return _named(seen, error, said, "", first)
