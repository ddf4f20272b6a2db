"""One visit to an instrument, played by the virtual technician through the ordinary services."""

from __future__ import annotations

import uuid
from datetime import datetime, timedelta
from typing import Any

from calibration.engine.view.state import JobState
from calibration.simulate.technician import Technician
from verifyloop.accounts.models import User
from verifyloop.demo.works import SEED
from verifyloop.work.appending import Batch, append_events
from verifyloop.work.sent import NewEvent
from verifyloop.work.services import open_job

#: How long people take, by what they do [min].
MINUTES = {
    "put_on": 3.0,
    "taken_off": 2.5,
    "adjusted": 2.0,
    "signed": 2.0,
    "reading_taken": 0.6,
    "gas_off": 1.4,
}


MOST_STEPS = 150


class Visit:
    """A job on one instrument, step by step. Ids come from the seed, so runs repeat."""

    def __init__(self, tag: str, who: User, person: Technician, start: datetime) -> None:
        self.tag, self.who, self.person, self.clock = tag, who, person, start
        self.job = open_job(actor=who, tag=tag, now=start)
        self.seq = self.job.seq
        self.count = 0
        self.state: JobState = self.send([])

    def event(self, kind: str, /, **data: Any) -> NewEvent:
        """Return an event a little later than the one before."""
        self.clock += timedelta(minutes=MINUTES.get(kind, 0.6))
        self.count += 1
        name = f"{SEED}:{self.tag}:{self.job.number}:{self.count}"
        return NewEvent(uuid.uuid5(uuid.NAMESPACE_URL, name), kind, data, "typed", self.clock)

    def send(self, events: list[NewEvent]) -> JobState:
        """Append events; values that look like slips are kept, as the person was sure."""
        self.state = append_events(
            Batch(
                actor=self.who,
                number=self.job.number,
                expected_seq=self.seq,
                events=events,
                now=self.clock,
                identity_proven=True,
            )
        )
        self.seq = self.state.seq
        return self.state

    def step(self) -> JobState:
        """Do the present step; a run of readings is sent at once."""
        asks = self.state.task.asks
        if asks and asks[0].alone and not self.state.asked:
            return self.run(str(asks[0].id).partition(":")[0])
        acts = self.person.act(self.state)
        return self.send([self.event(kind, **self._kept(kind, data)) for kind, data in acts])

    @staticmethod
    def _kept(kind: str, data: dict[str, Any]) -> dict[str, Any]:
        """Return what is sent; with gas, what looks like a slip is kept: the person was sure."""
        return (
            {**data, "kept": True}
            if kind in ("reading_taken", "gas_set", "gas_on", "exposed")
            else data
        )

    def run(self, name: str, points: int = 99) -> JobState:
        """Take the points of a run."""
        runs = (self.state.as_found, self.state.as_left, *self.state.extra_runs)
        run = next(r for r in runs if r is not None and r.id == name)
        sent = []
        for point in run.points[run.taken : points]:
            data = self.person.reading(run, point)
            sent.append(self.event("reading_taken", kept=True, **data))
        return self.send(sent)

    def until(self, step_id: str) -> JobState:
        """Go on until a step is the present one, or the job is closed."""
        for _ in range(MOST_STEPS):
            if self.state.status != "open" or self.state.current_step == step_id:
                return self.state
            self.step()
        raise RuntimeError(f"{self.tag} stays at '{self.state.current_step}'")
