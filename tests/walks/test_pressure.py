"""Pressure transmitters: the everyday round, and a meter that turns out to be wrong."""

from __future__ import annotations

from tests.walks.planner import WalkCase

OTHER = "Repeat it with another reference instrument"
#: Range [kPa], then what was applied [kPa], what was read [mA] and its error [% of span].
ROUND = {
    "PT-2301": (
        "1600",
        "0.0 400.2 800.1 1200.4 1600.2 1200.1 799.9 400.0 0.0",
        "4.003 8.008 12.008 16.013 20.013 16.011 12.007 8.007 4.005",
        "+0.02 +0.04 +0.04 +0.06 +0.07 +0.06 +0.05 +0.04 +0.03",
    ),
    "PT-2302": (
        "600",
        "0.0 150.1 300.0 450.2 600.0 450.0 300.1 150.0 0.0",
        "3.995 8.001 11.999 16.010 20.007 16.006 12.001 7.999 3.995",
        "-0.03 -0.01 -0.01 +0.03 +0.04 +0.04 -0.01 -0.01 -0.03",
    ),
    "PT-2303": (
        "1000",
        "0.0 250.0 500.2 750.1 1000.0 750.0 500.0 250.1 0.0",
        "4.000 8.011 12.027 16.038 20.045 16.040 12.026 8.016 4.001",
        "+0.00 +0.07 +0.15 +0.23 +0.28 +0.25 +0.16 +0.09 +0.01",
    ),
}


class EverydayRound(WalkCase):
    walk = "pressure-everyday-round"

    def setUp(self):
        super().setUp()
        for tag, (upper, *_) in ROUND.items():
            self.enter("pressure", tag, input_unit="kPa", input_upper=upper, indicated=False)
        self.meter("P-11", "pressure", "kPa", percent_of_full_scale="0.025", full_scale="2000")
        self.meter(
            "M-11", "current", "mA", percent_of_reading="0.01", absolute="0.002", full_scale="24"
        )

    def visit(self, tag):
        """Acts 2 and 3, up to the first reading."""
        visit = self.typist(tag, shelf={"pressure": "P-11", "meter": "M-11"})
        visit.act(2)
        visit.usual("Lower range value")
        upper = ROUND[tag][0]
        visit.tells({"Lower range value found": "0", "Upper range value found": upper})
        visit.usual("Applied")
        visit.act(3)
        return visit

    def test_three_one_after_the_other(self):
        for tag, (_, applied, read, errors) in ROUND.items():
            visit = self.visit(tag)
            for kpa, ma in zip(applied.split(), read.split(), strict=True):
                visit.reading({"Applied": kpa, "Loop current": ma})
                self.assertEqual(visit.seen["judgement"]["causes"], [])
            self.errors(visit.seen["as_found"], *errors.split())
            visit.act(4)
            self.assertEqual(visit.advised(), ["Leave it as it is"])
            visit.chooses("Leave it as it is")
            visit.act(5)
            visit.usual()
            self.clean(visit)
            self.assertEqual(visit.seen["outcome"]["id"], "within")
            paper = visit.paper()
            self.errors(paper["as_found"], *errors.split())
            self.assertEqual(paper["environment"], [])
            words = visit.words()
            for error in errors.split():
                self.assertIn(error.replace("+0.00", "0.00").replace("-", "\N{MINUS SIGN}"), words)

    def test_a_slip_is_asked_about_at_once(self):
        visit = self.visit("PT-2301")
        for kpa, ma in (("0.0", "4.003"), ("400.2", "8.008")):
            visit.reading({"Applied": kpa, "Loop current": ma})
        visit.refused("12.008", visit.reading, {"Applied": "800.1", "Loop current": "21.008"})
        visit.reading({"Applied": "800.1", "Loop current": "12.008"})
        self.errors(visit.seen["as_found"], "+0.02", "+0.04", "+0.04")

    def test_the_temperature_may_be_told_when_a_hand_is_free(self):
        visit = self.visit("PT-2302")
        visit.reading({"Applied": "0.0", "Loop current": "3.995"})
        visit.tells({"Ambient temperature": "11.5"})
        visit.reading({"Applied": "150.1", "Loop current": "8.001"})
        self.errors(visit.seen["as_found"], "-0.03", "-0.01")
        self.assertNotIn("surroundings", visit.offered())


