"""A gas cylinder, a channel of a detector, and whether the one suits the other."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.gas.amounts import ATMOSPHERE
from calibration.gas.concentration import ConvertIn, GasUnit, convert_gas
from calibration.gas.mixture import BEAD_OXYGEN, OXYGEN_IN_AIR, Balance
from calibration.gas.table import SETS, GasName, LelSet, published_lel
from calibration.kernel.codec import about
from calibration.kernel.numbers import HUNDRED, ZERO, from_float, to_float
from calibration.kernel.rounding import fixed, show, trimmed

Principle = Literal["catalytic", "electrochemical", "infrared", "oxygen"]
ShownUnit = Literal["ppm", "% vol", "%LEL"]
#: What a gas is applied for. ``air`` is the air around; nothing is applied. ``absorber`` is the
#: air around through a filter that takes the gas out.
#: ``proof`` is bottled air, by which that around is proven.
Purpose = Literal["air", "zero", "span", "nitrogen", "absorber", "proof"]
UNIT: dict[str, GasUnit] = {"ppm": "ppm", "% vol": "percent_volume", "%LEL": "percent_lel"}
#: Carbon dioxide in outdoor air, about 0.04 % by volume.
IN_AIR: dict[str, Decimal] = {
    "ppm": Decimal(400),
    "% vol": Decimal("0.04"),
    "%LEL": ZERO,
}
#: A certificate worse than this says little about a sensor. [% of the value]
UNCERTAIN = Decimal(5)
#: Oxygen in dry air, how far bottled air may be from it, and how far a second point must. [% vol]
AIR, AIR_NEAR, OXYGEN_APART = Decimal("20.9"), Decimal("0.5"), Decimal(1)
#: A span gas is best between these shares of the range. [%]
SPAN_LEAST, SPAN_MOST = Decimal(20), Decimal(100)


@dataclass(frozen=True, kw_only=True)
class Channel:
    """One gas that a detector measures."""

    id: str = about("short name")
    gas: GasName = about("target gas")
    unit: ShownUnit = about("unit that it shows")
    range: Decimal = about("upper end of its range", unit="gas unit")
    principle: Principle = about("how it senses")
    flow_l_per_min: Decimal = about("flow of calibration gas", unit="L/min", default=Decimal("0.5"))
    humid: bool = about("wants humidified gas", default=False)
    demand: bool = about("draws its gas: demand-flow regulator", default=False)
    gas_value: Decimal | None = about("span gas set in it", unit="gas unit", default=None)
    full_scale_v: Decimal | None = about("reference voltage at range", unit="V", default=None)
    t90_s: Decimal = about("time to 90 % by its manual", unit="s", default=Decimal(30))
    usual_t90_s: Decimal | None = about("time to 90 % last time", unit="s", default=None)
    alarm: Decimal | None = about("first alarm", unit="gas unit", default=None)
    alarm_2: Decimal | None = about("second alarm", unit="gas unit", default=None)
    alarm_3: Decimal | None = about("third alarm", unit="gas unit", default=None)
    #: response kept since the last replacement, as of the last calibration
    base_percent: Decimal = about("response when last set, of new", unit="%", default=HUNDRED)
    expected_percent: Decimal | None = about(
        "response that its trend expects now, of when last set", unit="%", default=None
    )

    @property
    def label(self) -> str:
        """Return the gas as people call it."""
        return self.gas.capitalize()

    @property
    def rest(self) -> Decimal:
        """Return what it shows in clean air. [gas unit]"""
        if self.gas == "oxygen":
            return Decimal("20.9")
        if self.gas == "carbon dioxide":
            return IN_AIR[self.unit]
        return ZERO


@dataclass(frozen=True, kw_only=True)
class Part:
    """One gas of a cylinder, as its label says."""

    gas: GasName = about("gas")
    value: Decimal = about("concentration")
    unit: ShownUnit = about("unit")
    lel_set: LelSet | None = about("table behind a label in %LEL", default=None)


@dataclass(frozen=True, kw_only=True)
class Cylinder:
    """What a cylinder holds and how much of it is left."""

    parts: tuple[Part, ...] = about("components; none for pure balance gas", default=())
    balance: Balance = about("balance gas", default="air")
    uncertainty_percent: Decimal = about(
        "expanded uncertainty by certificate", unit="%", default=Decimal(2)
    )
    lot: str = about("lot", default="")
    water_l: Decimal = about("water volume", unit="L")
    pressure_bar: Decimal = about("pressure now", unit="bar")
    minimum_bar: Decimal = about("change it at", unit="bar", default=Decimal(5))
    set_aside_l: Decimal = about("set aside for other jobs", unit="L", default=ZERO)
    flow_l_per_min: Decimal | None = about("flow of its regulator", unit="L/min", default=None)
    demand: bool = about("demand-flow regulator", default=False)
    humidifier: bool = about("with humidifier", default=False)

    @property
    def left_l(self) -> Decimal:
        """Return the gas above the minimum that nobody set aside, at 1 atm (Boyle). [L]"""
        usable = max(ZERO, self.pressure_bar - self.minimum_bar) * self.water_l
        return max(ZERO, usable / from_float(ATMOSPHERE) - self.set_aside_l)

    @property
    def oxygen_percent(self) -> float:
        """Return the share of oxygen. [% vol]"""
        own = sum(to_float(p.value) for p in self.parts if p.gas == "oxygen" and p.unit == "% vol")
        if self.balance != "air" or own:
            return own
        return OXYGEN_IN_AIR


@dataclass(frozen=True, kw_only=True)
class OnShelf:
    """Another cylinder that stood on the shelf when one was chosen."""

    asset: str = about("its number")
    holds: Cylinder = about("what it holds")


@dataclass(frozen=True)
class Fit:
    """What speaks for and against a cylinder at a channel. ``value`` in the channel's unit."""

    usable: bool
    ok: bool
    remark: str
    value: Decimal | None
    shown: str


