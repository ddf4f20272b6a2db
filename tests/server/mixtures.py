"""Analyzers of several components in the database, by rig or by typing; their gases."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

from django.utils import timezone

from calibration.families.mixture.model import MixModel
from calibration.kernel.codec import encode
from tests.core.mixtures import CELLS, COMPONENTS, MIXED, OUT_OF, PROCESS, shares
from tests.server import works
from verifyloop.rigs.models import Rig

#: by method: the cell of carbon monoxide as it is, and what the certificate must name
PLANTED = {"mixture_calibrate": ({"gain": 0.96}, "Span moved")}
TOLD = {"operator": "Jo", "serial": "S-77"}
POURED = {"zero_gas": (), "mixture": shares(OUT_OF)}


def shelf():
    """A zero gas and a mixture."""
    works.reference(
        "N-5", "mixture_zero", "1", "100", "% vol", own={"balance": "nitrogen"}, amount=900
    )
    works.reference("C-5", "mixture", "2", "100", "% vol", own={"parts": list(MIXED)}, amount=900)


def analyzer(tag, method="mixture_calibrate"):
    """One analyzer of kiln gas, read at its display."""
    return works.instrument(
        tag,
        method=method,
        description="Kiln gas",
        input_unit="% vol",
        input_upper="50",
        output_unit="% vol",
        output_lower="0",
        output_upper="50",
        tolerance={"percent_of_span": "2"},
        smart=False,
        indicated=False,
        own={"components": COMPONENTS},
    )


def sound(**cell):
    """An analyzer as it is, with a change of its carbon monoxide."""
    cells = (CELLS[0], replace(CELLS[1], **cell), CELLS[2])
    return MixModel(cells=cells, process=PROCESS)


def rig(instrument, pace=1.0, model=None, **cell):
    """Wire an analyzer to a rig with a fault."""
    return Rig.objects.create(
        instrument=instrument,
        model=encode(model or sound(**cell)),
        seed=5,
        started_at=timezone.now() - timedelta(minutes=5),
        pace=pace,
    )


def by_itself(tag, started_at, **model):
    """One that zeroes by itself every hour, on a rig that runs since a moment."""
    instrument = analyzer(tag)
    instrument.own = {**instrument.own, "auto_zero_minutes": "60"}
    instrument.save()
    cells = (
        replace(CELLS[0], zero_per_day=2.4),
        replace(CELLS[1], zero_per_day=-1.2),
        CELLS[2],
    )
    whole = MixModel(cells=cells, process=PROCESS, zeroes_every_s=3600.0)
    return Rig.objects.create(
        instrument=instrument, model=encode(replace(whole, **model)), seed=5, started_at=started_at
    )


def everything():
    """The method twice: wired to a quick rig, and not."""
    shelf()
    for method, (cell, _) in PLANTED.items():
        rig(analyzer(f"R-{method}", method), pace=20.0, **cell)
        analyzer(f"T-{method}", method)
    by_itself("A-kiln", timezone.now() - timedelta(days=4, minutes=1))
