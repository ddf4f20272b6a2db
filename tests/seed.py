"""Fill a fresh database with the small works of the tests; run as a module."""

import os

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "verifyloop.settings")
django.setup()

from django.db import transaction  # noqa: E402  (Django must be set up first)

from tests.server import (  # noqa: E402
    detectors,
    electrodes,
    families,
    gcs,
    mixtures,
    plant,
    traces,
    works,
)


@transaction.atomic
def fill() -> None:
    """Make people, instruments, references and quick rigs."""
    works.people()
    works.shelf()
    for number in range(1, 11):
        works.instrument(f"PT-{number}")
    for tag, faults in (
        ("PT-21", {"output_zero_percent": 0.48, "output_span_percent": 0.86}),
        ("PT-22", {"hysteresis_percent": 1.2}),
        ("PT-23", {"sensor_zero_percent": 0.9}),
        ("PT-24", {"receiver_span_percent": 4.0}),
    ):
        works.rig(works.instrument(tag), pace=100.0, **faults)
    for tag in ("PT-30", "PT-31", "PT-32", "PT-33", "PT-34"):
        works.instrument(tag)
    families.everything()
    detectors.everything()
    electrodes.everything()
    traces.everything()
    mixtures.everything()
    gcs.everything()
    plant.everything()


if __name__ == "__main__":
    fill()
