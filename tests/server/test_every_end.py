"""Each way in which a job of each method can end, by typing, as the table of docs/safety.md says.

Every cell of that table is a test here: what the job comes to, and what each place then says.
"""

from __future__ import annotations

import re
from dataclasses import replace

from django.conf import settings

from calibration.engine.judging.outcome import words_of
from calibration.engine.method.family import newest
from calibration.engine.view.state import JobState
from calibration.kernel.codec import decode
from tests.core.detectors import BOTTLES, DETECTORS, MIX
from tests.core.families import FAMILIES, LoopModel
from tests.long import several
from tests.server import detectors, electrodes, families, gcs, mixtures, plant, traces, works
from tests.server.base import ApiCase
from tests.server.test_walks import SPANS, TOLD, TOLD_OF_GAS, TOLD_OF_PH
from tests.server.walker import TypedWalk
from tests.server.works import event
from verifyloop.plant.models import Instrument, Plan

WORDS = {
    "within": "within limits",
    "adjusted": "within limits after adjusting",
    "failed": "failed, out of service",
    "stopped": "stopped, not judged",
    "limited": "limited use: outside limits, kept in service",
}
#: Columns of the table: what is decided at the first judgement, and whether a fault is planted.
ENDS = {
    "nothing wrong": ("", None),
    "set right": ("", "settable"),
    "kept in service": ("leave", "kept"),
    "stopped, outside": ("stop", "planted"),
    "stopped, nothing outside": ("stop", None),
}
#: What a setting cures, where the planted fault is another.
SETTABLE = {
    "pressure_transmitter": {"output_span_percent": 1.5},
    "smart_transmitter": {"sensor_zero_percent": 1.5},
    "pt100_transmitter": {"output_span_percent": 3.0},
    "type_k_transmitter": {"output_span_percent": 3.0},
    "flow_root_in_transmitter": {"output_span_percent": 2.0},
    "gas_bump": {"response": 0.8},
    "gas_zero_span": {"response": 0.8},
    "gas_infrared": {"zero": 5.0},
    "ph_buffers": {"slope": 0.93, "offset_mv": 12.0},
    "trace_new_sensor": {},
    **plant.SETTABLE,
}
#: What reads below zero in clean air cannot be kept: another fault.
KEPT = {name: {"response": 0.8} for name in ("gas_infrared", "gas_zero_span")}
PLANTED = {"pressure_transmitter": {"output_span_percent": 1.5}}


EVERY = (
    families.PLANTED,
    detectors.PLANTED,
    electrodes.PLANTED,
    traces.PLANTED,
    mixtures.PLANTED,
    gcs.PLANTED,
    plant.PLANTED,
)
#: What each planted fault is called.
CAUSE = {
    "pressure_transmitter": "Span error",
    **{name: row[-1] for rows in EVERY for name, row in rows.items()},
}
#: Asks whose entries do not ask anything of each other.
AT_ONCE = ("tell", "wait")


class Ended(TypedWalk):
    """The same person, who decides something else at the first judgement."""

    choice = ""

    def step(self, state, todo, ask):
        if self.choice in [c["id"] for c in ask["options"]]:
            return self.say(ask["sends"], choice=self.choice, reason="as agreed")
        if any(v["row"] for v in ask["values"]) and self.choice:
            return self.unset(state)
        if ask["way"] not in AT_ONCE and not (ask["way"] == "state" and not ask["also"]):
            return super().step(state, todo, ask)
        # What one person enters in one breath is sent in one: these are many jobs.
        said = self.person.act(decode(JobState, state, ""))
        self.seen = self.case.must(self.post(state["seq"], *(event(k, **d) for k, d in said)))
        return self.later(25)

    def unset(self, state):
        """Read what is read together and set nothing of it: it is decided otherwise."""
        [(kind, data)] = self.person.act(decode(JobState, state, ""))
        read = {k: v for k, v in data.items() if not k.endswith("_after")}
        self.send(event(kind, kept=True, **read))


def faults_of(name, what, planted):
    """Return the faults of an end: none, the planted ones, or such as a setting cures."""
    if what is None:
        return {}
    others = {"settable": SETTABLE, "kept": KEPT}.get(what, {})
    return others.get(name, planted)


