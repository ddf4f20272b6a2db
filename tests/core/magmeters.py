"""Electromagnetic flow meters played by the virtual technician: raw juice."""

from __future__ import annotations

from calibration.families.magmeter.facts import TestLine
from calibration.families.magmeter.model import MagModel
from calibration.kernel.codec import decode, encode
from tests.core.plant import PlantVisit, Spec


def line(id, label, part, reference, kind="percent", **more):
    given = {"id": id, "label": label, "part": part, "kind": kind, "reference": reference}
    return decode(TestLine, {**given, **more}, "line")


LINES = (
    line("a", "Coil resistance", "coil", "62.0", limit_percent="3", unit="Ω", copper=True),
    line("b", "Coil insulation", "coil", "100", "at_least", unit="MΩ"),
    line("c", "Magnetic field", "coil", "100", limit_percent="1", unit="%"),
    line("d", "Electrode 1", "electrode", "12.4", limit_percent="60", unit="kΩ"),
    line("e", "Electrode 2", "electrode", "12.6", limit_percent="60", unit="kΩ"),
    line("f", "Electrode insulation", "electrode", "100", "at_least", unit="MΩ"),
    line("g", "Output at 4 mA", "output", "4", "absolute", limit="0.02", unit="mA"),
    line("h", "Output at 20 mA", "output", "20", "absolute", limit="0.02", unit="mA"),
    line("i", "Frequency", "electronics", "1000", limit_percent="0.2", unit="Hz"),
    line("j", "Alarm relay", "electronics", "1", "yes_no"),
)
VERIFY = Spec(
    method="magmeter_verify",
    description="Raw juice to purification",
    unit="m³/h",
    upper="400",
    tolerance={"percent_of_span": "0.5"},
    own={
        "build": "remote",
        "size_mm": "200",
        "conductivity_us_cm": "1800",
        "lines": [{k: v for k, v in encode(x).items() if v is not None} for x in LINES],
    },
    model=MagModel(lines=LINES),
    shelf=(("P-1", "flow_tester", "%", {"uncertainty_percent": "0.02"}),),
    planted={"shorted_percent": 8.0},
    cause="Turns of the coil shorted",
    told={"program": "4.2"},
)
SPECS = {VERIFY.method: VERIFY}


class MagVisit(PlantVisit):
    """One job on an electromagnetic flow meter."""

    def __init__(self, **more):
        super().__init__(VERIFY, **more)
