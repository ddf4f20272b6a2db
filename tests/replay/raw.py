"""What a kept job gives today, unchanged: its states and its paper, as screens and papers get them.

``today/`` holds, beside each file of ``jobs/``, the paper of every job as it reads today, compared
raw; and of a job that reads otherwise than it was recorded, by a decision, all that it gives now.
The recorded jobs themselves are never written over.
"""

from __future__ import annotations

import gzip
from pathlib import Path
from typing import Any

import orjson

from calibration.engine.job.events import make_event
from calibration.engine.job.fold import view
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.engine.job.sealing import canonical, seal
from calibration.engine.method.family import method_for
from calibration.engine.papers.certificate import Beside, certificate
from calibration.kernel.codec import encode
from calibration.kernel.numbers import exact

TODAY = Path(__file__).with_name("today")
#: What an entry did not say yet when it was recorded.
ACCOUNT = {"account": "ana"}


def plain(value: Any) -> Any:
    """Return anything as the plain values that are sent and stored."""
    return orjson.loads(orjson.dumps(value, default=encode))


def raw_paper(method: str, version: int, said: list[dict[str, Any]]) -> Any:
    """Return the whole certificate of a job, people and clocks among it; empty while open."""
    events = [make_event(**{**ACCOUNT, **one}) for one in said]
    job = Job(build(method_for(method, version), events), events[-1].when)
    with exact():
        state = view(job, events)
        if state.status == "open":
            return {}
        head = ""
        for one in said:
            head = seal(head, canonical({"job": state.job, **one}))
        return plain(certificate(job, state, head, Beside(site={}, events=events)))


def today(place: Path) -> dict[str, dict[str, Any]]:
    """Return what is kept beside a file of jobs, by the name of the job."""
    there = TODAY / place.name
    if not there.exists():
        return {}
    with gzip.open(there) as lines:
        return {one["name"]: one for one in map(orjson.loads, lines)}
