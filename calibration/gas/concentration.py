"""The same concentration in ppm, percent by volume, percent of the explosive limit and mg/m³."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.gas.table import GASES, SETS, GasName, LelSet, lel_needed, published_lel
from calibration.kernel.checks import not_negative, positive
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.pictures import Bar, Bars, Chart, Picture, Series, Spot
from calibration.kernel.registry import operation

#: Molar gas constant, CODATA 2018 (exact by the SI). [J/(mol K)]
R = 8.314462618
ZERO_C_IN_K = 273.15
GasUnit = Literal["ppm", "percent_volume", "percent_lel", "mg_per_m3"]
SHORT = {"ppm": "ppm", "percent_volume": "% vol", "percent_lel": "%LEL", "mg_per_m3": "mg/m³"}


@dataclass(frozen=True, kw_only=True)
class ConvertIn:
    """A concentration and the gas."""

    value: float = about("concentration")
    from_unit: GasUnit = about("given in", default="percent_lel")
    to_unit: GasUnit = about("wanted in", default="percent_volume")
    gas: GasName | None = about("gas", default=None)
    lel_set: LelSet = about("explosive limits by", default="IEC")
    lel_percent_volume: float | None = about(
        "own lower explosive limit", unit="% vol", default=None
    )
    molar_mass_g_per_mol: float | None = about("own molar mass", unit="g/mol", default=None)
    temperature_c: float = about("temperature", unit="°C", default=25.0)
    pressure_kpa: float = about("absolute pressure", unit="kPa", default=101.325)


@dataclass(frozen=True, kw_only=True)
class ConvertOut:
    """The same concentration in every unit that the numbers allow."""

    value: float = about("concentration")
    unit: str = about("in")
    ppm: float = about("parts per million by volume", unit="ppm")
    percent_volume: float = about("percent by volume", unit="% vol")
    percent_lel: float | None = about("share of the lower explosive limit", unit="%LEL")
    mg_per_m3: float | None = about("mass per volume", unit="mg/m³")
    lel_percent_volume: float | None = about("lower explosive limit used", unit="% vol")
    lel_source: str = about("explosive limit from")


def molar_volume(temperature_c: float, pressure_kpa: float) -> float:
    """Return the volume of one mole of an ideal gas. [L/mol]

    Raises
    ------
    InputError
        ``temperature.below_zero``, ``pressure.not_positive``.

    References
    ----------
    Ideal gas law; R from CODATA 2018.

    >>> round(molar_volume(0.0, 101.325), 3)
    22.414
    """
    if temperature_c <= -ZERO_C_IN_K:
        raise InputError(
            "temperature.below_zero",
            "temperature_c",
            "The temperature is at or below absolute zero.",
            "Use a temperature above −273.15 °C.",
        )
    if pressure_kpa <= 0:
        raise InputError(
            "pressure.not_positive",
            "pressure_kpa",
            "An absolute pressure is above 0.",
            "Give absolute, not gauge pressure; the atmosphere is about 101.325 kPa.",
        )
    return R * (temperature_c + ZERO_C_IN_K) / pressure_kpa


def _worked(i: ConvertIn, o: ConvertOut) -> Sequence[str]:
    lines = [f"{i.value:g} {SHORT[i.from_unit]} = {o.ppm:.6g} ppm = {o.percent_volume:.6g} % vol"]
    if o.percent_lel is not None:
        lines.append(
            f"{o.percent_volume:.6g} % vol / {o.lel_percent_volume:g} % vol = "
            f"{o.percent_lel:.5g} %LEL ({o.lel_source})"
        )
    if o.mg_per_m3 is not None:
        lines.append(
            f"mg/m³ = ppm × M × p / (1000 × R × T) × 1000 = {o.mg_per_m3:.6g} "
            f"at {i.temperature_c:g} °C, {i.pressure_kpa:g} kPa"
        )
    return lines


def _picture(i: ConvertIn, o: ConvertOut) -> Picture | None:
    if o.percent_lel is None or o.lel_percent_volume is None:
        return None
    return Bars(
        alt=f"{o.percent_lel:.1f} percent of the lower explosive limit.",
        bars=(
            Bar(
                label="concentration", value=o.percent_volume, text=f"{o.percent_volume:.4g} % vol"
            ),
            Bar(
                label="explosive limit",
                value=o.lel_percent_volume,
                text=f"{o.lel_percent_volume:g} % vol",
                tone="outside",
            ),
        ),
    )


@operation(
    "gas.convert",
    title="Convert a gas concentration",
    family="Gas",
    formula="% vol = ppm / 10 000;  %LEL = 100 × % vol / LEL;  mg/m³ = ppm × M × p / (R T)",
    source="ideal gas, R = 8.314462618 J/(mol K); limits: ISO/IEC 80079-20-1 or NFPA 325",
    example={
        "value": "50",
        "from_unit": "percent_lel",
        "to_unit": "percent_volume",
        "gas": "propane",
        "lel_set": "IEC",
    },
    words="ppm lel percent volume mg/m3 explosive limit " + " ".join(GASES),
    cautions=(
        "Explosive limits differ between the published sets: say which one a figure uses, and "
        "check it against the edition your site holds.",
        "A detector calibrated on one gas reads another gas wrong; use the maker's factor.",
    ),
    worked=_worked,
    picture=_picture,
)
def convert_gas(request: ConvertIn) -> ConvertOut:
    """Turn a concentration from one unit into the others.

    Raises
    ------
    InputError
        ``value.negative``, ``value.too_much``, ``lel.needed``, ``lel.not_positive``,
        ``molar_mass.needed``, ``pressure.not_positive``, ``temperature.below_zero``.

    References
    ----------
    Ideal gas law with R of CODATA 2018; LEL sets as named in calibration/gas/table.py.
    """
    not_negative(request.value, "value", "concentration")
    litres = molar_volume(request.temperature_c, request.pressure_kpa)
    mass, lel, lel_source = _mass(request), _lel(request), _lel_source(request)
    ppm = request.value
    if request.from_unit == "percent_volume":
        ppm = request.value * 1e4
    elif request.from_unit == "percent_lel":
        assert lel is not None
        ppm = request.value * lel * 100
    elif request.from_unit == "mg_per_m3":
        assert mass is not None
        ppm = request.value * litres / mass
    if ppm > 1e6 * (1 + 1e-9):
        raise InputError(
            "value.too_much",
            "value",
            "That is more than 100 % by volume.",
            "Check the number, the unit and the explosive limit.",
        )
    figures = {
        "ppm": ppm,
        "percent_volume": ppm / 1e4,
        "percent_lel": ppm / (lel * 100) if lel else None,
        "mg_per_m3": ppm * mass / litres if mass else None,
    }
    value = figures[request.to_unit]
    assert value is not None
    return ConvertOut(
        value=value,
        unit=SHORT[request.to_unit],
        ppm=ppm,
        percent_volume=ppm / 1e4,
        percent_lel=figures["percent_lel"],
        mg_per_m3=figures["mg_per_m3"],
        lel_percent_volume=lel,
        lel_source=lel_source if lel else "",
    )


def _mass(request: ConvertIn) -> float | None:
    own = request.molar_mass_g_per_mol
    if own is not None:
        positive(own, "molar_mass_g_per_mol", "molar mass", "g/mol")
        return own
    if request.gas:
        return GASES[request.gas].molar_mass
    if "mg_per_m3" in (request.from_unit, request.to_unit):
        raise InputError(
            "molar_mass.needed",
            "molar_mass_g_per_mol",
            "Mass per volume needs the molar mass.",
            "Choose a gas, or type its molar mass in g/mol.",
        )
    return None


def _lel(request: ConvertIn) -> float | None:
    if "percent_lel" in (request.from_unit, request.to_unit) or request.lel_percent_volume:
        own = request.lel_percent_volume
        return lel_needed(request.gas, own, request.lel_set, "lel_percent_volume")
    return published_lel(request.gas, request.lel_set) if request.gas else None


def _lel_source(request: ConvertIn) -> str:
    return "typed" if request.lel_percent_volume is not None else SETS[request.lel_set]


@dataclass(frozen=True, kw_only=True)
class VoltageIn:
    """A gas value, or the voltage that stands for it."""

    range: Decimal = about("range of the instrument", unit="gas unit")
    full_scale_v: Decimal = about("voltage at full range", unit="V", default=Decimal(5))
    gas_value: Decimal | None = about("gas value", unit="gas unit", default=None)
    voltage_v: Decimal | None = about("voltage", unit="V", default=None)


@dataclass(frozen=True, kw_only=True)
class VoltageOut:
    """Both, and the share of the range."""

    voltage_v: Decimal = about("reference voltage", unit="V")
    gas_value: Decimal = about("gas value", unit="gas unit")
    percent_of_range: Decimal = about("share of the range", unit="%")


def _voltage_picture(i: VoltageIn, o: VoltageOut) -> Picture:
    top, volts = float(i.range), float(i.full_scale_v)
    return Chart(
        alt=f"{o.gas_value} of {i.range} is {o.voltage_v:.4f} V.",
        x_label="Gas value",
        y_label="Voltage [V]",
        series=(Series(points=((0.0, 0.0), (top, volts))),),
        spots=(Spot(x=float(o.gas_value), y=float(o.voltage_v), label=f"{o.voltage_v:.4g} V"),),
    )


@operation(
    "gas.reference_voltage",
    title="Reference voltage of a span gas",
    family="Gas",
    formula="voltage = gas value / range × full-scale voltage",
    source="straight line through zero",
    example={"gas_value": "50", "range": "100", "full_scale_v": "5"},
    words="volts span potentiometer setpoint gas value",
    cautions=("Read the voltage again before use: somebody else may have changed it.",),
    worked=lambda i, o: [
        f"{o.gas_value:g} / {i.range:g} × {i.full_scale_v:g} V = {o.voltage_v:.6g} V"
    ],
    picture=_voltage_picture,
    one_of=("gas_value", "voltage_v"),
    table={
        "vary": "gas_value",
        "start": "0",
        "stop": "100",
        "step": "5",
        "columns": ("voltage_v", "percent_of_range"),
        "set": {"voltage_v": None},
    },
)
def reference_voltage(request: VoltageIn) -> VoltageOut:
    """Give the voltage of a gas value, or the gas value of a voltage.

    Raises
    ------
    InputError
        ``range.not_positive``, ``full_scale_v.not_positive``, ``value.one_needed``.

    References
    ----------
    Straight line from 0 V to full scale, as the instrument's manual gives it.
    """
    positive(request.range, "range", "range")
    positive(request.full_scale_v, "full_scale_v", "full-scale voltage", "V")
    if (request.gas_value is None) == (request.voltage_v is None):
        raise InputError(
            "value.one_needed",
            "gas_value",
            "Give either a gas value or a voltage.",
            "Fill in one of the two and leave the other empty.",
        )
    if request.gas_value is not None:
        gas = request.gas_value
        volts = gas * request.full_scale_v / request.range
    else:
        assert request.voltage_v is not None
        volts = request.voltage_v
        gas = volts * request.range / request.full_scale_v
    return VoltageOut(voltage_v=volts, gas_value=gas, percent_of_range=100 * gas / request.range)