def table_of(lel_set: LelSet) -> str:
    """Return the name of a table of explosive limits.

    >>> table_of("IEC")
    'ISO/IEC 80079-20-1'
    """
    return SETS[lel_set]


def value_on(cylinder: Cylinder, channel: Channel, lel_set: LelSet) -> Decimal | None:
    """Return what a channel should read with a cylinder; none when its gas is not in it.

    A label in %LEL counts by the table it was made under; what is returned counts by the site's.

    Raises
    ------
    InputError
        ``lel.needed`` for a gas without an explosive limit.

    References
    ----------
    :func:`calibration.gas.concentration.convert_gas`.

    >>> span = Cylinder(parts=(Part(gas="methane", value=Decimal("2.2"), unit="% vol"),),
    ...                 water_l=Decimal(1), pressure_bar=Decimal(100))
    >>> infrared = Channel(id="A", gas="methane", unit="%LEL", range=Decimal(100),
    ...                    principle="infrared")
    >>> value_on(span, infrared, "IEC")
    Decimal('50.00')
    """
    part = next((p for p in cylinder.parts if p.gas == channel.gas), None)
    if part is None:
        if channel.gas == "oxygen":
            return Decimal("20.9") if cylinder.balance == "air" else ZERO
        return None
    label_set = part.lel_set or lel_set
    if part.unit == channel.unit and (part.unit != "%LEL" or label_set == lel_set):
        return part.value
    volume = convert_gas(
        ConvertIn(
            value=to_float(part.value),
            from_unit=UNIT[part.unit],
            to_unit="percent_volume",
            gas=part.gas,
            lel_set=label_set,
        )
    ).value
    wanted = convert_gas(
        ConvertIn(
            value=volume,
            from_unit="percent_volume",
            to_unit=UNIT[channel.unit],
            gas=part.gas,
            lel_set=lel_set,
        )
    ).value
    return fixed(wanted, 2 if wanted >= 1 else 4)


def in_words(cylinder: Cylinder, lel_set: LelSet) -> str:
    """Return the contents as a label says them; every %LEL with its table.

    >>> label = Part(gas="hydrogen sulfide", value=Decimal(25), unit="ppm")
    >>> span = Cylinder(parts=(label,), balance="nitrogen",
    ...                 water_l=Decimal(1), pressure_bar=Decimal(100))
    >>> in_words(span, "IEC")
    'hydrogen sulfide 25 ppm in nitrogen'
    """
    said = []
    for p in cylinder.parts:
        text = f"{p.gas} {trimmed(p.value)} {p.unit}"
        if p.unit == "%LEL":
            own = p.lel_set or lel_set
            volume = to_float(p.value) * (published_lel(p.gas, own) or 0.0) / 100
            text += f" ({show(volume, 2)} % vol by {SETS[own]})"
        said.append(text)
    if not said:
        return {"air": "zero air", "nitrogen": "nitrogen"}.get(cylinder.balance, cylinder.balance)
    return ", ".join(said) + f" in {cylinder.balance}"


def fits(
    cylinder: Cylinder,
    channel: Channel,
    purpose: Purpose,
    lel_set: LelSet,
    needed_l: Decimal = ZERO,
) -> Fit:
    """Judge a cylinder for a channel: contents, balance, concentration, flow, and amount.

    Parameters
    ----------
    cylinder, channel : Cylinder, Channel
    purpose : Purpose
        What it is applied for.
    lel_set : LelSet
        The site's table.
    needed_l : Decimal
        What the job takes at most. [L]

    References
    ----------
    Rules of this product; the detector's manual decides.

    >>> label = Part(gas="hydrogen sulfide", value=Decimal(25), unit="ppm")
    >>> span = Cylinder(parts=(label,), balance="nitrogen",
    ...                 water_l=Decimal(1), pressure_bar=Decimal(100))
    >>> carbon = Channel(id="A", gas="carbon monoxide", unit="ppm", range=Decimal(300),
    ...                  principle="electrochemical")
    >>> found = fits(span, carbon, "span", "IEC")
    >>> found.ok, found.remark
    (False, 'There is no carbon monoxide in it.')
    """
    value = value_on(cylinder, channel, lel_set)
    shown = in_words(cylinder, lel_set)
    refused = _refused(cylinder, channel, purpose, value)
    if not refused and needed_l > cylinder.left_l:
        refused = (
            f"The job takes up to {show(needed_l, 1)} L; {show(cylinder.left_l, 1)} L are left "
            f"above {trimmed(cylinder.minimum_bar)} bar and not set aside."
        )
    if refused:
        return Fit(False, False, refused, value, shown)
    doubts = _doubts(cylinder, channel, purpose, value, lel_set)
    return Fit(True, not doubts, " ".join(doubts), value, shown)


