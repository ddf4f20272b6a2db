"""Portable chromatographs in the database, by rig or by typing; gas and traps."""

from __future__ import annotations

from datetime import timedelta

from django.utils import timezone

from calibration.families.chromatograph.model import GcModel
from calibration.kernel.codec import encode
from tests.core.gcs import LINES, OUT_OF, PARTS, PEAKS, shares
from tests.server import works
from verifyloop.rigs.models import Rig

#: by method: what is wrong, and what the certificate must name
PLANTED = {"gc_calibrate": ({"aged_percent": 8.0}, "Detector weaker")}
TOLD = {"serial": "S-77"}
POURED = {"calibration_gas": shares(OUT_OF)}


def shelf():
    """A gas, a trap, a syringe."""
    opened = str(timezone.localdate() - timedelta(days=20))
    works.reference("C-7", "gc_gas", "2", "10000", "ppm", own={"parts": PARTS}, amount=100)
    works.reference("Y-7", "gas_syringe", "0.1", "5", "mL", own={"volume_ml": "5"})
    works.reference("T-7", "gas_trap", "1", "100", "ppm", own={"opened_on": opened})


def device(tag, method="gc_calibrate"):
    """One chromatograph of the oil laboratory."""
    return works.instrument(
        tag,
        method=method,
        description="Oil laboratory",
        input_unit="ppm",
        input_upper="10000",
        output_unit="ppm",
        output_lower="0",
        output_upper="10000",
        tolerance={"percent_of_reading": "5", "percent_of_span": "0.01"},
        smart=False,
        indicated=False,
        own={"peaks": PEAKS},
    )


def sound(**faults):
    """A chromatograph as it is, with faults."""
    return GcModel(lines=LINES, **faults)


def rig(instrument, pace=1.0, **faults):
    """Wire a chromatograph to a rig with faults."""
    return Rig.objects.create(
        instrument=instrument,
        model=encode(sound(**faults)),
        seed=5,
        started_at=timezone.now() - timedelta(minutes=5),
        pace=pace,
    )


def everything():
    """The method twice: wired to a quick rig, and not."""
    shelf()
    for method, (faults, _) in PLANTED.items():
        rig(device(f"R-{method}", method), pace=20.0, **faults)
        device(f"T-{method}", method)
        rig(device(f"F-{method}", method), pace=20.0)
