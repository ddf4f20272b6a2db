"""Gas detectors and the gas on the shelf of the made-up works. Everything here is invented."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any

from calibration.simulate.commands import Share
from calibration.simulate.detector import DetectorModel, Head
from verifyloop.demo.works import AREAS

USUAL_T90_S = "18.4"


@dataclass(frozen=True)
class Detector:
    """One detector: its record, its sensors as they are after a visit, and how they age."""

    tag: str
    description: str
    area: str
    method: str
    due_in: int
    channels: tuple[dict[str, Any], ...]
    heads: tuple[Head, ...]
    interval: int = 180
    #: visits in its history
    visits: int = 5
    #: share of a new sensor that is lost in a year
    loss: float = 0.1
    #: days since its sensor was new, today
    age: int = 800
    #: faults of the rig that is wired up, by head
    rig: dict[str, Any] = field(default_factory=dict)
    around: tuple[Share, ...] = ()
    caution: str = ""
    portable: bool = False
    inhibited: bool = False

    @property
    def model(self) -> DetectorModel:
        """Return the detector as new."""
        return DetectorModel(tag=self.tag, heads=self.heads, milliamps=not self.portable, dry=False)

    def raw(self, days_ago: int) -> float:
        """Return the response of its sensors some days ago, of new ones."""
        return max(0.05, 1 - self.loss * max(0, self.age - days_ago) / 365)


def _channel(
    id: str, gas: str, unit: str, top: str, principle: str, value: str | None, **more: Any
) -> dict[str, Any]:
    return {
        "id": id,
        "gas": gas,
        "unit": unit,
        "range": top,
        "principle": principle,
        "gas_value": value,
        "usual_t90_s": USUAL_T90_S,
        **more,
    }


def _methane(principle: str = "catalytic", **more: Any) -> tuple[dict[str, Any], Head]:
    channel = _channel("a", "methane", "%LEL", "100", principle, "50", alarm="20", **more)
    head = Head(
        id="a",
        gas="methane",
        unit="%LEL",
        range=100,
        principle=principle,  # type: ignore[arg-type]
        gas_value=50,
        alarm=20,
        zero=0.2,
    )
    return channel, head


def _one(channel: dict[str, Any], head: Head, **rest: Any) -> dict[str, Any]:
    return {"channels": (channel,), "heads": (head,), **rest}


METHANE, METHANE_HEAD = _methane()
INFRARED, INFRARED_HEAD = _methane("infrared")
CO = _channel("a", "carbon monoxide", "ppm", "300", "electrochemical", "100", alarm="30")
CO_HEAD = Head(
    id="a",
    gas="carbon monoxide",
    unit="ppm",
    range=300,
    principle="electrochemical",
    gas_value=100,
    alarm=30,
    decimals=0,
)
H2S = _channel(
    "a", "hydrogen sulfide", "ppm", "100", "electrochemical", "25", alarm="5", humid=True
)
H2S_HEAD = Head(
    id="a",
    gas="hydrogen sulfide",
    unit="ppm",
    range=100,
    principle="electrochemical",
    gas_value=25,
    alarm=5,
)
OXYGEN = _channel("a", "oxygen", "% vol", "25", "oxygen", None)
OXYGEN_HEAD = Head(id="a", gas="oxygen", unit="% vol", range=25, principle="oxygen")
PORTABLE = (
    {**INFRARED, "demand": True},
    {**CO, "id": "b", "range": "500", "demand": True},
    {**H2S, "id": "c", "humid": False, "demand": True},
    {**OXYGEN, "id": "d", "gas_value": "18", "demand": True},
)
PORTABLE_HEADS = (
    replace(INFRARED_HEAD, overshoot=0.0),
    replace(CO_HEAD, id="b", range=500),
    replace(H2S_HEAD, id="c"),
    replace(OXYGEN_HEAD, id="d", gas_value=18),
)
EXPLOSIVE = "Methane: permit, gas test, no ignition source; watch the place while it is in bypass."
TOXIC = "Carbon monoxide: gas test first, wear your own monitor, never alone."
DETECTORS = (
    Detector(
        "GD-4181",
        "Burner front, boiler 1",
        AREAS[3],
        "gas_zero_span",
        0,
        **_one(METHANE, METHANE_HEAD),
        loss=0.14,
        caution=EXPLOSIVE,
    ),
    Detector(
        "GD-4182",
        "Gas train, boiler 2",
        AREAS[3],
        "gas_zero_span",
        4,
        **_one(METHANE, METHANE_HEAD),
        loss=0.22,
        age=930,
        rig={"tau_s": 12.0, "response": 0.45},
        caution=EXPLOSIVE,
    ),
    Detector(
        "GD-3361",
        "Kiln platform",
        AREAS[2],
        "gas_zero_span",
        0,
        **_one(CO, CO_HEAD),
        loss=0.08,
        rig={"zero": -3.4},
        caution=TOXIC,
    ),
    Detector(
        "GD-3370",
        "Kiln cellar, two gases",
        AREAS[2],
        "gas_two_channel",
        0,
        channels=({**METHANE, "full_scale_v": "5"}, {**CO, "id": "b", "full_scale_v": "5"}),
        heads=(METHANE_HEAD, replace(CO_HEAD, id="b")),
        loss=0.06,
        visits=4,
        rig={"gas_value": 60.0},
        caution=TOXIC,
    ),
    Detector(
        "GD-8121",
        "Biogas hall, compressor",
        AREAS[7],
        "gas_infrared",
        0,
        **_one(INFRARED, replace(INFRARED_HEAD, overshoot=0.12)),
        interval=365,
        visits=3,
        loss=0.01,
        rig={"zero": 4.0},
        caution=EXPLOSIVE,
    ),
    Detector(
        "GD-8131",
        "Effluent hall, hydrogen sulfide",
        AREAS[7],
        "gas_zero_span",
        5,
        **_one(H2S, H2S_HEAD),
        loss=0.19,
        age=1000,
        caution="Hydrogen sulfide kills quickly and dulls the nose: own monitor, never alone.",
    ),
    Detector(
        "GD-8132",
        "Effluent hall, oxygen",
        AREAS[7],
        "gas_oxygen",
        0,
        **_one(OXYGEN, OXYGEN_HEAD),
        loss=0.05,
        rig={"response": 0.93},
        caution="Too little oxygen gives no warning to the senses: never alone.",
    ),
    Detector(
        "PG-01",
        "Portable, four gases, gate house",
        AREAS[7],
        "gas_portable",
        0,
        channels=PORTABLE,
        heads=PORTABLE_HEADS,
        visits=3,
        loss=0.07,
        portable=True,
        rig={"response": 0.82},
    ),
    Detector(
        "PG-02",
        "Portable, four gases, new",
        AREAS[7],
        "gas_receiving",
        1,
        channels=PORTABLE,
        heads=PORTABLE_HEADS,
        visits=0,
        portable=True,
    ),
    *(
        Detector(
            f"GD-81{n:02d}",
            f"Biogas hall, roof {n}",
            AREAS[7],
            "gas_bump",
            0,
            **_one(METHANE, METHANE_HEAD),
            interval=30,
            visits=0,
            loss=0.05 + 0.01 * n,
            rig={"plugged": 0.7} if n == 5 else {},
            caution=EXPLOSIVE,
        )
        for n in range(1, 7)
    ),
)
#: What cylinder each role takes in the history, by target gas.
SPAN_OF = {"methane": "G-611", "carbon monoxide": "G-621", "hydrogen sulfide": "G-631"}


def _part(gas: str, value: str, unit: str, lel_set: str | None = None) -> dict[str, Any]:
    return {"gas": gas, "value": value, "unit": unit, "lel_set": lel_set}


def _cylinder(asset: str, text: str, parts: list[dict[str, Any]], **more: Any) -> dict[str, Any]:
    return {
        "asset": asset,
        "description": text,
        "parts": parts,
        "balance": "air",
        "uncertainty_percent": "2",
        "lot": f"L-{asset[2:]}7",
        "water_l": "10",
        "bar": "90",
        "minimum_bar": "5",
        "flow_l_per_min": "0.5",
        "due_in": 300,
        **more,
    }


CYLINDERS = (
    _cylinder("G-601", "Zero air, cart 1", [], bar="112"),
    _cylinder("G-602", "Nitrogen, cart 1", [], balance="nitrogen", bar="84"),
    _cylinder("G-603", "Bottled air", [_part("oxygen", "20.9", "% vol")], balance="nitrogen"),
    _cylinder("G-611", "Methane in air, cart 1", [_part("methane", "2.2", "% vol")], bar="71"),
    _cylinder(
        "G-612",
        "Methane in air, small, nearly empty",
        [_part("methane", "2.2", "% vol")],
        water_l="1",
        bar="6.5",
        due_in=120,
    ),
    _cylinder(
        "G-613",
        "Methane in air, label in %LEL by another table",
        [_part("methane", "50", "%LEL", "NFPA")],
        bar="55",
    ),
    _cylinder("G-614", "Methane in air, low", [_part("methane", "1.1", "% vol")], bar="60"),
    _cylinder(
        "G-615",
        "Methane in nitrogen, percent volume",
        [_part("methane", "50", "% vol")],
        balance="nitrogen",
        bar="100",
    ),
    _cylinder("G-621", "Carbon monoxide in air", [_part("carbon monoxide", "100", "ppm")]),
    _cylinder(
        "G-622",
        "Carbon monoxide in air, old",
        [_part("carbon monoxide", "100", "ppm")],
        due_in=-40,
    ),
    _cylinder(
        "G-631",
        "Hydrogen sulfide in nitrogen",
        [_part("hydrogen sulfide", "25", "ppm")],
        balance="nitrogen",
        uncertainty_percent="5",
        humidifier=True,
        due_in=150,
    ),
    _cylinder(
        "G-632",
        "Hydrogen sulfide in nitrogen, recalled",
        [_part("hydrogen sulfide", "25", "ppm")],
        balance="nitrogen",
        withdrawn="lot recalled by its maker: the value fell in the first month",
    ),
    _cylinder(
        "G-641",
        "Four gases for portables",
        [
            _part("methane", "2.2", "% vol"),
            _part("carbon monoxide", "100", "ppm"),
            _part("hydrogen sulfide", "25", "ppm"),
            _part("oxygen", "18", "% vol"),
        ],
        balance="nitrogen",
        flow_l_per_min="",
        demand=True,
        bar="64",
        due_in=210,
    ),
)
