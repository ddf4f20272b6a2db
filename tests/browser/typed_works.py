"""The works of the typed jobs: one instrument for each, and the gases of the portable."""

import os

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "verifyloop.settings")
django.setup()

from django.db import transaction  # noqa: E402  (Django must be set up first)

from tests.core.detectors import CO, PORTABLE_CHANNELS, channel  # noqa: E402
from tests.server import detectors, families, works  # noqa: E402
from verifyloop.kit.models import Cylinder  # noqa: E402

BUTANE = channel("a", "butane", "%LEL", "100", "infrared", "50", demand=True)
THREE = [BUTANE, {**CO, "range": "500", "demand": True}, PORTABLE_CHANNELS[2]]


@transaction.atomic
def fill() -> None:
    """Make people, instruments and references."""
    works.people()
    works.shelf()
    families.shelf()
    detectors.shelf()
    Cylinder.objects.filter(asset="G-5").delete()
    for asset, gas, value, unit, balance in (
        ("G-11", "butane", "50", "%LEL", "air"),
        ("G-12", "hydrogen sulfide", "25", "ppm", "nitrogen"),
    ):
        detectors.cylinder(
            asset, [{"gas": gas, "value": value, "unit": unit}], balance=balance, demand=True
        )
    for tag, family in (
        ("J-sensor", "pt100_sensor"),
        ("J-smart", "smart_transmitter"),
        ("J-displacer", "displacer"),
    ):
        families.instrument(tag, family)
    for tag, method in (
        ("J-two", "gas_two_channel"),
        ("J-life", "gas_zero_span"),
        ("J-bump", "gas_bump"),
        ("J-infrared", "gas_infrared"),
        ("J-catalytic", "gas_zero_span"),
    ):
        detectors.detector(tag, method)
    for tag, method in (("J-three", "gas_portable"), ("J-received", "gas_receiving")):
        detectors.detector(tag, method, own={"channels": THREE})
    detectors.detector(
        "J-co",
        "gas_zero_span",
        own={"channels": [{**CO, "id": "a"}]},
        input_unit="ppm",
        input_upper="300",
    )


if __name__ == "__main__":
    fill()
