"""What measures the measurers, besides pressure modules. Everything here is invented."""

from __future__ import annotations

from typing import Any


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
