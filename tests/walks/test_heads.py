"""Heads of one gas: refused and cleaned, read at the display alone, infrared and forced."""

from __future__ import annotations

from tests.walks.planner import WalkCase

MINUS = "\N{MINUS SIGN}"
READY = "around"
CLEAR = "is clear"
CLEANED = "Put right, then try again"


class HeadCase(WalkCase):
    """One head, read at its display; its gases by their numbers."""

    template, tag, unit, upper = "gas_toxic", "AT-2702", "ppm", "20"
    channel: dict[str, str] = {}
    shelf: dict[str, str] = {}
    settings: dict[str, str] = {}

    def setUp(self):
        super().setUp()
        own = {"id": "a", "unit": self.unit, "range": self.upper, **self.channel}
        self.enter(
            self.template,
            self.tag,
            indicated=False,
            smart=False,
            input_unit=self.unit,
            input_upper=self.upper,
            method="gas_head",
            own={"channels": [own]},
        )

    def visit(self):
        return self.typist(self.tag, shelf={**self.shelf, "meter": ""})

    def cause(self, visit):
        return visit.seen["judgement"]["causes"][0]

    def alarms(self, visit, *came):
        """Tell of every alarm whether it came."""
        task = next(t for t in visit.seen["tasks"] if "alarms come" in t["title"])
        labels = [v["label"] for v in task["asks"][0]["values"] if v["required"]]
        visit.tells(dict(zip(labels, came, strict=True)))


class Electrochemical(HeadCase):
    walk = "gas-electrochemical-refused-cleaned"
    channel = {
        "gas": "sulfur dioxide",
        "principle": "electrochemical",
        "usual_t90_s": "30",
        "gas_value": "8",
        "alarm": "1",
        "alarm_2": "2",
        "base_percent": "96",
    }
    shelf = {"zero gas": "CY-91", "span": "CY-92"}

    def setUp(self):
        super().setUp()
        self.bottle("CY-91", "air", pure=True)
        self.bottle("CY-92", "nitrogen", unit="ppm", sulfur_dioxide="8.0")

    def refused(self):
        """Acts 1 to 3: the span is rejected at 3.4 of 8."""
        visit = self.visit()
        visit.act(1)
        visit.usual(READY)
        visit.reading({"Display": "0.3"})
        visit.act(2)
        visit.usual("CY-91")
        visit.says("Open CY-91")
        visit.later(seconds=40)
        visit.reading({"Set to 0": "0.0"})
        visit.act(3)
        visit.says("Open CY-92")
        visit.later(minutes=3)
        said = {"Shows": "3.4", "90 %, s": "95", "Its word, if it refused": "span rejected"}
        visit.reading(said)
        return visit

    def test_cleaned_and_tried_again_in_the_same_job(self):
        visit = self.refused()
        visit.act(5)
        visit.form(CLEANED, {"What was done": "filter caked with lime dust; dried"}, "Cleaned")
        visit.act(6)
        visit.says("Open CY-92")
        visit.later(seconds=60)
        visit.reading({"Shows": "6.8", "90 %, s": "36", "Set to 8": "8.0"})
        visit.act(7)
        visit.says("Open CY-92")
        visit.later(minutes=2)
        visit.reading({"Display": "8.1"})
        self.alarms(visit, "came", "came")
        visit.act(8)
        visit.says("Flush with CY-91")
        visit.later(minutes=1)
        visit.says("Shut CY-91")
        visit.says("Adapter is off")
        visit.later(minutes=3)
        visit.reading({"Display": "0.0"})
        visit.act(9)
        visit.usual()
        self.clean(visit)
        self.assertEqual(visit.seen["outcome"]["id"], "adjusted")
        self._paper(visit)

    def _paper(self, visit):
        paper = visit.paper()
        found = paper["as_found"]["points"]
        self.assertEqual([p["reading"] for p in found if p["reading"]], ["3.4"])
        self.assertEqual(paper["as_found"]["mark"], "outside")
        words = visit.words()
        for said in ("span rejected", "filter caked", "8.1", f"{MINUS}4.6", "6.8"):
            self.assertIn(said, words)
        kept = self.learnt(self.tag)
        self.assertEqual(kept["base_percent"], "81.6")
        self.assertEqual(kept["usual_t90_s"], "30")

    def test_no_rise_is_looked_for_in_cap_bottle_and_gas_and_never_forced(self):
        visit = self.refused_with({"Shows": "0.0", "Its word, if it refused": "no rise"})
        self.assertIn("cap", self.cause(visit)["remedy"])
        self.assertIn("another cylinder", self.cause(visit)["remedy"])
        with self.assertRaises(AssertionError):
            visit.force("other_cylinder", "no rise", asset="CY-93", reading="0.0")

    def refused_with(self, *rows, zero=None, air="0.3"):
        """The span is refused as many times as there are rows, cleaned in between."""
        visit = self.visit()
        visit.usual(READY)
        visit.reading({"Display": air})
        visit.usual("CY-91")
        visit.says("Open CY-91")
        visit.later(minutes=2)
        visit.reading(zero or {"Set to 0": "0.0"})
        for n, row in enumerate(rows):
            if n:
                visit.form(CLEANED, {"What was done": "filter renewed"}, "Filter changed")
            visit.says("Open CY-92")
            visit.later(minutes=3)
            visit.reading(row)
        return visit

    def test_refused_again_as_fast_as_usual_is_bottle_then_sensor(self):
        slow = {"Shows": "3.4", "90 %, s": "95", "Its word, if it refused": "span rejected"}
        fast = {"Shows": "3.5", "90 %, s": "31", "Its word, if it refused": "span rejected"}
        visit = self.refused_with(slow, fast)
        self.assertNotEqual(self.cause(visit)["label"], "Filter plugged")
        self.assertIn("Another cylinder", self.cause(visit)["remedy"])

    def test_far_too_high_is_never_spanned_down(self):
        visit = self.refused_with({"Shows": "18", "Its word, if it refused": "span rejected"})
        self.assertIn("Another cylinder before anything is set", self.cause(visit)["remedy"])

    def test_zero_that_moved_is_named_and_forced_only_with_proof(self):
        said = {"Shows": "1.9", "Its word, if it refused": "zero rejected"}
        visit = self.refused_with(zero=said, air="1.9")
        self.assertEqual(self.cause(visit)["label"], "Zero has moved")
        self.assertIn("another zero cylinder", self.cause(visit)["remedy"])
        visit.refused("second sign-in", visit.force, "second_person", "alone", name="ana")

    def test_ended_after_the_refusal_teaches_no_time(self):
        visit = self.refused()
        self.assertEqual(self.cause(visit)["label"], "Filter plugged")
        visit.form("Stop this job…", {"Why": "no filter here"}, "The instrument failed")
        visit.usual(CLEAR)
        visit.reading({"Display": "0.1"})
        visit.usual()
        self.assertEqual(self.learnt(self.tag)["usual_t90_s"], "30")
        self.assertEqual(visit.seen["outcome"]["good"], False)


