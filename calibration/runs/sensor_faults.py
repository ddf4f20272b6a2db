"""Signatures of temperature sensors: wrong type, polarity, lead, shunt, immersion."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import get_args

from calibration.kernel.rounding import show
from calibration.runs.causes import Cause, cause
from calibration.sensors import curves, rtd, thermocouple

#: Room temperature, where the junction was not measured. [°C]
USUAL_JUNCTION_C = 23.0


@dataclass(frozen=True)
class Seen:
    """Temperatures applied and indicated at the points of a run.

    ``bare`` tells a sensor by itself from a transmitter that was fed or that reads a sensor.
    """

    sensor: str
    wires: int
    bare: bool
    junction_c: float
    applied_c: tuple[float, ...]
    indicated_c: tuple[float, ...]
    limit_c: tuple[float, ...]
    span_c: float
    #: what is indicated while the output is held at its low and high end [°C]
    held_low_c: float = -math.inf
    held_high_c: float = math.inf

    def held(self, t: float) -> float:
        """Return a temperature as the output can show it. [°C]"""
        return max(self.held_low_c, min(self.held_high_c, t))

    @property
    def error_c(self) -> list[float]:
        """Return what is indicated minus what was applied. [°C]"""
        return [i - a for i, a in zip(self.indicated_c, self.applied_c, strict=True)]


def _rms(values: Sequence[float]) -> float:
    return math.sqrt(sum(v * v for v in values) / len(values))


def name_fault(seen: Seen) -> Cause | None:
    """Name the fault of a sensor or of its connection from its error picture.

    Parameters
    ----------
    seen : Seen
        At least three points.

    Returns
    -------
    Cause or None
        None when no signature fits: then the ordinary causes of a run are looked for.

    References
    ----------
    IEC 60751 and the ITS-90 reference functions give the curves that are compared. The shares
    of the error that a signature must explain are rules of this product.

    >>> at = (0.0, 50.0, 100.0)
    >>> seen = Seen(sensor="Pt100", wires=2, bare=True, junction_c=25.0, applied_c=at,
    ...             indicated_c=at, limit_c=(0.5,) * 3, span_c=100.0)
    >>> name_fault(seen) is None
    True
    """
    if len(seen.applied_c) < 3 or max(seen.indicated_c) - min(seen.indicated_c) < seen.span_c / 50:
        return None
    return _wrong_curve(seen) or _small(_free(seen))


def _free(seen: Seen) -> Seen:
    """Return the points at which the output is not held at an end."""
    kept = [k for k, i in enumerate(seen.indicated_c) if seen.held_low_c < i < seen.held_high_c]
    return replace(
        seen,
        applied_c=tuple(seen.applied_c[k] for k in kept),
        indicated_c=tuple(seen.indicated_c[k] for k in kept),
        limit_c=tuple(seen.limit_c[k] for k in kept),
    )


def _wrong_curve(seen: Seen) -> Cause | None:
    """A large error that the curve of another type, or crossed wires, explains."""
    own = _rms(seen.error_c)
    if own < 2 * min(seen.limit_c):
        return None
    found: list[tuple[float, Cause]] = []
    for words, name, remedy, model in _candidates(seen):
        try:
            rest = [
                i - seen.held(model(t))
                for i, t in zip(seen.indicated_c, seen.applied_c, strict=True)
            ]
        except ArithmeticError:
            continue
        worst = max(seen.error_c, key=abs)
        found.append((_rms(rest), cause(name, 100 * worst / seen.span_c, words, remedy)))
    if not found:
        return None
    least, named = min(found, key=lambda f: f[0])
    return named if least < 0.2 * own else None


_Model = Callable[[float], float]


def _candidates(seen: Seen) -> list[tuple[str, str, str, _Model]]:
    own, cold = seen.sensor, seen.junction_c
    resistive = own in curves.R0_OHM
    names = list(curves.R0_OHM) if resistive else list(get_args(thermocouple.Type))
    found: list[tuple[str, str, str, _Model]] = []
    for other in names:
        if other == own:
            continue
        found.append(
            (
                f"The readings fit a {_named(other)} where a {_named(own)} is expected.",
                "wrong_sensor_type",
                "Compare the type of the sensor, of its extension wire and of the setting in the "
                "device. Correct what is wrong; do not adjust.",
                _as_other(own, other, cold, seen.bare),
            )
        )
    if not resistive:
        if seen.bare:
            found += _junctions(own, cold)
        found.append(
            (
                "The temperature shown moves away from the reference junction the wrong way: "
                "plus and minus are crossed.",
                "swapped_polarity",
                "Swap the two wires at the terminals, then take the run again.",
                lambda t: curves.temperature_of(own, -curves.signal_of(own, t, cold), cold),
            )
        )
    return found


def _junctions(own: str, cold: float) -> list[tuple[str, str, str, _Model]]:
    """The reference junction counted twice, or not at all: the sensor itself is right."""
    remedy = (
        "Ask how the meter reads: bare, or compensated by itself. Say so in the job, then take the "
        "run again; the sensor is not at fault."
    )
    found: list[tuple[str, str, str, _Model]] = []
    if abs(cold) > 1:
        found.append(
            (
                f"All readings are high by the emf of a junction at {show(cold, 1)} °C: the meter "
                "has compensated it, and it was counted once more.",
                "junction_compensation",
                remedy,
                lambda t: curves.temperature_of(own, curves.signal_of(own, t, 0.0), cold),
            )
        )
    else:
        found.append(
            (
                "All readings are low by the emf of a junction at room temperature: nobody "
                "compensated it.",
                "junction_compensation",
                remedy,
                lambda t: curves.temperature_of(
                    own, curves.signal_of(own, t, USUAL_JUNCTION_C), cold
                ),
            )
        )
    return found


def _as_other(own: str, other: str, cold: float, bare: bool) -> _Model:
    """Return the temperature shown when sensor and evaluation do not belong together."""
    sensor, read_as = (other, own) if bare else (own, other)
    return lambda t: curves.temperature_of(read_as, curves.signal_of(sensor, t, cold), cold)


def _named(sensor: str) -> str:
    return sensor if sensor in curves.R0_OHM else f"type {sensor}"


def _small(seen: Seen) -> Cause | None:
    """An error that a lead, a shunt or too little immersion explains."""
    if len(seen.applied_c) < 3:
        return None
    resistive = seen.sensor in curves.R0_OHM
    models: list[tuple[str, list[float], int]] = []
    if resistive:
        slope = [rtd.ratio_slope(t) for t in seen.applied_c]
        value = [rtd.ratio(t) for t in seen.applied_c]
        if seen.wires == 2:
            models.append(("lead_resistance", [1 / s for s in slope], 1))
        if seen.bare:
            squares = [v * v / s for v, s in zip(value, slope, strict=True)]
            models.append(("shunt", squares, -1))
    if seen.bare:
        away = [t - seen.junction_c for t in seen.applied_c]
        models.append(("immersion", away, -1))
        if seen.wires != 2:
            # An even shift is drift, and named as a zero shift; with two wires it is the lead.
            models.append(("", [1.0] * len(away), 0))
    own = _rms(seen.error_c)
    best: tuple[float, str, float] | None = None
    for name, shape, wanted in models:
        size = sum(e * s for e, s in zip(seen.error_c, shape, strict=True)) / sum(
            s * s for s in shape
        )
        rest = _rms([e - size * s for e, s in zip(seen.error_c, shape, strict=True)])
        if wanted and size * wanted <= 0:
            continue
        if best is None or rest < best[0] - 1e-12:
            best = (rest, name, size)
    if best is None or not best[1] or best[0] > 0.25 * own:
        return None
    return _said(seen, best[1], best[2])


def _said(seen: Seen, name: str, size: float) -> Cause:
    worst = 100 * max(seen.error_c, key=abs) / seen.span_c
    if name == "lead_resistance":
        ohm = size * curves.R0_OHM[seen.sensor]
        return cause(
            name,
            worst,
            f"All readings are high by about {show(ohm, 2)} Ω: the two wires add their resistance.",
            "Connect three or four wires, or set the lead resistance in the device. Do not trim "
            "the sensor for it: the lead changes with its own temperature.",
        )
    if name == "shunt":
        return cause(
            name,
            worst,
            "The readings fall short more and more as the resistance rises: something is in "
            "parallel with the sensor.",
            "Measure the insulation of sensor and cable; moisture is the usual reason. Dry or "
            "replace it.",
        )
    return cause(
        name,
        worst,
        f"The error grows with the distance from {show(seen.junction_c, 0)} °C and pulls towards "
        "it: heat leaves along the stem.",
        "Put the sensor in deeper, at least fifteen times its diameter, with a sleeve that fits; "
        "then take the run again before judging the sensor.",
    )
