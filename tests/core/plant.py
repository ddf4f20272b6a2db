"""Instruments of the plant that are virtual machines: what a job knows of one, and a job on it.

Tests of the core, of the server and of the browser take their instruments from here.
"""

from __future__ import annotations

from copy import copy
from dataclasses import dataclass, field, replace
from typing import Any

from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.engine.method.family import newest
from calibration.kernel.numbers import exact
from calibration.simulate.technician import Technician
from tests.core.families import Visit, asset

DISPLAYED = {
    "loop_role": "control",
    "input_lower": "0",
    "output_lower": "0",
    "tolerance_source": "its maker",
    "smart": False,
    "indicated": False,
}
TAGGED = {"tag": "X-5", "serial": "S-77", "area": "Evaporation"}


@dataclass(frozen=True, kw_only=True)
class Spec:
    """One method with an instrument that fits it, and with something that may be wrong."""

    method: str
    description: str
    unit: str
    upper: str
    tolerance: dict
    own: dict
    model: Any
    #: references: name, quantity, unit, own values
    shelf: tuple = ()
    #: a fault of the model, what the certificate calls it, and one that setting cures
    planted: dict = field(default_factory=dict)
    cause: str = ""
    settable: dict = field(default_factory=dict)
    told: dict = field(default_factory=dict)
    #: by reference: what is really so, where the label says otherwise
    settings: tuple = ()

    @property
    def facts(self):
        """What a job knows of it, but tag and serial number."""
        return {
            **DISPLAYED,
            "description": self.description,
            "input_unit": self.unit,
            "input_upper": self.upper,
            "output_unit": self.unit,
            "output_upper": self.upper,
            "tolerance": self.tolerance,
            **({"settings": list(self.settings)} if self.settings else {}),
        }


def reference(name, quantity, unit, **own):
    """A reference of a family's own."""
    spec = {"percent_of_reading": "0.05", "full_scale": "100000"}
    return {
        **asset("mass"),
        "asset": name,
        "description": name,
        "quantity": quantity,
        "unit": unit,
        "spec": spec,
        **own,
    }


class PlantVisit(Visit):
    """One job from plan to signature."""

    def __init__(
        self, spec, seed=5, parameters=None, asks=False, answers=None, own=None, shelf=None, **model
    ):
        self.method = newest(spec.method)
        self.person = Technician(
            replace(spec.model, **model),
            seed,
            {q: reference(n, q, u, **{**o, **(shelf or {})}) for n, q, u, o in spec.shelf},
            {"operator": "Jo", **spec.told, **(answers or {})},
            serial="S-77",
            reason="as in the procedure",
        )
        self.events = []
        self.push(
            "opened",
            job="J-1",
            instrument={**TAGGED, **spec.facts, **spec.own, **(own or {})},
            method=self.method.id,
            version=self.method.version,
            parameters={k: {"value": v, "source": "test"} for k, v in (parameters or {}).items()},
            **({"asks": True} if asks else {}),
        )

    def model(self, **changes):
        """Change the machine."""
        self.person.model = replace(self.person.model, **changes)
        return self

    def causes(self):
        return [c.cause for c in self.state().judgement.causes]


def forked(first, seed):
    """Return a visit that goes on from where another stands, with noise of its own."""
    visit = copy(first)
    visit.events = list(first.events)
    visit.person = replace(first.person, seed=seed, commands=list(first.person.commands))
    return visit


def named(visit):
    """Go on to the judgement; return the causes before and after what tells them apart."""
    state = visit.until("judge")
    with exact():
        job = visit.standing()
        figures = job.as_found
        first = causes_before(visit) if "tell_apart" in {k for k, _ in job.ledger.recorded} else ()
    last = tuple(c.cause for c in state.judgement.causes)
    return figures, first or last, last


def causes_before(visit):
    """Return the causes as they stood before one more measurement was made."""
    events = [e for e in visit.events if getattr(e.content, "step", "") != "tell_apart"]
    job = Job(build(visit.method, events), visit.now)
    return tuple(c.cause for c in job.as_found.causes)