def _refused(cylinder: Cylinder, channel: Channel, purpose: Purpose, value: Decimal | None) -> str:
    burns = [p for p in cylinder.parts if published_lel(p.gas, "IEC") or p.gas == channel.gas]
    if channel.gas == "oxygen" and purpose in ("span", "proof"):
        no = _no_oxygen_point(cylinder, channel, purpose, value)
        if no is not None:
            return no
    if purpose == "span":
        if value is None or (channel.gas == "oxygen" and value == 0):
            return f"There is no {channel.gas} in it."
        if value > channel.range:
            return (
                f"It would read {trimmed(value)} {channel.unit}, past the range of "
                f"{trimmed(channel.range)}: a percent-volume gas for an instrument in "
                f"{channel.unit}?"
                if value > 2 * channel.range
                else f"It would read {trimmed(value)} {channel.unit}, past the range."
            )
        if value < channel.range / 20:
            return f"{trimmed(value)} {channel.unit} is too little for this range."
    elif purpose == "zero" and any(p.gas != "oxygen" for p in burns):
        return "It is no zero gas: there is " + " and ".join(p.gas for p in burns) + " in it."
    elif purpose == "nitrogen" and (cylinder.balance != "nitrogen" or cylinder.parts):
        return "Pure nitrogen is needed to take the oxygen away."
    if channel.principle == "catalytic" and cylinder.oxygen_percent < BEAD_OXYGEN:
        return (
            f"A catalytic bead needs oxygen to answer; {cylinder.oxygen_percent:.1f} % vol is too "
            "little. Take a mixture in air."
        )
    return _regulator(cylinder, channel)


def _no_oxygen_point(
    cylinder: Cylinder, channel: Channel, purpose: Purpose, value: Decimal | None
) -> str | None:
    """Return why a cylinder is no point of oxygen; none where other rules decide."""
    if value is None:
        return None
    apart = abs(value - AIR)
    if purpose == "proof":
        if apart > AIR_NEAR:
            return f"Bottled air is needed to prove the air; this holds {trimmed(value)} % vol."
        return _regulator(cylinder, channel)
    if apart < OXYGEN_APART:
        return (
            f"It holds {trimmed(value)} % vol of oxygen: that is air again, and air proves a "
            f"sensor only once. Take nitrogen, or a gas {trimmed(OXYGEN_APART)} % vol or more "
            "away from air."
        )
    return _regulator(cylinder, channel) if value == 0 else None


def _doubts(
    cylinder: Cylinder,
    channel: Channel,
    purpose: Purpose,
    value: Decimal | None,
    lel_set: LelSet,
) -> list[str]:
    said = []
    part = next((p for p in cylinder.parts if p.gas == channel.gas), None)
    if part is not None and part.lel_set and part.lel_set != lel_set and part.unit == "%LEL":
        said.append(
            f"Its label counts %LEL by {SETS[part.lel_set]}, the site by {SETS[lel_set]}: "
            f"{trimmed(part.value)} on the label is {trimmed(value or ZERO)} %LEL here."
        )
    if purpose == "span" and value:
        share = HUNDRED * value / channel.range
        if not SPAN_LEAST <= share <= SPAN_MOST:
            said.append(f"At {show(share, 0)} % of the range it tells little about the rest.")
        if channel.gas_value is not None and abs(value - channel.gas_value) > value / 100:
            said.append(
                f"The instrument is set to {trimmed(channel.gas_value)} {channel.unit}: set "
                f"{trimmed(value)} in it before the span is adjusted."
            )
        if cylinder.uncertainty_percent > UNCERTAIN:
            said.append(f"Its certificate says ±{trimmed(cylinder.uncertainty_percent)} %.")
    if channel.humid and not cylinder.humidifier:
        said.append("This sensor wants humidified gas: put the humidifier in.")
    return said


def _regulator(cylinder: Cylinder, channel: Channel) -> str:
    """Return why its regulator cannot serve a channel; its flow is fixed and cannot be set."""
    if channel.demand:
        if not cylinder.demand and (cylinder.flow_l_per_min or ZERO) > channel.flow_l_per_min * 2:
            return "The instrument draws its gas: take a demand-flow or low-flow regulator."
    elif cylinder.flow_l_per_min is not None and _off(cylinder, channel):
        return (
            f"Its regulator gives {trimmed(cylinder.flow_l_per_min)} L/min; the manual wants "
            f"{trimmed(channel.flow_l_per_min)}. Put another regulator on."
        )
    return ""


def _off(cylinder: Cylinder, channel: Channel) -> bool:
    given = cylinder.flow_l_per_min or ZERO
    return abs(given - channel.flow_l_per_min) > channel.flow_l_per_min / 5