class MeterWrong(WalkCase):
    """Acts 1 to 4 and 7 to 9; the second meter in series for two points (5, 6) has no place yet."""

    part_of = "pressure-milliampere-meter-wrong"
    APPLIED = "0.0 400.3 800.1 1200.4 1600.2 1199.7 799.8 399.9 0.0"
    M_17 = "4.021 8.043 12.059 16.081 20.097 16.074 12.056 8.039 4.021"
    M_04 = "4.003 8.008 12.007 16.011 20.010 16.004 12.004 8.004 4.003"
    LEFT = "+0.02 +0.03 +0.04 +0.04 +0.05 +0.04 +0.04 +0.03 +0.02"
    HIGH = "0.0 400.3 800.1 1200.4 1600.2 1199.7 799.8 399.9 0.0"
    ROOM = "0.3 400.8 800.6 1200.9 1600.7 1200.2 800.3 400.3 0.3"

    def setUp(self):
        super().setUp()
        self.enter(
            "pressure",
            "PT-2215",
            input_unit="kPa",
            input_upper="1600",
            indicated_lower="0",
            indicated_upper="1600",
        )
        self.meter("P-21", "pressure", "kPa", percent_of_full_scale="0.01", full_scale="2000")
        for asset, percent, fixed in (("M-17", "0.02", "0.002"), ("M-04", "0.05", "0.004")):
            self.meter(
                asset, "current", "mA", percent_of_reading=percent, absolute=fixed, full_scale="24"
            )

    def visit(self):
        visit = self.typist("PT-2215", shelf={"pressure": "P-21", "meter": "M-17"})
        visit.act(1)
        visit.usual("Lower range value")
        visit.tells({"Lower range value found": "0", "Upper range value found": "1600"})
        visit.usual("Applied")
        return visit

    def reads(self, visit, meter, room=ROOM):
        for kpa, ma, shown in zip(self.APPLIED.split(), meter.split(), room.split(), strict=True):
            row = {"Applied": kpa, "Loop current": ma, "Control room, if read": shown}
            visit.reading({label: said for label, said in row.items() if said != "-"})
            if visit.seen["as_found"]["taken"] == 1:
                self.assertEqual(visit.seen["judgement"]["causes"], [])

    def test_the_second_meter_is_advised_before_anything_is_set(self):
        visit = self.visit()
        visit.act(2)
        self.reads(visit, self.M_17)
        visit.act(4)
        said = visit.seen["judgement"]["causes"][0]
        self.assertEqual(said["label"], "Meter in doubt")
        self.assertIn("Output +0.59 and control room \N{MINUS SIGN}0.56 %", said["evidence"])
        self.assertIn("together +0.03 %", said["evidence"])
        self.assertEqual(visit.advised(), [OTHER])
        visit.act(7)
        visit.chooses(OTHER, "M-17 reads high against M-04 and the control room")
        visit.shelf["meter"] = "M-04"
        visit.usual("Applied")
        visit.act(8)
        self.reads(visit, self.M_04)
        self.errors(visit.seen["as_found"], *self.LEFT.split())
        visit.act(9)
        self.assertEqual(visit.advised(), ["Leave it as it is"])
        visit.chooses("Leave it as it is")
        visit.usual()
        self.clean(visit)
        self.assertEqual(visit.seen["outcome"]["id"], "within")
        paper = visit.paper()
        self.assertIn("M-04", {one["asset"] for one in paper["references"]})
        for kept in ("20.097", "M-17", "20.010"):
            self.assertIn(kept, visit.words())

    def test_where_the_second_meter_says_the_same_it_is_doubted_no_more(self):
        visit = self.visit()
        self.reads(visit, self.M_17)
        visit.chooses(OTHER, "second look")
        visit.shelf["meter"] = "M-04"
        visit.usual("Applied")
        self.reads(visit, self.M_17)
        labels = [one["label"] for one in visit.seen["judgement"]["causes"]]
        self.assertNotIn("Meter in doubt", labels)

    def test_where_two_meters_differ_one_of_them_stays_in_doubt(self):
        visit = self.visit()
        self.reads(visit, self.M_17)
        visit.chooses(OTHER, "second look")
        visit.shelf["meter"] = "M-04"
        visit.usual("Applied")
        self.reads(visit, "4.051 8.073 12.089 16.111 20.127 16.104 12.086 8.069 4.051", self.HIGH)
        labels = [one["label"] for one in visit.seen["judgement"]["causes"]]
        self.assertEqual(labels[0], "Meter in doubt")
        self.assertNotIn("Adjust it", visit.advised())

    def test_without_the_control_room_nothing_stands_against_the_meter(self):
        visit = self.visit()
        self.reads(visit, self.M_17, room=" ".join("-" * 9))
        labels = [one["label"] for one in visit.seen["judgement"]["causes"]]
        self.assertNotIn("Meter in doubt", labels)
