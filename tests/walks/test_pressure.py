"""Pressure transmitters: the everyday round, and a meter that turns out to be wrong."""

from __future__ import annotations

from tests.walks.planner import WalkCase

UP_DOWN = ("up", "up", "up", "up", "up", "down", "down", "down", "down")
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
        self.shelve("P-11", "pressure", "kPa", percent_of_full_scale="0.025", full_scale="2000")
        self.shelve(
            "M-11", "current", "mA", percent_of_reading="0.01", absolute="0.002", full_scale="24"
        )

    def test_three_one_after_the_other(self):
        for tag, (upper, applied, read, errors) in ROUND.items():
            visit = self.typist(tag, shelf={"pressure": "P-11", "meter": "M-11"})
            visit.act(2)
            visit.usual("Lower range value")
            visit.tells({"Lower range value found": "0", "Upper range value found": upper})
            visit.usual("Applied")
            visit.act(3)
            for a, r in zip(applied.split(), read.split(), strict=True):
                visit.reading({"Applied": a, "Loop current": r})
                self.assertEqual(visit.seen["judgement"]["causes"], [])
            self.errors(visit.seen["as_found"], *errors.split())
            visit.act(4)
            advised = [label for label, is_it in visit.options().items() if is_it]
            self.assertEqual(advised, ["Leave it as it is"])
            visit.chooses("Leave it as it is")
            visit.act(5)
            visit.usual()
            print(visit.forced, visit.refusals, visit.presses, visit.fields, visit.seen["outcome"])
            print(visit.paper())
