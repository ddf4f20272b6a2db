"""Instruments of the plant in the database, by rig or by typing; what they are compared with."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

from django.utils import timezone

from calibration.kernel.codec import encode
from tests.core.plants import EVERY
from tests.server import works
from verifyloop.kit.models import Reference
from verifyloop.rigs.models import Rig

#: by method: the fault that is planted, and what the certificate must name
PLANTED = {name: (spec.planted, spec.cause) for name, spec in EVERY.items()}
SETTABLE = {name: spec.settable for name, spec in EVERY.items()}


def told(method):
    """What a person answers who is asked."""
    return {"operator": "Jo", "serial": "S-77", **EVERY[method].told}


def shelf():
    """Everything that instruments of the plant are compared with."""
    for spec in EVERY.values():
        for name, quantity, unit, own in spec.shelf:
            if not Reference.objects.filter(asset=name).exists():
                works.reference(name, quantity, "0.05", "100000", unit, own=own)


def instrument(tag, method):
    """One instrument that a method fits."""
    spec = EVERY[method]
    return works.instrument(tag, method=method, own=spec.own, **spec.facts)


def machine(method, **faults):
    """An instrument as it is, with a fault."""
    return replace(EVERY[method].model, **faults)


def rig(instrument, method, pace=1.0, **faults):
    """Wire an instrument to a rig with a fault."""
    return Rig.objects.create(
        instrument=instrument,
        model=encode(machine(method, **faults)),
        seed=5,
        started_at=timezone.now() - timedelta(minutes=5),
        pace=pace,
    )


def everything():
    """Every method twice: wired to a quick rig, and not."""
    shelf()
    for method, (faults, _) in PLANTED.items():
        rig(instrument(f"R-{method}", method), method, pace=60.0, **faults)
        instrument(f"T-{method}", method)
