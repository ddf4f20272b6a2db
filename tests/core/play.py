"""Jobs for tests, event by event, admitted as the server would."""

from __future__ import annotations

import uuid
from datetime import UTC, datetime, timedelta

import calibration.families  # noqa: F401  # registers them
from calibration.engine.admission.admit import admit
from calibration.engine.job.events import make_event
from calibration.engine.job.fold import fold
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.engine.method.family import newest
from calibration.simulate.commands import Command
from calibration.simulate.loop import LoopModel, live
from tests.core.asking import adjustment

START = datetime(2026, 5, 4, 8, 0, tzinfo=UTC)
METHOD = newest("pressure_transmitter")
FACTS = {
    "tag": "PT-1",
    "serial": "S-77",
    "description": "Drum pressure",
    "area": "Boiler house",
    "loop_role": "control",
    "input_unit": "kPa",
    "input_lower": "0",
    "input_upper": "4000",
    "output_unit": "mA",
    "output_lower": "4",
    "output_upper": "20",
    "tolerance": {"percent_of_span": "0.5"},
    "tolerance_source": "data sheet",
    "smart": True,
    "indicated": True,
}


def asset(name="R-1", quantity="pressure", percent="0.025", due="2027-01-01", **more):
    full_scale, unit = ("7000", "kPa") if quantity == "pressure" else ("24", "mA")
    spec = {"percent_of_full_scale": percent, "full_scale": full_scale, "resolution": "0.001"}
    return {
        "asset": name,
        "description": "module",
        "serial": "1",
        "quantity": quantity,
        "unit": unit,
        "spec": spec,
        "certificate": "C-1",
        "calibrated_on": "2026-01-01",
        "due_on": due,
        **more,
    }


class Play:
    """One job on the 0 to 4000 kPa loop."""

    def __init__(self, parameters=None, facts=None, **faults):
        self.events = []
        self.model = LoopModel(lower=0, upper=4000, **faults)
        self.commands, self.t = [], 0.0
        opened = {
            "job": "J-1",
            "instrument": {**FACTS, **(facts or {})},
            "method": METHOD.id,
            "version": METHOD.version,
            "parameters": parameters or {},
        }
        self.push("opened", **opened)

    @property
    def now(self):
        return START + timedelta(seconds=30 * len(self.events))

    def push(self, kind, /, by="Ana", **data):
        event = make_event(
            id=str(uuid.uuid5(uuid.NAMESPACE_OID, str(len(self.events)))),
            seq=len(self.events) + 1,
            kind=kind,
            at=self.now.isoformat(),
            by=by,
            role="technician",
            source="typed",
            data=data,
        )
        if self.events:
            admit(self.job(), event, {e.id: e for e in self.events})
        self.events.append(event)
        return event

    def standing(self):
        return self.job()

    def job(self):
        return Job(build(METHOD, self.events), self.now)

    def state(self, events=None, now=None):
        return fold(METHOD, self.events if events is None else events, now or self.now)

    def prepare(self, warm=True):
        self.push("kit_chosen", role="pressure_reference", asset=asset())
        self.push("kit_chosen", role="milliampere_meter", asset=asset("M-1", "current", "0.01"))
        self.push("recorded", step="operator", field="operator", value="Jo")
        self.push("put_on", step="bypass")
        for item in ("closed", "vented", "zero"):
            self.push("confirmed", step="isolate", item=item)
        self.push("recorded", step="identity", field="serial", value="s-77")
        self.push("recorded", step="settings", field="lower", value="0")
        self.push("recorded", step="settings", field="upper", value="4000")
        for item in ("alarms", "mode"):
            self.push("confirmed", step="state", item=item)
        self.push("put_on", step="connect")
        self.push("recorded", step="ambient", field="temperature", value="21")
        if warm:
            self.push("timer_waived", step="warm_up", reason="powered all week")
        return self

    def see(self, value=None):
        if value is not None:
            self.commands.append(Command(t=self.t, kind="apply", value=float(value)))
            self.t += 30
        seen = live(self.model, self.commands, self.t, 5)
        return {
            "applied": str(seen.applied),
            "digital": str(seen.digital),
            "reading": str(seen.output),
            "indicated": str(seen.indicated),
        }

    def run(self, name, points=99, skip=()):
        plan = getattr(self.state(), name).points
        for point in plan[:points]:
            if point.index in skip:
                continue
            values = self.see(point.target_value)
            self.push("reading_taken", run=name, point=point.index, kept=True, **values)
        return self

    def adjust(self):
        for _ in range(12):
            advice = adjustment(self)
            if advice is None:
                return self
            values = self.see(advice.apply_value)
            if not advice.check:
                self.commands.append(Command(t=self.t, kind="trim", hop=advice.hop, end=advice.end))
                self.t += 30
                values = self.see()
            self.push(
                "adjusted",
                hop=advice.hop,
                end=advice.end,
                action="check" if advice.check else "trim",
                **values,
            )
        raise AssertionError("adjusting does not end")

    def give_back(self):
        self.push("taken_off", step="disconnect")
        for item in ("valves", "covers", "settings"):
            self.push("confirmed", step="restore", item=item)
        self.push("taken_off", step="unbypass")
        self.push("signed", name="Ana", statement="done")
        return self
