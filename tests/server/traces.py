"""Trace oxygen analyzers in the database, wired to a rig or done by typing; gas and regulators."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

from django.utils import timezone

from calibration.families.trace.model import TraceModel
from calibration.kernel.codec import encode
from tests.server import works
from verifyloop.kit.models import Reference
from verifyloop.rigs.models import Rig

#: by method: what is wrong, and what the certificate must name
PLANTED = {
    "trace_oxygen": ({"response": 0.85}, "Sensor weaker"),
    "trace_new_sensor": ({"leak_ul_min": 16.0}, "Air leaks in"),
}
TOLD = {"operator": "Jo", "serial": "S-77", "air_seconds": "20", "sensor_serial": "N-2"}


def shelf():
    """Gas, a regulator on it, a meter."""
    if not Reference.objects.filter(quantity="current").exists():
        works.reference("M-9", "current", "0.01", "24", "mA")
    since = str(timezone.localdate() - timedelta(days=90))
    gas = {"oxygen_ppm": "8", "uncertainty_percent": "3", "bar": "100"}
    on = {"mounted_on": "C-9", "mounted_since": since, "low_bar": "5"}
    works.reference("C-9", "trace_gas", "3", "8", "ppm", own=gas, amount=900)
    works.reference("V-9", "regulator", "1", "10", "bar", own=on)


def analyzer(tag, method="trace_oxygen"):
    """One analyzer over a silo."""
    return works.instrument(
        tag,
        method=method,
        description="Nitrogen over the silo",
        input_unit="ppm",
        input_upper="20",
        output_unit="mA",
        output_lower="4",
        output_upper="20",
        tolerance={"combine": "greatest", "absolute": "0.2", "percent_of_reading": "5"},
        own={"sample_ppm": "2", "holds_minutes": "20", "air_seconds": "2"},
    )


def sound(**faults):
    """An analyzer as it is, with faults."""
    return replace(TraceModel(upper=20.0, process_ppm=2.0, noise_percent=0.1), **faults)


def rig(instrument, pace=1.0, **faults):
    """Wire an analyzer to a rig with faults."""
    return Rig.objects.create(
        instrument=instrument,
        model=encode(sound(**faults)),
        seed=5,
        started_at=timezone.now() - timedelta(minutes=5),
        pace=pace,
    )


def everything():
    """Every method twice: wired to a quick rig, and not."""
    shelf()
    for method in PLANTED:
        rig(analyzer(f"R-{method}", method), pace=20.0, **PLANTED["trace_oxygen"][0])
        analyzer(f"T-{method}", method)
