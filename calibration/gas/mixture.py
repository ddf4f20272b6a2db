"""What is in a cylinder: balance, oxygen, and whether it suits the sensor."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from calibration.gas.table import SETS, GasName, LelSet, lel_needed, published_lel
from calibration.kernel.checks import not_negative, some
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.pictures import Bar, Bars, Picture
from calibration.kernel.registry import operation

#: Share of oxygen in dry air. [% volume] ISO 2533:1975, table 1 (20.9476 %).
OXYGEN_IN_AIR = 20.9476
#: Below this share of oxygen a bead that burns the gas no longer answers fully. [% volume]
BEAD_OXYGEN = 10.0
SensorKind = Literal["catalytic", "infrared", "electrochemical", "other"]
Balance = Literal["air", "nitrogen", "argon", "helium"]


@dataclass(frozen=True, kw_only=True)
class Component:
    """One gas of the mixture."""

    gas: GasName = about("gas")
    value: float = about("concentration")
    unit: Literal["ppm", "percent_volume", "percent_lel"] = about("unit", default="ppm")


@dataclass(frozen=True, kw_only=True)
class MixtureIn:
    """What the label of the cylinder says."""

    components: tuple[Component, ...] = about("components")
    balance: Balance = about("balance gas", default="air")
    sensor: SensorKind = about("kind of sensor", default="catalytic")
    lel_set: LelSet = about("explosive limits by", default="IEC")


@dataclass(frozen=True, kw_only=True)
class ComponentOut:
    """One gas in other units."""

    gas: str = about("gas")
    percent_volume: float = about("percent by volume", unit="% vol")
    ppm: float = about("parts per million", unit="ppm")
    percent_lel: float | None = about("share of its explosive limit", unit="%LEL")


@dataclass(frozen=True, kw_only=True)
class MixtureOut:
    """The mixture as a whole."""

    balance_percent: float = about("balance gas", unit="% vol", decimals=4)
    oxygen_percent: float = about("oxygen", unit="% vol", decimals=2)
    total_percent_lel: float = about("all burning gases together", unit="%LEL", decimals=1)
    components: tuple[ComponentOut, ...] = about("components")
    warnings: tuple[str, ...] = about("warnings")


def _picture(i: MixtureIn, o: MixtureOut) -> Picture:
    bars = [
        Bar(label=c.gas, value=c.percent_volume, text=f"{c.percent_volume:.4g} % vol")
        for c in o.components
    ]
    bars.append(
        Bar(
            label=f"balance {i.balance}",
            value=o.balance_percent,
            text=f"{o.balance_percent:.4g} % vol",
            tone="muted",
        )
    )
    return Bars(alt="Shares of the mixture by volume.", bars=tuple(bars), together=True)


@operation(
    "gas.mixture",
    title="Is this gas mixture right?",
    family="Gas",
    formula="balance = 100 % − Σ components;  oxygen = own share + 20.95 % of an air balance;  "
    "total %LEL = Σ (c_i / LEL_i)",
    source="ISO 2533 for air; Le Chatelier's rule for the sum; limits as the set named",
    example={
        "components": [
            {"gas": "methane", "value": "50", "unit": "percent_lel"},
            {"gas": "carbon monoxide", "value": "100", "unit": "ppm"},
            {"gas": "hydrogen sulfide", "value": "25", "unit": "ppm"},
        ],
        "balance": "nitrogen",
    },
    words="cylinder balance air nitrogen oxygen bead catalytic label span gas",
    cautions=("The label and the certificate of the cylinder decide, not this estimate.",),
    worked=lambda i, o: [
        "balance = 100 − "
        + " − ".join(f"{c.percent_volume:.4g}" for c in o.components)
        + f" = {o.balance_percent:.4g} % vol"
    ],
    picture=_picture,
)
def mixture(request: MixtureIn) -> MixtureOut:
    """Add up a mixture and warn of what would mislead a sensor.

    Raises
    ------
    InputError
        ``components.too_few``, ``value.negative``, ``lel.needed``, ``mixture.over_100``.

    References
    ----------
    ISO 2533:1975 for the oxygen of air; Le Chatelier's mixing rule for flammable gases.
    """
    some(request.components, "components", "components")
    out: list[ComponentOut] = []
    for n, c in enumerate(request.components):
        not_negative(c.value, f"components.{n}.value", "concentration")
        lel = published_lel(c.gas, request.lel_set)
        if c.unit == "percent_lel":
            lel = lel_needed(c.gas, None, request.lel_set, f"components.{n}.unit")
            volume = c.value * lel / 100
        else:
            volume = c.value / 1e4 if c.unit == "ppm" else c.value
        out.append(
            ComponentOut(
                gas=c.gas,
                percent_volume=volume,
                ppm=volume * 1e4,
                percent_lel=100 * volume / lel if lel else None,
            )
        )
    balance = 100 - sum(c.percent_volume for c in out)
    if balance < -1e-9:
        raise InputError(
            "mixture.over_100",
            "components",
            f"The components add up to {100 - balance:.4g} % by volume.",
            "Check the units: ppm, percent by volume and %LEL are far apart.",
        )
    oxygen = sum(c.percent_volume for c in out if c.gas == "oxygen")
    if request.balance == "air":
        oxygen += balance * OXYGEN_IN_AIR / 100
    total = sum(c.percent_lel or 0.0 for c in out)
    return MixtureOut(
        balance_percent=max(balance, 0.0),
        oxygen_percent=oxygen,
        total_percent_lel=total,
        components=tuple(out),
        warnings=tuple(_warnings(request, out, oxygen, total)),
    )


def _warnings(
    request: MixtureIn, out: list[ComponentOut], oxygen: float, total: float
) -> list[str]:
    said = []
    burns = any(c.percent_lel for c in out)
    if request.sensor == "catalytic" and burns and oxygen < BEAD_OXYGEN:
        said.append(
            f"A catalytic bead needs oxygen to answer; this mixture has {oxygen:.1f} % vol. "
            "Use a mixture in air."
        )
    if total > 100 and oxygen > BEAD_OXYGEN:
        said.append(
            f"{total:.0f} %LEL with {oxygen:.1f} % oxygen can burn: such a mixture must not exist "
            "in a cylinder. Check the units of the label."
        )
    elif total > 100:
        said.append(
            f"{total:.0f} %LEL: a percent-volume gas, not one for an instrument in %LEL. "
            "It can overload or poison a bead."
        )
    if burns:
        said.append(f"%LEL by {SETS[request.lel_set]}.")
    return said
