"""What an instrument of the made-up works is, and what several of them share."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from calibration.simulate.block import Block, BlockModel
from calibration.simulate.rigs import Model


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


def setting(name: str, value: str, unit: str, label: str) -> dict[str, str]:
    return {"name": name, "value": value, "unit": unit, "label": label}


def span(percent: str) -> dict[str, Any]:
    return {
        "tolerance": {"percent_of_span": percent},
        "tolerance_source": "loop data sheet",
        "indicated": True,
    }


MILLIAMPS = {"output_unit": "mA", "output_lower": "4", "output_upper": "20"}
FAST: dict[str, Any] = {"source_tau_s": 0.7, "transmitter_tau_s": 0.25}
CLASS_B = {
    "tolerance": {"absolute": "0.3", "percent_of_reading": "0.5"},
    "tolerance_source": "IEC 60751, class B",
}
HOT = "Hot juice behind the well: never draw the well itself."
#: Two blocks of the workshop; in the demo their minutes pass quickly, see PACE.
BLOCK = Block()
