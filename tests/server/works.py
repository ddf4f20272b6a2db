"""A small works for tests of the server: two people, three instruments, a shelf of references."""

from __future__ import annotations

import uuid
from datetime import timedelta

from django.utils import timezone

from calibration.kernel.codec import encode
from calibration.simulate.loop import LoopModel
from verifyloop.accounts.models import User
from verifyloop.kit.models import Reference
from verifyloop.plant.models import Area, Instrument
from verifyloop.rigs.models import Rig

PASSWORD = "long-enough-7"


def people():
    found = {}
    for name, role in (
        ("ana", "technician"),
        ("ben", "technician"),
        ("rea", "reviewer"),
        ("pia", "planner"),
    ):
        user = User(username=name, first_name=name.title(), last_name="Test", role=role)
        user.set_password(PASSWORD)
        user.save()
        found[name] = user
    return found


def of_each_role(people):
    """Add somebody of each role that none of the people has as a name."""
    for role in map(str, User.Role.values):
        user = User(username=role, first_name=role.title(), last_name="Role", role=role)
        user.set_password(PASSWORD)
        user.save()
        people[role] = user


def instrument(tag="PT-1", **changes):
    area, _ = Area.objects.get_or_create(name="Boiler house", defaults={"order": 1})
    values = {
        "serial": "S-77",
        "description": "Drum pressure",
        "area": area,
        "method": "pressure_transmitter",
        "loop_role": "control",
        "input_unit": "kPa",
        "input_lower": "0",
        "input_upper": "4000",
        "tolerance": {"percent_of_span": "0.5"},
        "tolerance_source": "data sheet",
        "smart": True,
        "indicated": True,
        "next_due": timezone.localdate(),
        **changes,
    }
    return Instrument.objects.planned(tag=tag, **values)


def reference(asset, quantity, percent, full_scale, unit, **changes):
    today = timezone.localdate()
    spec = {"percent_of_full_scale": percent, "full_scale": full_scale, "resolution": "0.001"}
    values = {
        "description": f"{quantity} reference",
        "serial": "1",
        "quantity": quantity,
        "unit": unit,
        "spec": spec,
        "certificate": "C-1",
        "calibrated_on": today - timedelta(days=100),
        "due_on": today + timedelta(days=100),
        **changes,
    }
    return Reference.objects.create(asset=asset, **values)


def shelf():
    reference("R-1", "pressure", "0.025", "7000", "kPa")
    reference("R-2", "pressure", "0.5", "7000", "kPa", description="Test gauge")
    reference(
        "R-3", "pressure", "0.025", "7000", "kPa", due_on=timezone.localdate() - timedelta(days=1)
    )
    reference("M-1", "current", "0.01", "24", "mA")


def rig(of, pace=100.0, **faults):
    model = LoopModel(lower=float(of.input_lower), upper=float(of.input_upper), **faults)
    started = timezone.now() - timedelta(seconds=30)
    return Rig.objects.create(
        instrument=of, model=encode(model), seed=11, started_at=started, pace=pace
    )


def event(kind, /, id="", source="typed", **data):
    return {"id": id or str(uuid.uuid4()), "kind": kind, "data": data, "source": source}


#: everything up to the as-found run
PREPARED = [
    ("kit_chosen", {"role": "pressure_reference", "asset": "R-1"}),
    ("kit_chosen", {"role": "milliampere_meter", "asset": "M-1"}),
    ("recorded", {"step": "operator", "field": "operator", "value": "Jo"}),
    ("put_on", {"step": "bypass"}),
    ("confirmed", {"step": "isolate", "item": "closed"}),
    ("confirmed", {"step": "isolate", "item": "vented"}),
    ("confirmed", {"step": "isolate", "item": "zero"}),
    ("recorded", {"step": "identity", "field": "serial", "value": "S-77"}),
    ("recorded", {"step": "settings", "field": "lower", "value": "0"}),
    ("recorded", {"step": "settings", "field": "upper", "value": "4000"}),
    ("confirmed", {"step": "state", "item": "alarms"}),
    ("confirmed", {"step": "state", "item": "mode"}),
    ("put_on", {"step": "connect"}),
    ("recorded", {"step": "ambient", "field": "temperature", "value": "21,5"}),
    ("timer_waived", {"step": "warm_up", "reason": "powered all week"}),
]
#: applied, read: nine points of a good instrument, up and down
GOOD = [
    ("0", "4.00"),
    ("1000", "8,01"),
    ("2000", "12.01"),
    ("3000", "16.01"),
    ("4000", "20.02"),
    ("3000", "16.02"),
    ("2000", "12.02"),
    ("1000", "8.02"),
    ("0", "4.00"),
]
RETURNED = [
    ("decided", {"step": "judge", "choice": "leave"}),
    ("taken_off", {"step": "disconnect"}),
    ("confirmed", {"step": "restore", "item": "valves"}),
    ("confirmed", {"step": "restore", "item": "covers"}),
    ("confirmed", {"step": "restore", "item": "settings"}),
    ("taken_off", {"step": "unbypass"}),
]


def prepared():
    return [event(kind, **data) for kind, data in PREPARED]


def readings(run="as_found", values=GOOD):
    return [
        event("reading_taken", run=run, point=i, applied=applied, reading=read)
        for i, (applied, read) in enumerate(values)
    ]


def returned():
    return [event(kind, **data) for kind, data in RETURNED]
