"""The made-up works of the demo. Everything here is invented."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

SITE = "Kestrel Fen Sugar Works"
#: who issues the papers, and who calibrates the references
LABORATORY = "Instrument workshop"
ADDRESS = "Beet Lane 1, Kestrel Fen"
STANDARDS = "Saltmarsh Measurement Laboratory"
GASES = "Saltmarsh Gas Mixtures"
SEED = 20417
PASSWORD = "beet-harvest"
PEOPLE = (
    ("tessa", "Tessa", "Alder", "technician"),
    ("bram", "Bram", "Oakley", "technician"),
    ("rowan", "Rowan", "Fairbeck", "reviewer"),
    ("pia", "Pia", "Langmere", "planner"),
)
AREAS = (
    "Beet yard and conveyors",
    "Juice house",
    "Lime kiln and gas washing",
    "Boiler house",
    "Evaporators",
    "Sugar house",
    "Silos and loading",
    "Effluent and biogas plant",
    "Substation",
)


@dataclass(frozen=True)
class Transmitter:
    """A pressure transmitter of the works and how it drifts."""

    tag: str
    description: str
    area: str
    upper: str
    unit: str
    tolerance: str
    role: str
    due_in: int
    interval: int = 180
    lower: str = "0"
    smart: bool = True
    indicated: bool = True
    zero: float = 0.08
    span: float = 0.08
    season: float = 0.0
    hysteresis: float = 0.0
    caution: str = ""
    manual: dict[str, Any] = field(default_factory=dict)


LOW_DP = {"warm_up_minutes": {"value": "30", "unit": "min", "source": "instrument manual, 4.2"}}
INSTRUMENTS = (
    Transmitter(
        "PT-4107",
        "Drum pressure",
        AREAS[3],
        "4000",
        "kPa",
        "0.5",
        "trip",
        0,
        zero=0.12,
        span=0.16,
        caution="Hot water and steam behind the isolation valve.",
    ),
    Transmitter(
        "PT-4122",
        "Live steam header",
        AREAS[3],
        "4500",
        "kPa",
        "0.5",
        "control",
        0,
        zero=0.05,
        span=0.1,
        hysteresis=0.35,
        caution="Steam: let the line cool and drain before opening.",
    ),
    Transmitter(
        "PT-4135", "Feedwater pump discharge", AREAS[3], "6000", "kPa", "0.5", "control", 3
    ),
    Transmitter(
        "PT-4140",
        "Furnace draught",
        AREAS[3],
        "0.5",
        "kPa",
        "1.0",
        "trip",
        -6,
        lower="-0.5",
        zero=0.35,
        span=0.05,
        season=0.2,
        manual=LOW_DP,
    ),
    Transmitter(
        "PT-2204", "Raw juice to purification", AREAS[1], "600", "kPa", "0.5", "control", 0
    ),
    Transmitter(
        "PT-2218",
        "Diffuser drive oil",
        AREAS[1],
        "250",
        "bar",
        "0.5",
        "trip",
        9,
        caution="Oil at high pressure can pierce skin: never feel for a leak.",
    ),
    Transmitter(
        "PT-3306",
        "Kiln gas to washer",
        AREAS[2],
        "40",
        "kPa",
        "0.5",
        "control",
        -13,
        zero=0.2,
        season=0.15,
        caution="Kiln gas carries carbon monoxide: gas test and ventilation first.",
    ),
    Transmitter(
        "PT-3311",
        "Washed gas, compressor suction",
        AREAS[2],
        "20",
        "kPa",
        "1.0",
        "indication",
        5,
        smart=False,
        caution="Carbon monoxide: gas test first.",
    ),
    Transmitter(
        "PT-5103",
        "First effect vapour",
        AREAS[4],
        "400",
        "kPa",
        "0.5",
        "control",
        0,
        zero=0.1,
        span=0.18,
    ),
    Transmitter(
        "PT-5109", "Last effect vacuum", AREAS[4], "100", "kPa", "0.5", "control", 12, season=0.1
    ),
    Transmitter(
        "PT-6201",
        "Vacuum pan 1",
        AREAS[5],
        "100",
        "kPa",
        "0.25",
        "control",
        1,
        zero=0.06,
        span=0.03,
    ),
    Transmitter(
        "PT-6202",
        "Vacuum pan 2",
        AREAS[5],
        "100",
        "kPa",
        "0.25",
        "control",
        31,
        zero=0.14,
        span=0.05,
    ),
    Transmitter(
        "PT-7404",
        "Silo blanketing nitrogen",
        AREAS[6],
        "10",
        "kPa",
        "0.5",
        "trip",
        26,
        caution="Nitrogen displaces air: never vent it in a closed room.",
    ),
    Transmitter(
        "PT-8115",
        "Biogas to flare",
        AREAS[7],
        "6",
        "kPa",
        "1.0",
        "trip",
        44,
        caution="Methane: permit, gas test and no ignition sources.",
    ),
)


def _pressure(
    asset: str,
    text: str,
    unit: str,
    full_scale: str,
    percent: str,
    resolution: str,
    due_in: int,
    withdrawn: str = "",
) -> dict[str, Any]:
    return {
        "asset": asset,
        "description": text,
        "quantity": "pressure",
        "unit": unit,
        "spec": {
            "percent_of_full_scale": percent,
            "full_scale": full_scale,
            "resolution": resolution,
        },
        "due_in": due_in,
        "withdrawn": withdrawn,
    }


def _meter(asset: str, text: str, percent: str, absolute: str, due_in: int) -> dict[str, Any]:
    return {
        "asset": asset,
        "description": text,
        "quantity": "current",
        "unit": "mA",
        "spec": {
            "percent_of_reading": percent,
            "absolute": absolute,
            "full_scale": "24",
            "resolution": "0.001",
        },
        "due_in": due_in,
        "withdrawn": "",
    }


#: which module is used for which upper range, and the meter that goes with it
REFERENCES = (
    _pressure("R-101", "Pressure module 1 kPa, differential", "kPa", "1", "0.05", "0.0001", 140),
    _pressure("R-102", "Pressure module 50 kPa", "kPa", "50", "0.025", "0.001", 88),
    _pressure("R-103", "Pressure module 200 kPa", "kPa", "200", "0.02", "0.001", 201),
    _pressure("R-104", "Pressure module 1000 kPa", "kPa", "1000", "0.025", "0.01", 61),
    _pressure("R-105", "Pressure module 7000 kPa", "kPa", "7000", "0.025", "0.1", 119),
    _pressure("R-106", "Pressure module 400 bar", "bar", "400", "0.025", "0.01", 233),
    _pressure("R-107", "Pressure module 7000 kPa, old", "kPa", "7000", "0.025", "0.1", -19),
    _pressure("R-108", "Test gauge 6000 kPa", "kPa", "6000", "0.25", "5", 150),
    _pressure(
        "R-109",
        "Pressure module 200 kPa, spare",
        "kPa",
        "200",
        "0.02",
        "0.001",
        75,
        "read 0.15 % high when it was last checked; every job it was used for is listed",
    ),
    _pressure("R-110", "Deadweight tester 6000 kPa", "kPa", "6000", "0.015", "0.01", 310),
    _meter("R-201", "Loop meter, cart 1", "0.01", "0.002", 96),
    _meter("R-202", "Loop meter, cart 2", "0.01", "0.002", 167),
    _meter("R-203", "Hand meter", "0.2", "0.02", 45),
    _meter("R-204", "Loop meter, workshop", "0.01", "0.002", -3),
)
SITE_RULES = (
    ("adjust_share", "70", "%", "site rule: instrument procedure 7"),
    ("interval_days", "180", "d", "site rule: twice a campaign year"),
    ("warm_up_minutes", "15", "min", "site rule: instrument procedure 5"),
)
#: rigs by tag: faults of the virtual loop
RIGS: dict[str, dict[str, Any]] = {
    "PT-4107": {"output_zero_percent": 0.48, "output_span_percent": 0.86},
    "PT-4122": {"hysteresis_percent": 1.1},
}
