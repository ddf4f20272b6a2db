"""Two channels in one box: a reference voltage for each span gas; refused, and forced or not."""

from __future__ import annotations

from tests.server.works import event
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
        self.plant()

    def plant(self, kit=True):
        """Set up what a planner does: the box, and its gases where they are not there yet."""
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
            method="gas_two_heads",
            own={"channels": gases, "cover_shut": False},
        )
        if not kit:
            return
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


class Forced(TwoCase):
    """A detector that refuses; the second school forces alone, by what is read off the label."""

    walk = "gas-two-channels-forced"
    tag = "AT-2141"
    base = ("92", "88")
    CHECKS = {"label": "24", "until": "2027-12-31", "flow_seen": "0.8"}

    def begun(self, air="-7.5", zero="-7.5", school="by checks"):
        """Acts 1 and 2: both references are right; the zero of methane is refused."""
        if school:
            self.rule("gas_two_heads", "forcing", school)
        visit = self.visit()
        visit.act(1)
        visit.tells({"Ammonia, shown": "1", "Methane, shown": air})
        visit.tells({"First under the adapter": "methane"})
        visit.tells({"Reference voltage found, Methane": "2.000"})
        visit.usual("CY-11")
        visit.act(2)
        self.gas(visit, "CY-11", **{"Shows": zero, WORD: "too low"})
        return visit

    def zeroed(self):
        """Acts 3 to 5: refused once more after flushing, and forced by three facts."""
        visit = self.begun()
        visit.act(3)
        self.gas(visit, "CY-11", 3, **{"Shows": "-7.5", WORD: "too low"})
        visit.act(4)
        checks = {**self.CHECKS, "label": "synthetic air"}
        visit.force("checks", "negative drift, air reads -7.5 too", **checks)
        visit.act(5)
        self.gas(visit, "CY-11", **{"Shows": "-7.5", "Set_to_0": "0.0"})
        return visit

    def test_alone_by_checks_and_below_forty_never(self):
        visit = self.zeroed()
        visit.act(6)
        self.gas(visit, "CY-13", **{"Shows": "15.0", WORD: "too low"})
        visit.act(7)
        visit.force("checks", "site keeps it until the new one comes", **self.CHECKS)
        self.gas(visit, "CY-13", Shows="15.0", Set_to_24="24.0")
        visit.act(8)
        self.gas(visit, "CY-13", Display="23.5")
        visit.tells({"Alarm 1, methane 20 %LEL": "came"})
        visit.usual("Reference voltage")
        visit.tells({"Reference voltage found, Ammonia": "1.200"})
        visit.usual("CY-11")
        visit.act(9)
        self.gas(visit, "CY-11", Shows="1", Set_to_0="0")
        visit.act(10)
        self.gas(visit, "CY-12", **{"Shows": "22", WORD: "too low"})
        self.assertEqual([a["refusal"]["may_force"] for _, a in visit.asks() if a["refusal"]], [0])
        visit.act(11)
        visit.says("Leave it as refused")
        visit.usual("Use what reads right")
        visit.chooses("Use what reads right", "no sensor in the store")
        visit.tells({"Alarm 1, ammonia 25 ppm": "not looked at"})
        visit.usual("is clear")
        visit.reading({"Display": "0"})
        visit.reading({"Display": "0.0"})
        visit.answers["Use is limited to"] = "methane guards; ammonia out of service"
        visit.usual()
        self.clean(visit)
        self.assertEqual(visit.seen["outcome"]["id"], "limited")
        words = visit.words()
        facts = "the label says synthetic air, good until 2027-12-31, 0.8 seen at the regulator"
        for said in ("FORCED", facts, "too low", "ammonia out of service"):
            self.assertIn(said, words)
        self.assertEqual(self.learnt(self.tag, "b")["base_percent"], "55.0")

    def test_second_zero_bottle_tells_a_dirty_one(self):
        visit = self.begun(air="6.0", zero="6.0", school="")
        by = ("other_cylinder", "the air reads the same")
        with self.assertRaises(AssertionError):
            visit.force("checks", "alone", **self.CHECKS)
        visit.refused("do not agree", visit.force, *by, asset="CY-14", reading="0.0")
        visit.force(*by, asset="CY-14", reading="6.0")
        self.gas(visit, "CY-11", Shows="6.0", Set_to_0="0.0")

    def test_gas_around_is_never_forced_away(self):
        visit = self.begun(air="6.0", zero="0.0")
        with self.assertRaises(AssertionError):
            visit.force("checks", "alone", **self.CHECKS)
        asked = {"step": "on_zero_b", "way": "checks", "reason": "alone", **self.CHECKS}
        answer = self.send(visit.job, event("agreed", **asked), seq=visit.seen["seq"])
        self.assertEqual((answer.status_code, answer.json()["code"]), (422, "force.not_here"))

    def test_bottles_that_disagree_and_another_label_force_nothing(self):
        visit = self.zeroed()
        self.gas(visit, "CY-13", **{"Shows": "15.0", WORD: "too low"})
        by = ("other_cylinder", "second bottle")
        visit.refused("do not agree", visit.force, *by, asset="CY-15", reading="24.0")
        other = {**self.CHECKS, "label": "36"}
        visit.refused("label says 36", visit.force, "checks", "alone", **other)
        visit.force(*by, asset="CY-15", reading="16.1")

    def test_not_held_is_set_again_once_and_not_a_third_time(self):
        visit = self.zeroed()
        self.gas(visit, "CY-13", **{"Shows": "15.0", WORD: "too low"})
        visit.force("checks", "kept until the new one comes", **self.CHECKS)
        self.gas(visit, "CY-13", Shows="15.0", Set_to_24="24.0")
        self.gas(visit, "CY-13", Display="17")
        self.errors(visit.run("As left, methane"), "-11.67")
