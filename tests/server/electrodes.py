"""pH loops in the database, wired to a rig or done by typing; bottles and a thermometer."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

from django.utils import timezone

from calibration.families.ph.electrode import ElectrodeModel
from calibration.families.ph.rig import Poured
from calibration.kernel.codec import encode
from tests.core.electrodes import BUFFERS, ROLES, counted_by, facts
from tests.server import works
from verifyloop.kit.models import Reference
from verifyloop.rigs.models import Rig

SOUND = ElectrodeModel(process_ph=9.2, slope=0.98, offset_mv=-3.0, programmed="primary")
COUNTED = counted_by("technical", BUFFERS["primary"][:2], SOUND)
#: by method: what is wrong, and what the certificate must name
PLANTED = {
    "ph_buffers": (
        {"programmed": "technical", "stored_slope": COUNTED[0], "stored_offset_mv": COUNTED[1]},
        "Other buffer set counted",
    ),
    "ph_check": ({"tau_s": 60.0}, "Electrode coated"),
}
POURED = {
    role: Poured("primary", nominal)
    for role, nominal in zip(ROLES, BUFFERS["primary"], strict=True)
}


def bottle(nominal, set_, **changes):
    today = timezone.localdate()
    own = {"set": set_, "nominal": nominal, "lot": "L-1", "opened_on": str(today)}
    values = {
        "description": f"Buffer {nominal}",
        "serial": "1",
        "quantity": "ph_buffer",
        "unit": "pH",
        "spec": {"absolute": "0.01", "full_scale": "14"},
        "certificate": "C-1",
        "calibrated_on": today - timedelta(days=30),
        "due_on": today + timedelta(days=200),
        "own": own,
        "amount": 1000,
        **changes,
    }
    return Reference.objects.create(asset=f"B-{nominal}", **values)


def shelf():
    """A bottle for each role, a thermometer, a meter."""
    if not Reference.objects.filter(quantity="current").exists():
        works.reference("M-9", "current", "0.01", "24", "mA")
    for set_, values in BUFFERS.items():
        for nominal in values:
            bottle(nominal, set_)
    works.reference(
        "T-1", "buffer_temperature", "0", "100", "°C", spec={"absolute": "0.3", "full_scale": "100"}
    )


def loop(tag, method="ph_buffers"):
    """One pH loop of the feedwater kind: read on the acid side, the process on the other."""
    own = facts(set_="primary", process="9.2")
    names = ("buffer_set", "process_ph", "side", "mounting")
    return works.instrument(
        tag,
        method=method,
        description="Feedwater",
        input_unit="pH",
        input_upper="14",
        output_unit="mA",
        output_lower="4",
        output_upper="20",
        tolerance={"absolute": "0.1"},
        own={name: own[name] for name in names},
        settings=own["settings"],
    )


def rig(instrument, method="ph_buffers", pace=1.0, **faults):
    """Wire a loop to a rig with a fault."""
    planted = faults or PLANTED[method][0]
    return Rig.objects.create(
        instrument=instrument,
        model=encode(replace(SOUND, **planted)),
        seed=5,
        started_at=timezone.now() - timedelta(minutes=5),
        pace=pace,
    )


def everything():
    """Every method twice: wired to a quick rig, and not."""
    shelf()
    for method in PLANTED:
        rig(loop(f"R-{method}", method), method, pace=20.0)
        loop(f"T-{method}", method)
