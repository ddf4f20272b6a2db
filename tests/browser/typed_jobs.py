"""make jobs: eleven whole jobs typed in the browser, with clicks counted and each entry's fact.

Not run by ``make test``. It writes docs/jobs.md.
"""

from __future__ import annotations

import os
from dataclasses import replace
from pathlib import Path

from calibration.simulate.commands import Share
from calibration.simulate.detector import Head
from calibration.simulate.technician import Bottle, Technician
from tests.browser.base import BrowserCase
from tests.browser.walker import Walker
from tests.core.detectors import ANSWERS, BOTTLES, DETECTORS, HEADS, PORTABLE_MODEL
from tests.core.families import FAMILIES
from tests.process import RealServer

PAGE = Path(__file__).resolve().parents[2] / "docs/jobs.md"
PICTURES = os.environ.get("VERIFYLOOP_PICTURES", "")
TOLD = {**ANSWERS, "operator": "Jo, shift B"}
BUTANE = Head(
    id="a", gas="butane", unit="%LEL", range=100, principle="infrared", gas_value=50, alarm=20
)
THREE = replace(PORTABLE_MODEL, heads=(BUTANE, *PORTABLE_MODEL.heads[1:3]))
THREE_BOTTLES = {
    "span_gas": Bottle((Share(gas="butane", percent=0.7),)),
    "span_gas_b": Bottle((Share(gas="carbon monoxide", percent=0.01),)),
    "span_gas_c": Bottle((Share(gas="hydrogen sulfide", percent=0.0025),), "nitrogen"),
}
CO_ALONE = replace(DETECTORS["gas_zero_span"][1], heads=(replace(HEADS["co"], id="a"),))
CO_BOTTLES = {**BOTTLES, "span_gas": BOTTLES["span_gas_b"]}


def one(method, n=0, **faults):
    """A detector of a method with a fault in one head."""
    model = DETECTORS[method][1]
    heads = list(model.heads)
    heads[n] = replace(heads[n], **faults)
    return replace(model, heads=tuple(heads))


def of(family, **faults):
    return replace(FAMILIES[family][1], **faults)


#: name, tag, what is there, what comes out of the cylinders
JOBS = (
    ("Sensor in a block", "J-sensor", of("pt100_sensor"), None),
    (
        "Smart transmitter, output out",
        "J-smart",
        of("smart_transmitter", output_zero_percent=1.2),
        None,
    ),
    (
        "Displacer, weights and liquid",
        "J-displacer",
        of("displacer", output_zero_percent=1.4, output_span_percent=0.6),
        None,
    ),
    ("Two channels, one aged", "J-two", one("gas_two_channel", 1, response=0.75), BOTTLES),
    ("A sensor at the end of its life", "J-life", one("gas_zero_span", response=0.35), BOTTLES),
    ("Bump that fails, then calibration", "J-bump", one("gas_bump", response=0.7), BOTTLES),
    ("Infrared, dirty window", "J-infrared", one("gas_infrared", response=0.7), BOTTLES),
    ("Catalytic bead", "J-catalytic", one("gas_zero_span", response=0.8, zero=4.0), BOTTLES),
    ("Portable of three gases, butane", "J-three", THREE, THREE_BOTTLES),
    (
        "Receiving, one sensor dead",
        "J-received",
        replace(
            THREE, heads=(THREE.heads[0], replace(THREE.heads[1], response=0.1), THREE.heads[2])
        ),
        THREE_BOTTLES,
    ),
    ("Electrochemical cell", "J-co", CO_ALONE, CO_BOTTLES),
)


class Counting(Walker):
    """Counts what is pressed and what is typed."""

    presses = values = 0
    #: decided where it is offered, whatever is advised: a new one that fails goes back
    decides = ""

    def choose(self, state, ask):
        offered = {c["id"]: c["label"] for c in ask["options"]}
        if self.decides not in offered:
            super().choose(state, ask)
            return
        label = offered[self.decides]
        self.press(self.page.get_by_role("button", name=label, exact=True))
        self.put(self.page.get_by_label("Why"), "goes back to the maker")
        self.press(self.page.locator("form").last.get_by_role("button", name=label))
        self.changed(state["seq"])

    def press(self, button):
        self.presses += 1
        super().press(button)

    def state_so(self, state, ask):
        super().state_so(state, ask)
        if ask["id"] == "replace":
            fresh = tuple(replace(head, response=1.0) for head in self.typist.model.heads)
            self.typist.model = replace(self.typist.model, heads=fresh)

    def put(self, box, value):
        self.values += 1
        super().put(box, value)


class TypedJobs(BrowserCase):
    def server(self):
        if not hasattr(self, "own"):
            self.own = RealServer()
            self.addCleanup(self.own.close)
            self.own.seed("tests.browser.typed_works")
            self.own.start()
        return self.own

    def test_every_job(self):
        rows, facts = [], []
        for name, tag, model, bottles in JOBS:
            page, job = self.begin(tag)
            typist = Technician(model, seed=5, bottles=bottles or {})
            walker = Counting(page, self.server().address, job, typist, TOLD)
            walker.decides = "stop" if tag == "J-received" else ""
            if PICTURES:
                walker.look = lambda step, page=page, tag=tag: page.screenshot(
                    path=f"{PICTURES}/{tag}-{step}.png"
                )
            state = walker.walk()
            history = page.context.request.get(
                f"{self.server().address}/api/v1/jobs/{job}/history"
            ).json()
            # The paper is issued by the product, and is no entry of the person.
            own = [line["text"] for line in reversed(history)]
            own = [text for text in own if not text.startswith("Certificate issued")]
            words = state["outcome"]["words"]
            rows.append((name, walker.presses, walker.values, len(own), words))
            facts.append((name, own))
            page.context.close()
        PAGE.write_text(written(rows, facts), "utf-8")


def written(rows, facts):
    """Return the page: one line a job, then the fact that each entry records."""
    lines = [
        "# Eleven jobs, typed",
        "",
        "Each was done whole in the browser, typed from a device of the person's own (`make jobs` "
        "does them again). *Presses* are taps or Enter on a button, *values* are fields typed; "
        "an entry is one fact on record, the opening and the signature among them.",
        "",
        "| job | presses | values | entries | came to |",
        "|---|---|---|---|---|",
        *(f"| {' | '.join(map(str, row))} |" for row in rows),
        "",
        "## The fact of each entry",
    ]
    for name, own in facts:
        lines += ["", f"### {name}", "", *(f"{n}. {text}" for n, text in enumerate(own, 1))]
    return "\n".join(lines) + "\n"
