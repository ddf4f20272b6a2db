"""Smart loops, temperature, level and flow of the made-up works. Everything here is invented."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from calibration.simulate.block import Block, BlockModel
from calibration.simulate.loop import LoopModel
from calibration.simulate.rigs import Model
from verifyloop.demo.works import AREAS


@dataclass(frozen=True)
class Device:
    """One instrument: its record, its rig as it is after a visit, and how it drifts."""

    tag: str
    description: str
    area: str
    method: str
    role: str
    due_in: int
    record: dict[str, Any]
    model: Model
    #: changes of the rig that is wired up in the demo; none where it is done by typing
    rig: dict[str, Any] | None = None
    interval: int = 365
    #: drift per year, % of span (of a sensor: °C)
    drift: float = 0.1
    caution: str = ""

    def aged(self, years: float, chance: float) -> Model:
        """Return the rig some years after it was left; ``chance`` is between -1 and 1."""
        moved = self.drift * years + 0.05 * chance
        if isinstance(self.model, BlockModel):
            return replace(self.model, offset_c=self.model.offset_c + moved)
        if self.method == "displacer_level":
            return replace(self.model, output_zero_percent=moved, output_span_percent=-moved)
        return replace(self.model, sensor_zero_percent=self.model.sensor_zero_percent + moved)


def _setting(name: str, value: str, unit: str, label: str) -> dict[str, str]:
    return {"name": name, "value": value, "unit": unit, "label": label}


def _span(percent: str) -> dict[str, Any]:
    return {
        "tolerance": {"percent_of_span": percent},
        "tolerance_source": "loop data sheet",
        "indicated": True,
    }


MILLIAMPS = {"output_unit": "mA", "output_lower": "4", "output_upper": "20"}
FAST = {"source_tau_s": 0.7, "transmitter_tau_s": 0.25}
CLASS_B = {
    "tolerance": {"absolute": "0.3", "percent_of_reading": "0.5"},
    "tolerance_source": "IEC 60751, class B",
}
HOT = "Hot juice behind the well: never draw the well itself."
#: Two blocks of the workshop; in the demo their minutes pass quickly, see PACE.
BLOCK = Block()


def _pt100(tag: str, where: str, due_in: int, offset: float, **rig: Any) -> Device:
    return Device(
        tag,
        where,
        AREAS[1],
        "temperature_sensor",
        "indication",
        due_in,
        {
            "input_unit": "°C",
            "input_lower": "0",
            "input_upper": "150",
            "output_unit": "Ω",
            "output_lower": "100",
            "output_upper": "157.325",
            "characteristic": "platinum",
            "sensor": "Pt100",
            "wires": 3,
            **CLASS_B,
        },
        BlockModel(block=BLOCK, sensor="Pt100", offset_c=offset / 2),
        rig={"offset_c": offset, **rig},
        drift=0.04,
        caution=HOT,
    )


SENSORS = (
    _pt100("TE-2101", "Diffuser, cell 1", 0, 0.06),
    _pt100("TE-2102", "Diffuser, cell 4", 0, -0.09),
    _pt100("TE-2103", "Diffuser, cell 7", 0, 0.11),
    _pt100("TE-2104", "Diffuser, cell 10", 0, 0.0, immersion_share=0.02),
    Device(
        "TE-4151",
        "Boiler exhaust, after economizer",
        AREAS[3],
        "temperature_sensor",
        "indication",
        4,
        {
            "input_unit": "°C",
            "input_lower": "100",
            "input_upper": "600",
            "output_unit": "mV",
            "output_lower": "4.096",
            "output_upper": "24.905",
            "characteristic": "type_K",
            "sensor": "K",
            "tolerance": {"absolute": "2.5"},
            "tolerance_source": "IEC 60584-1, class 2",
        },
        BlockModel(block=BLOCK, sensor="K", noise_c=0.02),
        rig={"offset_c": -1.1},
        drift=-0.4,
        caution="Hot flue gas: gloves, eye protection, and the boiler's permit.",
    ),
    Device(
        "TT-3320",
        "Kiln gas, after cooler",
        AREAS[2],
        "temperature_transmitter",
        "trip",
        0,
        {
            "input_unit": "°C",
            "input_lower": "0",
            "input_upper": "600",
            "sensor": "K",
            "smart": True,
            **MILLIAMPS,
            **_span("0.5"),
        },
        LoopModel(lower=0, upper=600, sensor="K", **FAST),
        rig={"sensor_set": "J"},
        interval=180,
        caution="Kiln gas carries carbon monoxide: gas test and ventilation first.",
    ),
    Device(
        "TT-5120",
        "Syrup, fifth effect",
        AREAS[4],
        "temperature_loop",
        "control",
        2,
        {
            "input_unit": "°C",
            "input_lower": "0",
            "input_upper": "150",
            "sensor": "Pt100",
            "wires": 4,
            **MILLIAMPS,
            **_span("0.75"),
        },
        BlockModel(block=BLOCK, sensor="Pt100", lower=0.0, upper=150.0),
        rig={"output_span_percent": 1.4},
        drift=0.1,
        caution=HOT,
    ),
)
_ARM = (
    _setting("displacer_kg", "1.362", "kg", "Displacer"),
    _setting("diameter_m", "38.4", "mm", "Diameter"),
    _setting("length_m", "813", "mm", "Length"),
)
_LEVEL = {
    "input_unit": "%",
    "input_lower": "0",
    "input_upper": "100",
    "indicated_unit": "%",
    "indicated_lower": "0",
    "indicated_upper": "100",
    **MILLIAMPS,
}
LEVELS = (
    Device(
        "LT-5204",
        "Condensate, second effect",
        AREAS[4],
        "displacer_level",
        "control",
        0,
        {
            **_LEVEL,
            **_span("1"),
            "settings": [*_ARM, _setting("density", "943", "kg/m³", "Density at 120 °C")],
        },
        LoopModel(
            lower=1362.0,
            upper=474.1,
            zero_moves_span=0.1,
            span_moves_zero=0.3,
            indicated_lower=0,
            indicated_upper=100,
            indicated_decimals=1,
            **FAST,
        ),
        rig={"output_zero_percent": 1.1, "output_span_percent": 1.0, "friction_percent": 2.6},
        interval=180,
        drift=0.25,
        caution="Hot condensate under pressure in the chamber.",
    ),
    Device(
        "LT-8203",
        "Digester, oil on water",
        AREAS[7],
        "displacer_level",
        "indication",
        16,
        {
            **_LEVEL,
            **_span("1.5"),
            "settings": [
                *_ARM,
                _setting("density", "998", "kg/m³", "Density of the lower liquid"),
                _setting("upper_density", "880", "kg/m³", "Density of the upper liquid"),
            ],
        },
        LoopModel(
            lower=533.4,
            upper=422.3,
            zero_moves_span=0.1,
            span_moves_zero=0.3,
            indicated_lower=0,
            indicated_upper=100,
            indicated_decimals=1,
            **FAST,
        ),
        drift=0.2,
        caution="Methane: permit, gas test and no ignition sources.",
    ),
    Device(
        "LT-5110",
        "Feed tank, wet leg",
        AREAS[4],
        "dp_level",
        "control",
        0,
        {
            "input_unit": "kPa",
            "input_lower": "-36.106",
            "input_upper": "-10.374",
            **MILLIAMPS,
            **_span("0.5"),
            "smart": True,
            "indicated_unit": "%",
            "indicated_lower": "0",
            "indicated_upper": "100",
            "settings": [
                _setting("arrangement", "wet_leg", "", "Arrangement"),
                _setting("density", "820", "kg/m³", "Density of the liquid"),
                _setting("lower_tap_m", "0.5", "m", "Lower tap above the transmitter"),
                _setting("level_upper_m", "3.2", "m", "100 % level above the lower tap"),
                _setting("leg_height_m", "4.1", "m", "Upper tap above the transmitter"),
                _setting("fill_density", "998", "kg/m³", "Fill of the leg"),
            ],
        },
        LoopModel(
            lower=-36.106,
            upper=-10.374,
            input_decimals=3,
            indicated_lower=0,
            indicated_upper=100,
            indicated_decimals=2,
            damping_s=0.8,
            **FAST,
        ),
        rig={"sensor_zero_percent": 0.9},
        interval=180,
        drift=0.15,
    ),
    Device(
        "LT-6305",
        "Molasses tank, transmitter below the tap",
        AREAS[5],
        "dp_level",
        "indication",
        8,
        {
            "input_unit": "kPa",
            "input_lower": "10.983",
            "input_upper": "76.884",
            **MILLIAMPS,
            **_span("0.5"),
            "smart": True,
            "indicated_unit": "%",
            "indicated_lower": "0",
            "indicated_upper": "100",
            "settings": [
                _setting("arrangement", "open_or_dry", "", "Arrangement"),
                _setting("density", "1400", "kg/m³", "Density of the liquid"),
                _setting("lower_tap_m", "0.8", "m", "Lower tap above the transmitter"),
                _setting("level_upper_m", "4.8", "m", "100 % level above the lower tap"),
            ],
        },
        LoopModel(
            lower=10.983,
            upper=76.884,
            input_decimals=3,
            indicated_lower=0,
            indicated_upper=100,
            indicated_decimals=2,
            **FAST,
        ),
        drift=0.1,
    ),
)


def _flow(tag: str, where: str, due_in: int, most: str, root: str, rig: Any) -> Device:
    in_device = root == "transmitter"
    return Device(
        tag,
        where,
        AREAS[3] if tag == "FT-4161" else AREAS[1],
        "dp_flow",
        "control",
        due_in,
        {
            "input_unit": "kPa",
            "input_lower": "0",
            "input_upper": "25",
            **MILLIAMPS,
            "tolerance": {"absolute": "0.125"},
            "tolerance_source": "loop data sheet, 0.5 % of the differential pressure",
            "smart": True,
            "indicated": True,
            "indicated_unit": "t/h",
            "indicated_lower": "0",
            "indicated_upper": most,
            "characteristic": "square_root" if in_device else "linear",
            "indicated_characteristic": "linear" if in_device else "square_root",
        },
        LoopModel(
            lower=0,
            upper=25,
            characteristic="square_root" if in_device else "linear",
            receiver_characteristic="linear" if in_device else "square_root",
            indicated_lower=0,
            indicated_upper=float(most),
            input_decimals=3,
            indicated_decimals=2,
            source_offset_percent=0.01,
            noise_percent=0.003,
            **FAST,
        ),
        rig=rig,
        interval=180,
        drift=0.04,
        caution="Steam: equalize the manifold first, let the line cool."
        if tag == "FT-4161"
        else "",
    )


FLOWS = (
    _flow("FT-4161", "Live steam to turbine", 0, "40", "transmitter",
          {"receiver_characteristic": "square_root"}),
    _flow("FT-2231", "Thin juice to evaporators", 6, "250", "receiver", {}),
)  # fmt: skip
SMART = (
    Device(
        "PT-4171",
        "Turbine inlet",
        AREAS[3],
        "smart_transmitter",
        "trip",
        0,
        {
            "input_unit": "kPa",
            "input_lower": "0",
            "input_upper": "4500",
            **MILLIAMPS,
            **_span("0.25"),
            "smart": True,
            "settings": [_setting("minimum_v", "10.5", "V", "Transmitter needs at least")],
        },
        LoopModel(lower=0, upper=4500, damping_s=0.5, **FAST),
        rig={"set_upper": 4600.0, "output_zero_percent": 0.45},
        interval=180,
        drift=0.08,
        caution="Steam: let the line cool and drain before opening.",
    ),
    Device(
        "PT-7411",
        "Silo blanketing, 1 to 5 V",
        AREAS[6],
        "smart_transmitter",
        "indication",
        11,
        {
            "input_unit": "kPa",
            "input_lower": "0",
            "input_upper": "20",
            "output_unit": "V",
            "output_lower": "1",
            "output_upper": "5",
            **_span("0.5"),
            "smart": True,
        },
        LoopModel(
            lower=0,
            upper=20,
            output_lower=1.0,
            output_upper=5.0,
            low_limit=0.95,
            high_limit=5.125,
            output_decimals=4,
            input_decimals=3,
            indicated_decimals=2,
            **FAST,
        ),
        drift=0.05,
    ),
)
DEVICES = (*SENSORS, *LEVELS, *FLOWS, *SMART)
#: how much faster than real time the blocks of the demo run
PACE = {"block": 20.0, "loop": 1.0}


def _reference(
    asset: str, text: str, quantity: str, unit: str, due_in: int, **spec: str
) -> dict[str, Any]:
    return {
        "asset": asset,
        "description": text,
        "quantity": quantity,
        "unit": unit,
        "spec": spec,
        "due_in": due_in,
        "withdrawn": "",
    }


REFERENCES = (
    _reference("R-301", "Reference probe with readout, 1", "temperature", "°C", 140,
               absolute="0.03", full_scale="660", resolution="0.01"),
    _reference("R-302", "Reference probe with readout, 2", "temperature", "°C", 74,
               absolute="0.05", percent_of_reading="0.02", full_scale="420", resolution="0.01"),
    _reference("D-401", "Dry block, workshop", "heat_source", "°C", 210,
               absolute="0.03", full_scale="650"),
    _reference("D-402", "Dry block, cart", "heat_source", "°C", 96,
               absolute="0.05", full_scale="650"),
    _reference("R-311", "Sensor calibrator, cart 1", "sensor_signal", "°C", 187,
               absolute="0.2", percent_of_reading="0.02", full_scale="1300", resolution="0.1"),
    _reference("R-312", "Sensor calibrator, old", "sensor_signal", "°C", -11,
               absolute="0.4", full_scale="1300", resolution="0.1"),
    _reference("R-321", "Bench meter, ohm", "resistance", "Ω", 233,
               percent_of_reading="0.004", absolute="0.004", full_scale="1000",
               resolution="0.001"),
    _reference("R-322", "Bench meter, millivolt", "voltage", "mV", 233,
               percent_of_reading="0.005", absolute="0.003", full_scale="1000",
               resolution="0.001"),
    _reference("R-323", "Bench meter, volt", "voltage", "V", 120,
               percent_of_reading="0.005", absolute="0.0002", full_scale="10",
               resolution="0.0001"),
    _reference("R-501", "Set of weights to 2 kg", "mass", "g", 301,
               percent_of_reading="0.005", absolute="0.05", full_scale="2000", resolution="0.1"),
)  # fmt: skip
