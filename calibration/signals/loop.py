"""Voltages around a two-wire loop."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from calibration.kernel.checks import between, not_negative, positive
from calibration.kernel.codec import about
from calibration.kernel.pictures import Bar, Bars, Picture
from calibration.kernel.registry import operation

#: Loop resistance in which digital communication over the loop works. [Ω]
COMMS_LOW, COMMS_HIGH = Decimal(230), Decimal(600)
THOUSAND = Decimal(1000)


@dataclass(frozen=True, kw_only=True)
class SupplyIn:
    """A supply, everything in series with the transmitter, and the currents to check."""

    supply_v: Decimal = about("supply", unit="V")
    loop_ohm: Decimal = about("wiring, barrier and input card", unit="Ω", default=Decimal(0))
    resistor_ohm: Decimal = about("resistor", unit="Ω", default=Decimal(250))
    minimum_v: Decimal = about("transmitter needs at least", unit="V", default=Decimal("10.5"))
    current_ma: Decimal = about("current", unit="mA", default=Decimal(20))
    alarm_ma: Decimal = about("high alarm current", unit="mA", default=Decimal("22.5"))


@dataclass(frozen=True, kw_only=True)
class SupplyOut:
    """What is left for the transmitter."""

    transmitter_v: Decimal = about("at the transmitter", unit="V", decimals=2)
    ok: bool = about("enough at this current")
    transmitter_at_alarm_v: Decimal = about(
        "at the transmitter at high alarm", unit="V", decimals=2
    )
    alarm_ok: bool = about("enough at the alarm current")
    resistor_v: Decimal = about("across the resistor", unit="V", decimals=3)
    loop_v: Decimal = about("across wiring, barrier and card", unit="V", decimals=2)
    total_ohm: Decimal = about("total resistance", unit="Ω")
    comms_ok: bool = about("digital communication possible (230 to 600 Ω)")
    largest_ohm: Decimal = about("largest total resistance at high alarm", unit="Ω", decimals=0)


def _picture(i: SupplyIn, o: SupplyOut) -> Picture:
    return Bars(
        alt=f"Of {i.supply_v} V the transmitter keeps {o.transmitter_v:.2f} V.",
        bars=(
            Bar(
                label="transmitter",
                value=max(0.0, float(o.transmitter_v)),
                text=f"{o.transmitter_v:.2f} V",
                tone="within" if o.ok else "outside",
            ),
            Bar(label="resistor", value=float(o.resistor_v), text=f"{o.resistor_v:.2f} V"),
            Bar(
                label="wiring and card",
                value=float(o.loop_v),
                text=f"{o.loop_v:.2f} V",
                tone="muted",
            ),
        ),
        together=True,
        limit=float(i.minimum_v),
        limit_label=f"needs {i.minimum_v:g} V",
    )


@operation(
    "loop.supply",
    title="Does the supply reach the transmitter?",
    family="Signals and loops",
    formula="U_transmitter = U_supply − I × (R_loop + R);  U_R = I × R",
    source="Ohm's law; 230 to 600 Ω for digital communication over the loop",
    example={
        "supply_v": "24",
        "loop_ohm": "60",
        "resistor_ohm": "250",
        "minimum_v": "10.5",
        "current_ma": "20",
        "alarm_ma": "22.5",
    },
    words="250 ohm resistor 1-5 v 4-20 ma voltage drop burden load two-wire communication",
    cautions=(
        "In a hazardous area measure only with the permit and the equipment the site allows.",
    ),
    worked=lambda i, o: [
        f"U = {i.supply_v:g} − {i.current_ma:g} mA × ({i.loop_ohm:g} + {i.resistor_ohm:g}) Ω "
        f"= {o.transmitter_v:.2f} V",
        f"at alarm: {i.supply_v:g} − {i.alarm_ma:g} mA × {o.total_ohm:g} Ω "
        f"= {o.transmitter_at_alarm_v:.2f} V",
    ],
    picture=_picture,
)
def supply(request: SupplyIn) -> SupplyOut:
    """Give the voltage left at the transmitter and across the resistor.

    Raises
    ------
    InputError
        ``supply_v.not_positive``, ``current_ma.out_of_range``, negative resistances.

    References
    ----------
    Ohm's and Kirchhoff's laws.
    """
    positive(request.supply_v, "supply_v", "supply", "V")
    for name in ("loop_ohm", "resistor_ohm", "minimum_v"):
        not_negative(getattr(request, name), name, "value")
    between(request.current_ma, Decimal("0.5"), 30, "current_ma", "current of a loop", "mA")
    between(request.alarm_ma, Decimal("0.5"), 30, "alarm_ma", "alarm current", "mA")
    total = request.loop_ohm + request.resistor_ohm
    amps = request.current_ma / THOUSAND
    left = request.supply_v - amps * total
    at_alarm = request.supply_v - request.alarm_ma / THOUSAND * total
    spare = max(Decimal(0), request.supply_v - request.minimum_v)
    return SupplyOut(
        transmitter_v=left,
        ok=left >= request.minimum_v,
        transmitter_at_alarm_v=at_alarm,
        alarm_ok=at_alarm >= request.minimum_v,
        resistor_v=amps * request.resistor_ohm,
        loop_v=amps * request.loop_ohm,
        total_ohm=total,
        comms_ok=COMMS_LOW <= total <= COMMS_HIGH,
        largest_ohm=spare / (request.alarm_ma / THOUSAND),
    )
