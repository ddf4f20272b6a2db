"""The curves of temperature sensors, by one interface: platinum and the thermocouple types."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal, get_args

from calibration.kernel.errors import InputError
from calibration.sensors import rtd, thermocouple

SensorName = Literal["Pt100", "Pt500", "Pt1000", "B", "E", "J", "K", "N", "R", "S", "T"]
#: Resistance at 0 °C of the platinum sensors by name. [Ω]
R0_OHM = {"Pt100": 100.0, "Pt500": 500.0, "Pt1000": 1000.0}


@dataclass(frozen=True)
class Curve:
    """Signal against temperature; beyond its range the inverse goes on straight, for records."""

    name: str
    lowest_c: float
    highest_c: float
    value: Callable[[float], float]
    slope: Callable[[float], float]
    within: Callable[[float], float]
    #: where the inverse begins; above the lowest for type B, whose curve turns
    inverse_from_c: float

    def check(self, t: float, field: str, margin: float = 0.0) -> None:
        """Refuse a temperature that the sensor's standard does not cover.

        Raises
        ------
        InputError
            ``temperature.out_of_range``.
        """
        if not self.lowest_c - margin <= t <= self.highest_c + margin:
            raise InputError(
                "temperature.out_of_range",
                field,
                f"{self.name} is defined from {self.lowest_c:g} to {self.highest_c:g} °C.",
                "Check the temperature, its unit and the type of the sensor.",
            )

    def covers(self, signal: float) -> bool:
        """Tell whether a signal belongs to a temperature of the curve, a rounding aside."""
        low, high = self.value(self.inverse_from_c), self.value(self.highest_c)
        slack = 1e-9 * (high - low)
        return low - slack <= signal <= high + slack

    @property
    def _mean_slope(self) -> float:
        """Return the slope of the whole curve; some types are almost flat at their low end."""
        low, high = self.inverse_from_c, self.highest_c
        return (self.value(high) - self.value(low)) / (high - low)

    def inverse(self, signal: float) -> float:
        """Return the temperature of a signal, on the reference function itself. [°C]"""
        for end in (self.inverse_from_c, self.highest_c):
            edge = self.value(end)
            beyond = signal < edge if end == self.inverse_from_c else signal > edge
            if beyond:
                return end + (signal - edge) / max(self.slope(end), self._mean_slope / 2)
        return self.within(signal)


def _thermocouple(letter: thermocouple.Type) -> Curve:
    low, high = thermocouple.limits(letter)
    # Type B turns at 21 °C; a little above it the curve is steep enough to be read backwards.
    begin = thermocouple.TYPE_B_TURN + 30 if letter == "B" else low
    return Curve(
        name=f"Type {letter}",
        lowest_c=low,
        highest_c=high,
        value=lambda t: thermocouple.reference_emf(letter, t)[0],
        slope=lambda t: thermocouple.reference_emf(letter, t)[1],
        within=lambda emf: thermocouple.temperature_for(letter, emf),
        inverse_from_c=begin,
    )


PLATINUM = Curve(
    name="A platinum sensor",
    lowest_c=rtd.LOWEST_C,
    highest_c=rtd.HIGHEST_C,
    value=rtd.ratio,
    slope=rtd.ratio_slope,
    within=rtd.temperature_for,
    inverse_from_c=rtd.LOWEST_C,
)
#: By the name of the characteristic. Platinum in R/R₀, thermocouples in mV against 0 °C.
CURVES: dict[str, Curve] = {
    "platinum": PLATINUM,
    **{f"type_{letter}": _thermocouple(letter) for letter in get_args(thermocouple.Type)},
}


def curve_of(sensor: str) -> Curve:
    """Return the curve of a sensor by its name.

    >>> round(curve_of("Pt100").value(100.0), 2)
    1.39
    """
    return PLATINUM if sensor in R0_OHM else CURVES[f"type_{sensor}"]


def signal_of(sensor: str, t: float, junction_c: float = 0.0) -> float:
    """Return what a sensor gives at its terminals.

    Parameters
    ----------
    sensor : str
        One of ``SensorName``.
    t, junction_c : float
        Measuring and reference junction. [°C]

    Returns
    -------
    float
        Resistance [Ω], or emf [mV] against the reference junction.

    References
    ----------
    IEC 60751; ITS-90 reference functions. Emfs are added, never temperatures.

    Examples
    --------
    Platinum by IEC 60751, type K by the tables of NIST (ITS-90).

    >>> round(signal_of("Pt100", 100.0, 0.0), 2), round(signal_of("K", 500.0, 0.0), 3)
    (138.51, 20.644)
    """
    if sensor in R0_OHM:
        return R0_OHM[sensor] * rtd.ratio(t)
    curve = curve_of(sensor)
    return curve.value(t) - curve.value(junction_c)


def temperature_of(sensor: str, signal: float, junction_c: float = 0.0) -> float:
    """Return the temperature that belongs to a signal at the terminals. [°C]

    The inverse of :func:`signal_of`.

    Examples
    --------
    >>> round(temperature_of("Pt100", 138.51, 0.0), 1), round(temperature_of("K", 20.644, 0.0), 1)
    (100.0, 500.0)
    """
    if sensor in R0_OHM:
        return PLATINUM.inverse(signal / R0_OHM[sensor])
    curve = curve_of(sensor)
    return curve.inverse(signal + curve.value(junction_c))


def unit_of(sensor: str) -> str:
    """Return the unit of a sensor's signal.

    Examples
    --------
    >>> unit_of("Pt100"), unit_of("K")
    ('Ω', 'mV')
    """
    return "Ω" if sensor in R0_OHM else "mV"
