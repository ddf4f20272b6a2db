"""One gas detector of each method in the database, wired to a rig or done by typing; the gas."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

from django.utils import timezone

from calibration.kernel.codec import encode
from tests.core.detectors import DETECTORS
from tests.server import works
from verifyloop.kit.models import Cylinder, Reference
from verifyloop.rigs.models import Rig

#: by method: head, what is wrong with it, and what the certificate must name
PLANTED = {
    "gas_bump": (0, {"plugged": 0.6}, "Filter plugged"),
    "gas_zero_span": (0, {"response": 0.8, "zero": -4.0}, "Gas in the background"),
    "gas_infrared": (0, {"zero": -5.0}, "Gas in the background"),
    "gas_oxygen": (0, {"response": 0.86}, "Sensor aged"),
    "gas_two_channel": (1, {"response": 0.7}, "Sensor aged"),
    "gas_portable": (1, {"response": 0.75}, "Sensor aged"),
    "gas_receiving": (2, {"response": 0.8}, "Sensor aged"),
}
FOUR = [
    {"gas": "methane", "value": "50", "unit": "%LEL"},
    {"gas": "carbon monoxide", "value": "100", "unit": "ppm"},
    {"gas": "hydrogen sulfide", "value": "25", "unit": "ppm"},
    {"gas": "oxygen", "value": "18", "unit": "% vol"},
]


def cylinder(asset, parts, **more):
    today = timezone.localdate()
    values = {
        "description": "cylinder",
        "parts": parts,
        "lot": f"L-{asset}",
        "certificate": "GC-1",
        "filled_on": today - timedelta(days=100),
        "expires_on": today + timedelta(days=100),
        "water_l": "10",
        "pressure_bar": "60",
        "flow_l_per_min": "0.5",
        **more,
    }
    return Cylinder.objects.create(asset=asset, **values)


def shelf():
    """A cylinder for each role, and some that must not be taken."""
    today = timezone.localdate()
    if not Reference.objects.filter(quantity="current").exists():
        works.reference("M-9", "current", "0.01", "24", "mA")
    if not Reference.objects.filter(quantity="voltage").exists():
        works.reference("V-9", "voltage", "0.01", "24", "V")
    cylinder("G-1", [], description="zero air")
    cylinder("G-2", [{"gas": "methane", "value": "50", "unit": "%LEL"}])
    cylinder("G-3", [{"gas": "carbon monoxide", "value": "100", "unit": "ppm"}])
    cylinder("G-4", [], balance="nitrogen")
    cylinder("G-5", FOUR, balance="nitrogen", demand=True, flow_l_per_min="")
    cylinder("G-7", [{"gas": "methane", "value": "25", "unit": "%LEL"}], pressure_bar="5.2")
    cylinder(
        "G-8",
        [{"gas": "methane", "value": "50", "unit": "%LEL"}],
        expires_on=today - timedelta(days=3),
    )
    cylinder("G-9", [{"gas": "methane", "value": "50", "unit": "%LEL", "lel_set": "NFPA"}])


def detector(tag, method, **changes):
    """A detector of a method."""
    facts, _ = DETECTORS[method]
    record = {
        "method": method,
        "description": method.replace("_", " "),
        "indicated": False,
        **{k: v for k, v in facts.items() if k != "channels"},
        "own": {"channels": facts["channels"]},
    }
    own = {
        "zero_minutes": {"value": "0.5", "unit": "min", "source": "manual"},
        "span_minutes": {"value": "1", "unit": "min", "source": "manual"},
    }
    return works.instrument(tag, parameters=own, **{**record, **changes})


def rig(of, method, pace=60.0, **changes):
    """Wire a detector to a rig with a fault in one of its heads."""
    head, faults, _ = PLANTED[method]
    faults = changes.pop("faults", faults)
    _, model = DETECTORS[method]
    heads = list(model.heads)
    heads[head] = replace(heads[head], **faults)
    return Rig.objects.create(
        instrument=of,
        model=encode(replace(model, heads=tuple(heads), **changes)),
        seed=11,
        started_at=timezone.now() - timedelta(seconds=30),
        pace=pace,
    )


def everything():
    """Every method twice: ``R-`` with a rig, ``T-`` for typing; and rounds of bump checks."""
    shelf()
    for method in PLANTED:
        rig(detector(f"R-{method}", method), method)
        detector(f"T-{method}", method)
    area = works.Area.objects.create(name="Biogas hall", order=8)
    for n in range(1, 4):
        rig(detector(f"GR-{n}", "gas_bump", area=area), "gas_bump", faults={})
    area = works.Area.objects.create(name="Kiln", order=9)
    for n in range(1, 4):
        detector(f"GT-{n}", "gas_bump", area=area)
