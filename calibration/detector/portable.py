"""How long a portable instrument runs on its battery, from what it logged."""

from __future__ import annotations

from dataclasses import dataclass

from calibration.kernel.checks import positive
from calibration.kernel.codec import about
from calibration.kernel.pictures import Bar, Bars
from calibration.kernel.registry import operation


@dataclass(frozen=True, kw_only=True)
class EnduranceIn:
    """A logging run from full to empty."""

    samples: float = about("samples logged")
    interval_min: float = about("interval of the log", unit="min", default=1.0)
    wanted_h: float = about("must last", unit="h", default=8.0)


@dataclass(frozen=True, kw_only=True)
class EnduranceOut:
    """How long it ran."""

    hours: float = about("it lasts", unit="h", decimals=1)
    enough: bool = about("long enough")


@operation(
    "portable.endurance",
    title="How long does the battery last?",
    family="Gas detectors",
    formula="hours = samples × interval / 60",
    source="count of the instrument's own log",
    example={"samples": "612", "interval_min": "1", "wanted_h": "8"},
    words="battery endurance portable log samples interval hours receiving",
    picture=lambda i, o: Bars(
        alt=f"It lasts {o.hours:.1f} of {i.wanted_h:g} hours.",
        bars=(
            Bar(
                label="lasts",
                value=o.hours,
                text=f"{o.hours:.1f} h",
                tone="within" if o.enough else "outside",
            ),
            Bar(label="must last", value=i.wanted_h, text=f"{i.wanted_h:g} h", tone="muted"),
        ),
    ),
    worked=lambda i, o: [f"{i.samples:g} × {i.interval_min:g} min / 60 = {o.hours:.1f} h"],
)
def endurance(request: EnduranceIn) -> EnduranceOut:
    """Give the running time of a battery from the samples logged until it stopped.

    Raises
    ------
    InputError
        ``samples.not_positive``, ``interval_min.not_positive``, ``wanted_h.not_positive``.

    References
    ----------
    Count of samples times their interval.
    """
    positive(request.samples, "samples", "number of samples")
    positive(request.interval_min, "interval_min", "interval", "min")
    positive(request.wanted_h, "wanted_h", "time wanted", "h")
    hours = request.samples * request.interval_min / 60
    return EnduranceOut(hours=hours, enough=hours >= request.wanted_h)
