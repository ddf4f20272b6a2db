"""One instrument of each family in the database, wired to a rig or done by typing."""

from __future__ import annotations

from datetime import timedelta

from django.utils import timezone

from calibration.kernel.codec import encode
from calibration.simulate.block import BlockModel
from tests.core.families import FAMILIES, METHOD_OF, UNITS
from tests.server import works
from verifyloop.kit.models import Reference
from verifyloop.rigs.models import Rig

#: What is wrong with each, and what the judgement must call it; in minutes of the rigs' own time.
PLANTED = {
    "smart_transmitter": (
        {"damping_s": 0.4, "set_upper": 5000.0},
        "Wrong range set",
    ),
    "pt100_sensor": ({"immersion_share": 0.03}, "Too little immersion"),
    "type_k_sensor": ({"swapped": True}, "Swapped polarity"),
    "pt100_transmitter": ({"lead_ohm": 2.0}, "Lead resistance of two wires"),
    "type_k_transmitter": ({"sensor_set": "J"}, "Wrong sensor type"),
    "temperature_loop": ({"output_span_percent": 1.6}, "Span error"),
    "displacer": ({"output_zero_percent": 1.4, "output_span_percent": 0.6}, "Zero shift"),
    "dp_level": ({"sensor_zero_percent": 0.9}, "Zero shift"),
    "flow_root_in_transmitter": (
        {"receiver_characteristic": "square_root"},
        "Root taken twice",
    ),
    "flow_root_in_receiver": ({"output_span_percent": 2.0}, "Span error"),
}
QUICK = {"source_tau_s": 0.7, "transmitter_tau_s": 0.25}


#: There are two blocks, each with its probe and its meter.
TWO = ("heat_source", "temperature", "resistance")


def shelf():
    """A reference for each quantity, all good enough; two blocks."""
    today = timezone.localdate()
    for quantity, (unit, full_scale, percent) in UNITS.items():
        for number in (1, 2) if quantity in TWO else (1,):
            Reference.objects.create(
                asset=f"{quantity[:4].upper()}-{number}",
                description=quantity.replace("_", " "),
                serial="1",
                quantity=quantity,
                unit=unit,
                spec={
                    "percent_of_reading": percent,
                    "full_scale": full_scale,
                    "resolution": "0.0001",
                },
                certificate="C-1",
                calibrated_on=today - timedelta(days=100),
                due_on=today + timedelta(days=100),
            )


def instrument(tag, family, **changes):
    """An instrument of a family; three points, so that a run is short."""
    facts, _ = FAMILIES[family]
    record = {
        "method": METHOD_OF[family],
        "description": family.replace("_", " "),
        "smart": False,
        "indicated": False,
        "output_lower": "0",
        "output_upper": "1",
        **facts,
    }
    if family == "pt100_transmitter":
        record["wires"] = 2
    points = "0 25 50 100" if record["method"] == "dp_flow" else "3"
    own = {
        "points": {"value": points, "unit": "", "source": "manual"},
        "stable_dwell_s": {"value": "3", "unit": "s", "source": "manual"},
    }
    return works.instrument(tag, parameters=own, **{**record, **changes})


def rig(of, family, pace=100.0, **faults):
    """Wire a rig with a fault to an instrument; blocks go on faster."""
    _, model = FAMILIES[family]
    block = isinstance(model, BlockModel)
    model = type(model)(**{**vars(model), **({} if block else QUICK), **faults})
    return Rig.objects.create(
        instrument=of,
        model=encode(model),
        seed=11,
        started_at=timezone.now() - timedelta(seconds=30),
        pace=200.0 if block else pace,
    )


def everything():
    """Every family twice: ``R-`` with a rig, ``T-`` for typing."""
    shelf()
    for family, (faults, _) in PLANTED.items():
        rig(instrument(f"R-{family}", family), family, **faults)
        instrument(f"T-{family}", family)
