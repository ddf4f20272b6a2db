"""Two channels in one box: a reference voltage for each span gas; refused, and forced or not."""

from __future__ import annotations

from tests.walks.planner import WalkCase

A = {
    "id": "a",
    "gas": "ammonia",
    "unit": "ppm",
    "range": "250",
    "principle": "electrochemical",
    "usual_t90_s": "60",
    "gas_value": "60",
    "alarm": "25",
    "full_scale_v": "5",
    "flow_l_per_min": "0.4",
    "base_percent": "90",
}
B = {
    "id": "b",
    "gas": "methane",
    "unit": "%LEL",
    "range": "60",
    "principle": "catalytic",
    "usual_t90_s": "20",
    "gas_value": "24",
    "alarm": "20",
    "full_scale_v": "5",
    "flow_l_per_min": "0.8",
    "humid": True,
    "base_percent": "95",
}
WORD = "Its word, if it refused"


class TwoCase(WalkCase):
    """A box with display and relays only; its sensors by what they answered when last set."""

    tag = "AT-2140"
    base = ("90", "95")
    settings: dict[str, str] = {}

    def setUp(self):
        super().setUp()
        gases = [{**c, "base_percent": p} for c, p in zip((A, B), self.base, strict=True)]
        self.enter(
            "gas_two",
            self.tag,
            indicated=False,
            smart=False,
            input_unit="ppm",
            input_upper="250",
            output_unit="gas",
            output_lower="0",
            output_upper="250",
            loop_role="indication",
            own={"channels": gases, "cover_shut": False},
        )
        self.bottle("CY-11", "air", flow="", pure=True, humidifier=True)
        self.bottle("CY-14", "air", flow="", pure=True, humidifier=True)
        self.bottle("CY-12", "nitrogen", flow="0.4", unit="ppm", ammonia="60")
        self.bottle("CY-13", "air", flow="0.8", humidifier=True, methane="1.056")
        self.bottle("CY-15", "air", flow="0.8", humidifier=True, methane="1.144")
        self.meter("R-17", "voltage", "V", absolute="0.001", full_scale="20")

    def visit(self):
        self.openings = []
        shelf = {"zero": "CY-11", "ammonia": "CY-12", "methane": "CY-13", "volt": "R-17"}
        visit = self.typist(self.tag, shelf=shelf)
        visit.act(1)
        visit.usual("Reference voltage")
        return visit

    def gas(self, visit, cylinder, minutes=2, **said):
        """Open a cylinder, wait, and type what is seen."""
        visit.says(f"Open {cylinder}")
        self.openings.append(cylinder)
        visit.later(minutes=minutes)
        visit.reading({label.replace("_", " "): value for label, value in said.items()})


