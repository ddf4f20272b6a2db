"""Transmitters from Today to the certificate, by rig and by typing: each kind of panel once."""

from __future__ import annotations

from dataclasses import replace

from playwright.sync_api import expect

from calibration.simulate.technician import Technician
from tests.browser.base import ON_PHONE, ON_TABLET, BrowserCase
from tests.browser.looking import Look
from tests.browser.walker import Walker
from tests.core.families import FAMILIES
from tests.long import LONG
from tests.server.families import PLANTED

#: What is in the hand: nothing but keys, a tablet, a phone; the finger is gloved.
HANDS = {"displacer": (ON_PHONE, True)}
RIG_HANDS = {"smart_transmitter": (ON_TABLET, True)}
BY_KEYS = ("smart_transmitter",)
#: Walks in which every step is looked at in daylight and at night.
AXE = ("smart_transmitter",)


class Families(BrowserCase):
    """The one server holds every family twice: wired to a rig, and not."""

    def ended(self, page, job: str, cause: str) -> None:
        """The certificate opens, and says what was found."""
        expect(page.get_by_role("link", name="Open the certificate")).to_be_visible()
        files = f"{self.server().address}/api/v1/records/{job}/certificate"
        said = page.context.request.get(f"{files}.json").json()
        self.assertIn(cause, said["judgement"]["causes"])
        self.assertTrue(said["judgement"]["adjusting"])
        self.assertEqual(page.context.request.get(f"{files}.pdf").body()[:4], b"%PDF")

    def by_rig(self, family: str) -> None:
        hands, touch = RIG_HANDS.get(family, ({}, False))
        page, job = self.begin(f"R-{family}", **hands)
        look = Look(self, page, glove=touch)
        Walker(page, self.server().address, job, touch=touch, look=look).walk()
        self.ended(page, job, PLANTED[family][1])

    def by_typing(self, family: str) -> None:
        faults, cause = PLANTED[family]
        _, model = FAMILIES[family]
        typist = Technician(replace(model, **faults), seed=5)
        hands, touch = HANDS.get(family, ({}, False))
        page, job = self.begin(f"T-{family}", **hands)
        look = Look(self, page, glove=touch, axe=family in AXE)
        keys = family in BY_KEYS
        Walker(page, self.server().address, job, typist, None, touch, keys, look).walk()
        self.ended(page, job, cause)


def _add(way: str, family: str) -> None:
    def test(self: Families) -> None:
        getattr(self, way)(family)

    setattr(Families, f"test_{family}_{way}", test)


#: A whole walk for each kind of panel; every family walks through the API in tests/server.
BY_RIG = [
    "pt100_sensor",  # a block that goes on by itself
]
BY_TYPING = ["smart_transmitter"]  # settings written and read back, fixed currents
if LONG:
    BY_RIG += ["smart_transmitter", "displacer"]  # the latter: screws, weights
    BY_TYPING += ["displacer", "flow_root_in_transmitter"]
for _family in BY_RIG:
    _add("by_rig", _family)
for _family in BY_TYPING:
    _add("by_typing", _family)