class Catalytic(HeadCase):
    walk = "gas-catalytic-display-only-alarms"
    template, tag, unit, upper = "gas_catalytic", "AT-2601", "%LEL", "100"
    channel = {
        "gas": "hydrogen",
        "principle": "catalytic",
        "usual_t90_s": "12",
        "gas_value": "40",
        "flow_l_per_min": "0.2",
        "alarm": "10",
        "alarm_2": "25",
    }
    shelf = {"zero gas": "CY-71", "span": "CY-72"}

    def setUp(self):
        super().setUp()
        self.bottle("CY-71", "air", flow="0.2", pure=True)
        self.bottle("CY-72", "air", flow="0.2", hydrogen="1.6")

    def set_both(self, beside="0"):
        """Acts 1 to 8: zero and span set, read again as left."""
        visit = self.visit()
        visit.act(1)
        visit.usual(READY)
        visit.act(2)
        visit.reading({"Display": "2"})
        visit.tells({"Hydrogen that it shows": beside, "Which instrument": "GP-07"})
        visit.act(3)
        visit.usual("CY-71")
        visit.says("Open CY-71")
        visit.later(minutes=1)
        visit.reading({"Shows": "2", "Set to 0": "0"})
        visit.act(5)
        visit.says("Open CY-72")
        visit.later(minutes=2)
        visit.act(6)
        visit.reading({"Shows": "35", "Its own life, %": "76", "Set to 40": "40"})
        visit.act(7)
        visit.says("Flush with CY-71")
        visit.later(minutes=1)
        visit.says("Shut CY-71")
        visit.act(8)
        visit.says("Open CY-72")
        visit.later(minutes=2)
        visit.reading({"Display": "40", "Time to 90 %": "12"})
        return visit

    def test_good_head_whose_second_alarm_was_dead(self):
        visit = self.set_both()
        self.errors(visit.seen["as_found"], "+2.00", f"{MINUS}3.00".replace(MINUS, "-"))
        visit.act(9)
        self.alarms(visit, "came", "did not come")
        visit.usual("afterwards")
        visit.act(11)
        task = visit.seen["tasks"][0]["asks"][0]
        then, done = (v["label"] for v in task["values"])
        visit.tells({then: "came", done: "relay open, plugged in"})
        visit.act(12)
        visit.usual(CLEAR)
        visit.later(minutes=2)
        visit.reading({"Display": "0"})
        visit.usual()
        self.clean(visit)
        self.assertEqual(visit.seen["outcome"]["id"], "adjusted")
        words = visit.words()
        for said in (
            "did not come; put right, it came",
            "76 %",
            "Read at its display. Output not checked",
        ):
            self.assertIn(said, words)
        self.assertNotIn("Sensor aged", words)
        self.assertEqual(self.learnt(self.tag)["base_percent"], "87.5")

    def test_dead_alarm_is_never_within(self):
        visit = self.set_both()
        self.alarms(visit, "came", "did not come")
        visit.usual("afterwards")
        task = visit.seen["tasks"][0]["asks"][0]
        visit.tells({task["values"][0]["label"]: "did not come"})
        visit.usual(CLEAR)
        visit.later(minutes=2)
        visit.reading({"Display": "0"})
        visit.usual()
        self.assertEqual(visit.seen["outcome"]["id"], "limited")


