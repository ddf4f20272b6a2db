"""The demo has at hand what the newest methods ask of its detectors."""

from types import SimpleNamespace

from django.test import SimpleTestCase

import calibration.families  # noqa: F401  # registers them
from calibration.engine.method.family import newest
from verifyloop.demo import gas
from verifyloop.demo.detectors import DETECTORS


def measures(role):
    """What a reference of a role measures at a detector."""
    return "current" if role.quantity == "output" else role.quantity


class AtHand(SimpleTestCase):
    def test_there_is_something_for_every_role_of_every_detector(self):
        who = SimpleNamespace(username="tessa")
        for spec in DETECTORS:
            at_hand = gas._assets(spec, who)
            count = len(spec.channels)
            for step in newest(spec.method).steps:
                for role in step.roles:
                    with self.subTest(tag=spec.tag, role=role.id):
                        if role.channel < count:
                            self.assertTrue({role.id, measures(role)} & set(at_hand))
