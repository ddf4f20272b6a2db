"""Sensors in one block that are read by hand: each says which of the others waits for what."""

from tests.core.families import FAMILIES
from tests.server import families
from tests.server.base import ApiCase
from tests.server.test_walks import TOLD
from tests.server.walker import TypedWalk


class Turns(ApiCase):
    def setUp(self):
        super().setUp()
        families.shelf()

    def at_found(self, tag):
        families.instrument(tag, "pt100_sensor")
        walk = TypedWalk(self, tag, TOLD, FAMILIES["pt100_sensor"][1])
        walk.walk("as_found")
        return walk

    def turns(self, walk):
        found = self.must(self.ana.get(f"/api/v1/jobs/{walk.job}/turns"))
        return [(t["tag"], t["same"]) for t in found]

    def test_by_turns_at_each_point(self):
        one, two, _ = (self.at_found(tag) for tag in ("TE-1", "TE-2", "TE-3"))
        self.assertEqual(self.turns(one), [("TE-2", True), ("TE-3", True)])
        one.step(one.seen, one.seen["tasks"][0], one.seen["tasks"][0]["asks"][0])
        # One has gone on; the two others still wait for the first point.
        self.assertEqual(self.turns(two), [("TE-3", True), ("TE-1", False)])
        self.assertEqual(self.turns(one), [("TE-2", False), ("TE-3", False)])

    def test_what_is_not_in_a_block_has_no_turns(self):
        families.instrument("PT-50", "smart_transmitter")
        walk = TypedWalk(self, "PT-50", TOLD, FAMILIES["smart_transmitter"][1])
        self.assertEqual(self.turns(walk), [])
