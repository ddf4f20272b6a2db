"""A detector's job is not closed with gas, adapter or bypass on, or before it is purged.

Thousands of random orders of everything that a client can send, right or wrong.
"""

from __future__ import annotations

import random
import uuid
from datetime import timedelta

from django.test import SimpleTestCase

from calibration.engine.admission.admit import admit
from calibration.engine.job.events import make_event
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.families.gas.ledger import gas_of
from calibration.kernel.errors import InputError
from tests.core.detectors import GasVisit
from tests.long import several

ORDERS = several(full=10_000, small=250)
TRIES = 14
#: What a client may send near the end of a bump, sensible and not.
SENT = (
    ("gas_on", {"step": "as_found", "role": "span_gas", "flow": "0.5"}),
    ("gas_off", {"step": "as_found"}),
    (
        "reading_taken",
        {
            "run": "as_found",
            "point": 0,
            "applied": "50",
            "digital": "50",
            "reading": "12.0",
            "kept": True,
        },
    ),
    ("taken_off", {"step": "adapter_off"}),
    ("put_on", {"step": "adapter"}),
    ("confirmed", {"step": "alarm", "item": "reset"}),
    (
        "reading_taken",
        {"run": "air_left", "point": 0, "applied": "0", "digital": "0.2", "reading": "4.03"},
    ),
    (
        "reading_taken",
        {"run": "air_left", "point": 0, "applied": "0", "digital": "40", "reading": "10.4"},
    ),
    (
        "reading_taken",
        {"run": "air_left", "point": 0, "applied": "0", "digital": "0", "reading": "2.0"},
    ),
    ("taken_off", {"step": "unbypass"}),
    ("put_on", {"step": "bypass"}),
    ("decided", {"step": "judge", "choice": "leave"}),
    ("retract", {}),
    ("recorded", {"step": "alarms_seen", "field": "any", "value": "came"}),
    ("signed", {"name": "Ana", "statement": "done"}),
)


#: Places in ``SENT`` of a bump done in its order.
PROPER = (0, 2, 1, 13, 3, 6, 5, 9, 14)


class Orders(SimpleTestCase):
    def test_no_order_of_events_closes_a_job_that_is_not_safe(self):
        visit = GasVisit("gas_bump")
        visit.until("as_found")
        start, method = list(visit.events), visit.method
        chance = random.Random(2026)
        closed = 0
        for _ in range(ORDERS):
            events = list(start)
            ledger = build(method, events)
            proper = iter(PROPER)
            for _ in range(TRIES):
                # Often the proper next thing, or no order would ever come to an end.
                kind, data = chance.choice(SENT)
                if chance.random() < 0.6:
                    kind, data = SENT[next(proper, len(SENT) - 1)]
                if kind == "retract":
                    target = chance.choice(events[-6:])
                    kind, data = "retracted", {"event": target.id, "reason": "slip"}
                now = visit.now + timedelta(seconds=40 * len(events))
                event = make_event(
                    id=str(uuid.UUID(int=chance.getrandbits(128))),
                    seq=len(events) + 1,
                    kind=kind,
                    at=now.isoformat(),
                    by="Ana",
                    role="technician",
                    source="typed",
                    data=data,
                )
                try:
                    admit(Job(ledger, now), event, {e.id: e for e in events})
                except InputError:
                    continue
                events.append(event)
                if kind == "retracted":
                    ledger = build(method, events)
                else:
                    ledger.add(event)
                if kind == "signed":
                    closed += 1
                    self.safe(ledger)
                    break
        self.assertGreater(closed, 0, "no order got to the end: the test would prove nothing")

    def safe(self, ledger):
        """What must hold of every job that was closed."""
        self.assertIsNone(gas_of(ledger).flowing)
        self.assertEqual(ledger.on_now(), [])
        last = ledger.readings["air_left"][0].content
        self.assertLessEqual(float(last.digital), 2.5)
        self.assertGreaterEqual(float(last.reading), 3.6)
