"""Make the kept jobs of a method whose newest version has none yet.

``python -m tests.replay.record METHOD``. Jobs that are kept already are never recorded over. With
``VERIFYLOOP_DATA`` pointing at a filled demo, some of its jobs are taken as well.
"""

from __future__ import annotations

import gzip
import json
import random
import sys
import uuid
from contextlib import suppress

from calibration.engine.admission.admit import admit
from calibration.engine.job.events import make_event
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.engine.job.sealing import canonical
from calibration.engine.method.family import newest
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact
from tests.replay.adapter import changes
from tests.replay.decide import write
from tests.replay.play_again import JOBS, kept, looks, papers
from tests.replay.played import planned
from tests.replay.raw import raw_paper
from tests.replay.words import words_then

MOST_TURNS = 150
#: What happens at each turn of a wandering job: the proper thing, anything, taking back, a note.
SHARES = (0.72, 0.86, 0.94)


def said_of(event):
    return {
        name: getattr(event, name)
        for name in ("id", "seq", "kind", "at", "by", "role", "source", "data")
    }


class Wander:
    """A job that goes astray: wrong entries are tried, right ones taken back."""

    def __init__(self, visit, others, seed):
        self.visit, self.others = visit, others
        self.chance = random.Random(seed)
        self.refused = []

    def tried(self, kind, data):
        visit = self.visit
        if kind == "signed":
            data = {"name": "Ana", "statement": "done"}
        event = make_event(
            id=str(uuid.UUID(int=self.chance.getrandbits(128))),
            seq=len(visit.events) + 1,
            kind=kind,
            at=visit.now.isoformat(),
            by="Ana",
            role="technician",
            source="typed",
            data=data,
        )
        try:
            with exact():
                job = Job(build(visit.method, visit.events), visit.now)
            admit(job, event, {e.id: e for e in visit.events})
        except InputError as no:
            said = words_then({"message": no.message, "remedy": no.remedy})
            words = [no.code, no.field, *said.values()]
            self.refused.append([len(visit.events), said_of(event), words])
            return
        visit.events.append(event)

    def turn(self):
        state = self.visit.state()
        x = self.chance.random()
        if x < SHARES[0]:
            for kind, data in self.visit.person.act(state):
                kept = kind in ("reading_taken", "adjusted", "gas_set", "gas_on", "exposed")
                self.tried(kind, {**data, "kept": True} if kept else data)
        elif x < SHARES[1]:
            other = self.chance.choice(self.others)
            self.tried(other.kind, dict(other.data))
        elif x < SHARES[2]:
            target = self.chance.choice(self.visit.events[-6:])
            self.tried("retracted", {"event": target.id, "reason": "slip"})
        else:
            self.tried("noted", {"text": f"remark {len(self.visit.events)}"})

    def whole(self):
        for _ in range(MOST_TURNS):
            if self.visit.state().status != "open":
                break
            try:
                self.turn()
            except (InputError, StopIteration, KeyError, AssertionError, IndexError):
                # The device refuses, or the virtual technician has lost its way; a person would
                # take something back.
                target = self.chance.choice(self.visit.events[-6:])
                self.tried("retracted", {"event": target.id, "reason": "lost"})
        return self.visit.events, self.refused


def recorded(name, method, version, said, refused=()):
    """Return a job with every state it goes through."""
    before, states = {}, []
    for now in looks(method, version, said, raw=True):
        states.append(changes(before, now))
        before = now
    return {
        "name": name,
        "method": method,
        "version": version,
        "events": said,
        "states": states,
        "papers": papers(method, version, said, raw=True),
        "refused": list(refused),
        "raw": True,
    }


def of_demo(method, most=4):
    """Return jobs of a filled demo: the newest, those adjusted, and those with a finding."""
    import django  # noqa: PLC0415  (only where a database is at hand)

    django.setup()
    from verifyloop.work.models import Event, Job  # noqa: PLC0415

    jobs = Job.objects.filter(method=method).order_by("number")
    wanted = [
        *jobs.filter(status="open")[:2],
        *jobs.filter(adjusted=True)[:1],
        *jobs.exclude(causes="")[:1],
        *jobs.filter(adjusted=False)[:1],
        *jobs.reverse()[:most],
    ]
    for job in list({j.pk: j for j in wanted}.values())[:most]:
        texts = Event.objects.filter(job=job).order_by("seq").values_list("payload", flat=True)
        said = [{k: v for k, v in json.loads(text).items() if k != "job"} for text in texts]
        yield recorded(f"demo {job.number}", method, job.method_version, said)


def of_tests(method):
    """Return jobs played whole, and jobs that go astray."""
    others = []
    for name, visit in planned(method):
        with suppress(InputError):  # a job that cannot go on stays as it is
            visit.until("")
        said = [said_of(e) for e in visit.events]
        others += [e for e in visit.events if e.kind != "opened"]
        yield recorded(name, method, visit.method.version, said)
    for seed in (11, 12, 13):
        visits = list(planned(method))
        name, visit = visits[seed % len(visits)]
        events, refused = Wander(visit, others, seed).whole()
        said = [said_of(e) for e in events]
        yield recorded(f"astray {seed} {name}", method, visit.method.version, said, refused)


def main(methods, demo):
    JOBS.mkdir(exist_ok=True)
    for method in methods:
        version = newest(method).version
        if kept(method, version):
            raise SystemExit(f"{method} {version} is kept already: a difference is a decision.")
        place = JOBS / f"{method}.{version}.jsonl.gz"
        found = [*(of_demo(method) if demo else ()), *of_tests(method)]
        with gzip.GzipFile(place, "wb", mtime=0) as out:
            for job in found:
                out.write((canonical(job) + "\n").encode())
        write(
            place,
            [{"name": j["name"], "paper": raw_paper(method, version, j["events"])} for j in found],
        )
        print(method, len(found), sum(len(j["events"]) for j in found), place.stat().st_size)


if __name__ == "__main__":
    names = [a for a in sys.argv[1:] if not a.startswith("--")]
    main(names, "--demo" in sys.argv)
