"""A fixed oxygen detector that reads low: the air is proven before bypass, and before it is set."""

from __future__ import annotations

from tests.walks.planner import WalkCase


class ReadsLow(WalkCase):
    """Acts 1 to 8, 10 and 11; the as left in two further gases (9) has no place yet."""

    part_of = "gas-oxygen-fixed-reads-low"
    tag = "AT-2231"

    def setUp(self):
        super().setUp()
        channel = {
            "id": "a", "gas": "oxygen", "unit": "% vol", "range": "25", "principle": "oxygen",
            "alarm": "19.5", "alarm_2": "18", "alarm_3": "23.5", "base_percent": "95",
        }  # fmt: skip
        self.enter(
            "gas_oxygen",
            self.tag,
            smart=False,
            input_unit="% vol",
            input_upper="25",
            loop_role="trip",
            indicated=False,
            tolerance={"absolute": "0.5"},
            own={"channels": [channel]},
        )
        self.rule("gas_oxygen", "nitrogen_zero", "yes")
        self.bottle("CY-41", "nitrogen", oxygen="20.9")
        self.bottle("CY-42", "nitrogen", pure=True)

    def proven(self, beside="20.8"):
        """Acts 1 to 3: 17.3 and alarms that stand; another instrument beside it."""
        visit = self.typist(self.tag, shelf={"bottled": "CY-41", "nitrogen": "CY-42", "meter": ""})
        visit.act(1)
        visit.usual("in the air around")
        visit.reading({"Display": "17.3"})
        self.assertNotIn("bypass", visit.offered())
        visit.act(3)
        visit.tells(
            {"Other instrument in the same air": "GP-07", "Oxygen that it reads there": beside}
        )
        return visit

    def test_set_in_bottled_air_once_the_air_is_proven(self):
        visit = self.proven()
        visit.act(4)
        visit.usual("CY-41")
        visit.act(5)
        visit.says("Open CY-41")
        visit.later(minutes=2)
        visit.reading({"Display": "17.3"})
        visit.act(6)
        visit.says("Open CY-42")
        visit.later(minutes=2)
        visit.reading({"Display": "0.0"})
        visit.act(7)
        self.errors(visit.run("In bottled air"), "-14.40")
        self.assertEqual(visit.advised(), ["Set zero and span"])
        visit.chooses("Set zero and span")
        visit.act(8)
        if "CY-42" in visit.offered():
            visit.says("Open CY-42")
            visit.says("zero is good")
        visit.says("Open CY-41")
        visit.later(minutes=2)
        visit.reading({"Before, if read": "17.3", "After it is set": "20.9"})
        visit.says("Open CY-41")
        visit.later(minutes=2)
        visit.reading({"Display": "20.9"})
        visit.act(9)
        visit.tells(
            {
                "Alarm 1, oxygen 19.5 % vol, falling": "came",
                "Alarm 2, oxygen 18 % vol, falling": "came",
                "Alarm 3, oxygen 23.5 % vol": "not looked at",
            }
        )
        visit.act(10)
        visit.usual("is clear|in the air around")
        visit.reading({"Display": "20.8"})
        visit.usual("is clear")
        if visit.seen["status"] == "open":
            visit.reading({"Display": "20.8"})
        visit.act(11)
        visit.usual()
        self.assertEqual((visit.forced, visit.refusals), ([], []))
        self.assertEqual(visit.seen["outcome"]["id"], "adjusted")
        words = visit.words()
        for said in ("GP-07", "Alarm 3, oxygen 23.5 % vol: not looked at", "82.8 %"):
            self.assertIn(said, words)
        self.assertEqual(self.learnt(self.tag)["base_percent"], "78.6")

    def test_in_poor_air_no_bypass_is_taken_and_nothing_is_set(self):
        visit = self.proven(beside="17.4")
        self.assertEqual(visit.seen["judgement"]["causes"][0]["cause"], "air_poor")
        visit.refused("the air is not good", visit.says, "All done")
        visit.form("Stop this job…", {"Why": "area not safe"}, "The job could not be done")
        visit.usual()
        self.assertEqual(visit.seen["outcome"]["id"], "stopped")