class Infrared(HeadCase):
    walk = "gas-infrared-zero-forced"
    template, tag, unit, upper = "gas_infrared", "AT-2510", "%LEL", "100"
    channel = {
        "gas": "propane",
        "principle": "infrared",
        "usual_t90_s": "20",
        "gas_value": "40",
        "alarm": "20",
        "alarm_2": "60",
    }
    shelf = {"zero gas": "CY-61", "span": "CY-63"}

    def setUp(self):
        super().setUp()
        self.bottle("CY-61", "nitrogen", pure=True)
        self.bottle("CY-62", "air", pure=True)
        self.bottle("CY-63", "air", propane="0.68")

    def found(self, span="45", peak="77", zero="6", air="6", beside="0"):
        """Acts 1 to 5: the zero stands at 6, span gas reads 45."""
        visit = self.visit()
        visit.act(1)
        visit.usual(READY)
        visit.act(2)
        visit.reading({"Display": air})
        visit.tells({"Propane that it shows": beside, "Which instrument": "GP-07"})
        visit.act(3)
        visit.usual("CY-61")
        visit.says("Open CY-61")
        visit.later(minutes=1)
        visit.act(4)
        visit.reading({"Shows": zero})
        visit.act(5)
        visit.says("Open CY-63")
        visit.later(minutes=1)
        visit.reading({"Shows": span, "Peak": peak})
        self.alarms(visit, "came", "came")
        return visit

    def test_refused_cleaned_refused_again_and_forced(self):
        visit = self.found()
        self.errors(visit.seen["as_found"], "+6.00", "+5.00")
        visit.act(6)
        self.assertEqual(visit.advised(), ["Set its zero"])
        visit.chooses("Set its zero")
        visit.says("Open CY-61")
        visit.later(seconds=30)
        refused = {"Its word, if it refused": "gas seen; not zeroed"}
        visit.reading({"Shows": "6", **refused})
        visit.act(7)
        visit.tells({"Signal level found": "54", "Signal level left": "93"})
        visit.form(CLEANED, {"What was done": "windows cleaned, dried"}, "Cleaned")
        visit.act(8)
        visit.says("Open CY-61")
        visit.later(minutes=1)
        visit.reading({"Shows": "4", **refused})
        visit.act(9)
        visit.force("other_cylinder", "two dry gases agree", asset="CY-62", reading="4")
        visit.act(10)
        visit.says("Open CY-61")
        visit.later(seconds=30)
        visit.reading({"Shows": "4", "Set to 0": "0"})
        visit.act(11)
        visit.says("Open CY-63")
        visit.later(minutes=1)
        visit.reading({"Shows": "40", "Peak": "70"})
        visit.act(12)
        visit.says("Flush with CY-61")
        visit.later(minutes=1)
        visit.says("Shut CY-61")
        visit.act(13)
        visit.usual(CLEAR)
        visit.later(minutes=1)
        visit.reading({"Display": "0"})
        visit.usual()
        self.clean(visit)
        self.assertEqual(visit.seen["outcome"]["id"], "adjusted")
        self.errors(visit.paper()["as_left"], "+0.00")
        words = visit.words()
        for said in ("FORCED", "CY-62, which shows 4", "gas seen; not zeroed", "93 %", "peak 77"):
            self.assertIn(said, words)
        self.assertEqual(self.learnt(self.tag)["base_percent"], "100.0")

    def refused(self, **found):
        visit = self.found(**found)
        visit.chooses("Set its zero")
        visit.says("Open CY-61")
        visit.later(seconds=30)
        visit.reading({"Shows": "6", "Its word, if it refused": "gas seen; not zeroed"})
        return visit

    def test_where_the_second_bottle_reads_zero_nothing_is_forced(self):
        visit = self.refused()
        visit.refused(
            "cylinders do not agree",
            visit.force,
            "other_cylinder",
            "dry gas",
            asset="CY-62",
            reading="0",
        )

    def test_gas_that_another_instrument_shows_too_is_never_zeroed_away(self):
        visit = self.found(beside="6")
        self.assertEqual(self.cause(visit)["label"], "Gas in the background")
        self.assertNotIn("Set its zero", visit.advised())
        visit.chooses("Set its zero", "against the advice")
        visit.says("Open CY-61")
        visit.later(seconds=30)
        visit.refused("gas in the air", visit.reading, {"Shows": "6", "Set to 0": "0"})

    def test_light_that_fails_is_no_span_to_be_set(self):
        visit = self.found(span="29", peak="29", zero="0", air="0")
        labels = [one["label"] for one in visit.seen["judgement"]["causes"]]
        self.assertNotIn("Sensor aged", labels)
        self.assertNotIn("set the span", self.cause(visit)["remedy"])
        self.assertNotIn("Set its zero", visit.advised())