class EveryEnd(ApiCase):
    def walk(self, choice, *arguments):
        kind = type("Ended", (Ended,), {"choice": choice})
        walk = kind(self, "X-1", *arguments)
        state = walk.walk()
        self.assertEqual(state["status"], "signed")
        return walk.job, state["outcome"]["id"]

    def transmitter(self, name, choice, what):
        if name in PLANTED:
            works.instrument("X-1")
            model = LoopModel(lower=0, upper=4000)
            return self.walk(choice, TOLD, replace(model, **faults_of(name, what, PLANTED[name])))
        families.shelf()
        families.instrument("X-1", name)
        faults = faults_of(name, what, families.PLANTED[name][0])
        return self.walk(choice, TOLD, replace(FAMILIES[name][1], **faults))

    def detector(self, name, choice, what):
        detectors.shelf()
        head, planted, _ = detectors.PLANTED[name]
        _, model = DETECTORS[name]
        heads = list(model.heads)
        heads[head] = replace(heads[head], **faults_of(name, what, planted))
        bottles = BOTTLES if model.milliamps else dict.fromkeys(SPANS, MIX)
        detectors.detector("X-1", name)
        return self.walk(choice, TOLD_OF_GAS, replace(model, heads=tuple(heads)), bottles)

    def electrode(self, name, choice, what):
        electrodes.shelf()
        electrodes.loop("X-1", name)
        faults = faults_of(name, what, electrodes.PLANTED[name][0])
        model = replace(electrodes.SOUND, **faults)
        return self.walk(choice, TOLD_OF_PH, model, electrodes.POURED)

    def trace(self, name, choice, what):
        traces.shelf()
        traces.analyzer("X-1", name)
        faults = faults_of(name, what, traces.PLANTED[name][0])
        return self.walk(choice, traces.TOLD, traces.sound(**faults))

    def mixture(self, name, choice, what):
        mixtures.shelf()
        mixtures.analyzer("X-1", name)
        model = mixtures.sound(**faults_of(name, what, mixtures.PLANTED[name][0]))
        return self.walk(choice, mixtures.TOLD, model, mixtures.POURED)

    def gc(self, name, choice, what):
        gcs.shelf()
        gcs.device("X-1", name)
        model = gcs.sound(**faults_of(name, what, gcs.PLANTED[name][0]))
        return self.walk(choice, gcs.TOLD, model, gcs.POURED)

    def plant(self, name, choice, what):
        plant.shelf()
        plant.instrument("X-1", name)
        model = plant.machine(name, **faults_of(name, what, plant.PLANTED[name][0]))
        return self.walk(choice, plant.told(name), model)

    def due(self):
        today = self.must(self.ana.get("/api/v1/today"))
        found = [d for a in today["areas"] for d in a["due"] if d["tag"] == "X-1"]
        return found[0]["due_text"] if found else ""

    def ends(self, kind, name, end, wanted):
        choice, what = ENDS[end]
        job, outcome = getattr(self, kind)(name, choice, what)
        self.assertEqual(outcome, wanted)
        good = outcome in ("within", "adjusted")
        self.papers(job, outcome, good)
        if what == "planted":
            self.named(job, name)
        strip = [i["kind"] for i in self.must(self.ana.get("/api/v1/safety"))["items"]]
        out = Instrument.objects.get(tag="X-1").out_of_service
        plan = Plan.objects.get(instrument__tag="X-1")
        if good or outcome == "limited":
            self.assertEqual((out, strip, self.due()), (None, [], ""))
            self.assertIsNotNone(plan.next_due)
            return
        page = self.must(self.ana.get("/api/v1/instruments/X-1"))
        self.assertEqual((out["job"], out["to"]), (job, "workshop"))
        self.assertEqual(strip, ["out"])
        self.assertIn("out of service since", self.due())
        self.assertIn("with workshop", page["out_of_service"])
        self.assertEqual(plan.next_due is None, outcome == "failed")

    def named(self, job, name):
        """The planted fault has its name on the certificate, and the PDF is one."""
        files = f"/api/v1/records/{job}/certificate"
        said = self.must(self.ana.get(f"{files}.json"))
        self.assertIn(CAUSE[name], said["judgement"]["causes"])
        self.assertTrue(said["judgement"]["adjusting"])
        self.assertEqual(self.ana.get(f"{files}.pdf").content[:4], b"%PDF")

    def papers(self, job, outcome, good):
        """What the job came to is what certificate, history and Records say, word for word."""
        verdict = self.must(self.ana.get(f"/api/v1/records/{job}/certificate.json"))["verdict"]
        self.assertEqual((verdict["outcome"]["id"], verdict["outcome"]["good"]), (outcome, good))
        page = self.must(self.ana.get("/api/v1/instruments/X-1"))
        record = self.must(self.ana.get("/api/v1/records"))["records"][0]
        words = words_of(newest(page["method"]["id"]), outcome)
        self.assertEqual(verdict["outcome"]["words"], words)
        for listed in (page["past"][0]["outcome"], record["outcome"]):
            self.assertEqual(listed, "" if good else words)
        marks = (record["mark_left"], page["past"][0]["mark_left"])
        if good:
            self.assertLessEqual(set(marks), {"within", "near"})
            self.assertIn(verdict["as_left"].split(",")[0], "within limits")
        else:
            self.assertEqual(verdict["as_left"], words)
            self.assertNotIn("within", marks)


def rows():
    """Yield name, end and outcome of each cell of the table that is no dash."""
    text = (settings.BASE_DIR / "docs" / "safety.md").read_text("utf-8")
    table = text.split("## Each method, each end")[1].split("\n## ")[0]
    lines = [line.strip("| \n").split(" | ") for line in table.splitlines() if line[:1] == "|"]
    head, _, *body = lines
    for name, *cells in body:
        for end, cell in zip(head[1:], cells, strict=True):
            yield re.sub(r"[`\s]", "", name), end, cell.strip()


def kind_of(name):
    return (
        "detector"
        if name in detectors.PLANTED
        else "electrode"
        if name in electrodes.PLANTED
        else "trace"
        if name in traces.PLANTED
        else "mixture"
        if name in mixtures.PLANTED
        else "gc"
        if name in gcs.PLANTED
        else "plant"
        if name in plant.PLANTED
        else "transmitter"
    )


def _add(name, end, outcome):
    def test(self):
        self.ends(kind_of(name), name, end, outcome)

    setattr(EveryEnd, f"test_{name}_{re.sub('[ ,]+', '_', end)}", test)


class TheTable(ApiCase):
    def test_it_has_every_method_and_every_end(self):
        cells = list(rows())
        names = {name for name, _, _ in cells}
        self.assertEqual(names, {*PLANTED, *(name for rows in EVERY for name in rows)})
        self.assertEqual({end for _, end, _ in cells}, set(ENDS))
        self.assertLessEqual({cell for _, _, cell in cells}, {*WORDS, "–"})


#: In small every fourth cell of the table, one or two of each method; in the long run all.
_cells = [row for row in rows() if row[2] != "–"]
for _name, _end, _outcome in _cells[:: several(full=1, small=4)]:
    _add(_name, _end, _outcome)