class ReferenceVoltage(TwoCase):
    walk = "gas-two-channels-reference-voltage"

    def up_to_the_span_of_a(self, found="1.600", was_set="1.200"):
        visit = self.visit()
        visit.tells({"Ammonia: sensor built in": "2025-10", "Methane: sensor built in": "unknown"})
        visit.act(2)
        visit.tells({"Ammonia, shown": "6"})
        visit.act(3)
        visit.tells({"Reference voltage found, Ammonia": found})
        return visit

    def test_both_set_with_six_openings(self):
        visit = self.up_to_the_span_of_a()
        visit.act(4)
        visit.tells({"Set to, Ammonia, where it was changed": "1.200"})
        visit.act(5)
        visit.usual("CY-11")
        self.gas(visit, "CY-11", Shows="4", Set_to_0="0")
        visit.act(6)
        self.gas(visit, "CY-12", Shows="47", Set_to_60="60")
        visit.act(7)
        self.gas(visit, "CY-12", Display="59")
        visit.tells(
            {
                "Alarm 1, ammonia 25 ppm": "came",
                "Alarm 1, ammonia 25 ppm: came at, seen where": "lamp, fan relay",
            }
        )
        visit.act(8)
        visit.usual("Reference voltage")
        visit.act(9)
        visit.tells({"Reference voltage found, Methane": "2.000"})
        visit.usual("CY-11")
        visit.act(10)
        self.gas(visit, "CY-11", **{"Shows": "-1.0", "Set_to_0": "0.0"})
        visit.act(11)
        self.gas(visit, "CY-13", Shows="22.0", Set_to_24="24.0")
        visit.act(12)
        self.gas(visit, "CY-13", Display="24.5")
        visit.tells({"Alarm 1, methane 20 %LEL": "came"})
        visit.act(13)
        visit.usual("is clear")
        visit.reading({"Display": "0"})
        visit.reading({"Display": "0.0"})
        visit.usual()
        self.clean(visit)
        self.assertEqual(visit.seen["outcome"]["id"], "adjusted")
        self._paper(visit)

    def _paper(self, visit):
        self.errors(visit.run("As found, ammonia"), "+1.60", "-3.60")
        words = visit.words()
        self.assertEqual(self.openings, ["CY-11", "CY-12", "CY-12", "CY-11", "CY-13", "CY-13"])
        for said in (
            "found +33.3 %: set for 80.0 ppm",
            "\N{MINUS SIGN}9.00",
            "\N{MINUS SIGN}3.00",
            "unknown",
            "1.600",
        ):
            self.assertIn(said, words)
        self.assertEqual(self.learnt(self.tag)["base_percent"], "70.5")
        self.assertEqual(self.learnt(self.tag, "b")["base_percent"], "87.1")

    def test_reference_left_as_it_is_bars_the_span(self):
        visit = self.up_to_the_span_of_a()
        visit.form(
            "For the gas of today it comes to 1.200 V. Set it to that and write down what you set; "
            "the last span was set for another gas, and is in doubt.",
            {"Why go on?": "no key for it"},
        )
        visit.usual("CY-11")
        self.gas(visit, "CY-11", Shows="4", Set_to_0="0")
        visit.says("Open CY-12")
        visit.later(minutes=2)
        visit.refused("set for another gas", visit.reading, {"Shows": "47", "Set to 60": "60"})

    def test_span_that_was_set_with_a_wrong_reference_is_set_and_goes_on(self):
        visit = self.up_to_the_span_of_a()
        visit.tells({"Set to, Ammonia, where it was changed": "1.200"})
        visit.usual("CY-11")
        self.gas(visit, "CY-11", Shows="4", Set_to_0="0")
        self.gas(visit, "CY-12", Shows="80", Set_to_60="60")
        self.gas(visit, "CY-12", Display="59")
        self.assertEqual(visit.refusals, [])
        words = " ".join(c["evidence"] for c in visit.seen["judgement"]["causes"])
        self.assertNotIn("strong", words)

    def test_regulator_of_another_flow_and_nitrogen_for_a_bead_are_not_taken(self):
        self.bottle("CY-16", "air", flow="0.4", humidifier=True, methane="1.056")
        self.bottle("CY-17", "nitrogen", flow="0.8", pure=True, humidifier=True)
        shelf = {"zero gas, second": "CY-17", "zero": "CY-11", "ammonia": "CY-12"}
        visit = self.typist(self.tag, shelf={**shelf, "methane": "CY-16", "volt": "R-17"})
        visit.refused("oxygen|bead|fit", visit.usual, "Reference voltage")
        visit.shelf |= {"zero gas, second": "CY-11"}
        visit.refused("flow|0.4|0.8", visit.usual, "Reference voltage")

    def test_alarm_that_did_not_come_is_never_within(self):
        visit = self.up_to_the_span_of_a(found="1.200")
        visit.usual("CY-11")
        self.gas(visit, "CY-11", Shows="0")
        self.gas(visit, "CY-12", Shows="60")
        visit.usual("Reference voltage")
        visit.tells({"Reference voltage found, Methane": "2.000"})
        visit.usual("CY-11")
        self.gas(visit, "CY-11", Shows="0")
        self.gas(visit, "CY-13", Shows="24.5")
        alarms = ("Alarm 1, ammonia 25 ppm", "Alarm 1, methane 20 %LEL")
        visit.tells(dict(zip(alarms, ("came", "did not come"), strict=True)))
        visit.usual("afterwards")
        visit.tells({"Alarm 1, methane 20 %LEL, afterwards": "did not come"})
        visit.usual("is clear")
        visit.reading({"Display": "0"})
        visit.reading({"Display": "0.0"})
        visit.usual()
        self.assertNotEqual(visit.seen["outcome"]["id"], "within")
        self.assertIn("methane 20 %LEL: found dead", visit.words())
