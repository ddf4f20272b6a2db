"""What a person does not have: a gas, a battery test, fillings, what it showed before it was set.

Nobody is made to invent it; what that does to the result is said.
"""

from calibration.engine.method.family import newest_methods
from tests.core.belts import BeltVisit
from tests.core.detectors import GasVisit
from tests.core.electrodes import PhVisit
from tests.core.gcs import GcVisit
from tests.core.jobs import Jobs
from tests.core.mixtures import MixVisit
from tests.core.traces import TraceVisit

ALWAYS = {"school": {"value": "always", "source": "site"}}


class NoGasForIt(Jobs):
    def without(self, method, *roles, **more):
        visit = GasVisit(method, asks=True, **more)
        visit.until("kit")
        for role in roles:
            visit.push("went_without", role=role)
        visit.until("")
        return visit

    def test_a_gas_of_a_portable_is_not_tested_and_its_use_is_limited(self):
        visit = self.without("gas_portable", "span_gas_c")
        read = [t.title for t in visit.state().runs if t.taken]
        self.assertNotIn("As found, hydrogen sulfide", read)
        self.assertIn("As found, carbon monoxide", read)
        outcome = visit.state().outcome
        self.assertEqual(outcome.id, "limited")
        self.assertIn("Not tested: Hydrogen sulfide", outcome.why)
        self.assertIn(
            "Hydrogen sulfide: not tested, no gas for it here.", self.paper(visit)["covers"]
        )

    def test_the_other_gases_are_judged_and_what_is_outside_still_counts(self):
        visit = GasVisit("gas_portable", asks=True).head(response=0.5)
        visit.until("kit")
        visit.push("went_without", role="span_gas_b")
        visit.until("gas")
        visit.push("gas_on", step="gas", role="span_gas", flow="0.5")
        visit.push("exposed", step="gas", a="25", c="25", d="18", kept=True)
        visit.push("gas_off", step="gas")
        self.assertEqual(visit.state().as_found.mark, "outside")

    def test_a_portable_is_received_but_for_that_gas(self):
        visit = self.without("gas_receiving", "span_gas_d")
        self.assertEqual(visit.state().outcome.id, "limited")

    def test_the_second_sensor_is_not_tested(self):
        visit = self.without("gas_two_channel", "span_gas_b")
        titles = [s.id for s in visit.state().steps if s.status == "done"]
        self.assertIn("air_found_b", titles)
        for step in ("adapter_b", "on_zero_b", "on_span_b", "reference_b", "adapter_off_b"):
            self.assertNotIn(step, titles)
        self.assertEqual(visit.state().outcome.id, "limited")

    def test_one_gas_of_one_detector_is_the_whole_visit(self):
        visit = GasVisit("gas_zero_span", asks=True)
        visit.until("kit")
        self.refused(visit, "kit.needed", "went_without", role="span_gas")


class NotTested(Jobs):
    def test_the_battery_was_not_tested_and_the_paper_says_why(self):
        visit = GasVisit("gas_receiving", asks=True)
        visit.until("endurance")
        self.refused(visit, "reason.missing", "decided", step="endurance", choice="not_here")
        visit.push("decided", step="endurance", choice="not_here", reason="needed on site today")
        visit.until("")
        self.assertNotIn("outlasts", [s.id for s in visit.state().steps if s.status == "done"])
        said = " ".join(self.paper(visit)["method"]["deviations"])
        self.assertIn("How long the battery lasts", said)
        self.assertIn("needed on site today", said)


class NotReadBefore(Jobs):
    def at_zero(self, method="gas_zero_span", **more):
        visit = GasVisit(method, asks=True, parameters=ALWAYS, **more)
        visit.until("zero")
        visit.push("gas_on", step="zero", role="zero_gas", flow="0.5")
        return visit

    def test_what_was_set_unread_counts_by_what_was_read_in_that_gas_last(self):
        visit = self.at_zero()
        visit.push("gas_set", step="zero", after="0")
        visit.until("")
        said = [line for line in self.paper(visit)["gas"]["set"] if "zero" in line.lower()]
        self.assertEqual(said, ["Set zero: 0 %LEL"])

    def test_a_span_that_may_not_be_set_is_refused_unread_too(self):
        visit = GasVisit("gas_zero_span", asks=True, parameters=ALWAYS)
        visit.head(response=0.3)
        visit.until("judge")
        visit.push("decided", step="judge", choice="adjust", reason="tried all the same")
        visit.until("span")
        visit.push("gas_on", step="span", role="span_gas", flow="0.5")
        self.refused(visit, "set.refused", "gas_set", step="span", after="50")

    def test_of_a_new_sensor_it_is_read_first(self):
        visit = GasVisit("gas_zero_span", asks=True, parameters=ALWAYS)
        visit.until("judge")
        visit.push("decided", step="judge", choice="replace", reason="it is past its life")
        visit.until("zero")
        visit.push("gas_on", step="zero", role="zero_gas", flow="0.5")
        said = self.refused(visit, "value.missing", "gas_set", step="zero", after="0")
        self.assertIn("put right", said.message)
        visit.push("gas_set", step="zero", before="1", after="0")


class NotToldApart(Jobs):
    """No second cylinder, no other syringe: both causes stay named, and nothing is advised by one.

    Every method that asks to tell causes apart takes "it cannot be measured here" for an answer.
    """

    CASES = (
        (lambda: PhVisit(asks=True, slope=0.88), "apart"),
        (lambda: TraceVisit(asks=True, leak_ul_min=6.0), "apart"),
        (lambda: MixVisit(asks=True).cell(1, gain=1.08), "tell_apart"),
        (lambda: GcVisit(asks=True, aged_percent=8.0), "tell"),
        (lambda: BeltVisit("belt_routine", asks=True, span_percent=-50.0), "tell_apart"),
    )

    def test_both_stay_and_nothing_is_set_by_either(self):
        for make, step in self.CASES:
            visit = make()
            with self.subTest(method=visit.method.id):
                visit.until(step)
                visit.push("decided", step=step, choice="not_here", reason="no second one here")
                state = visit.until("judge")
                self.assertGreater(len(state.judgement.causes), 1)
                advised = [c.id for c in state.judgement.choices if c.recommended]
                self.assertNotIn("adjust", advised)
                self.assertNotIn("leave", advised)

    def test_every_step_that_tells_apart_takes_it_for_an_answer(self):
        for method in newest_methods():
            for step in method.steps:
                if step.kind == "record" and step.title == "Tell the causes apart":
                    with self.subTest(method=method.id):
                        self.assertTrue(step.if_not)


class BledLess(Jobs):
    def bled(self, times, **more):
        visit = TraceVisit(asks=True, **more)
        visit.until("bleed")
        if times:
            visit.push("bled", step="bleed", side="high", bar="100", times=str(times))
        return visit

    def given_up(self, times):
        visit = self.bled(times)
        self.refused(visit, "reason.missing", "decided", step="bleed", choice="not_here")
        visit.push("decided", step="bleed", choice="not_here", reason="cylinder nearly empty")
        return visit

    def test_with_air_left_in_the_regulator_nothing_is_judged(self):
        for times in (0, 1):
            with self.subTest(times=times):
                visit = self.given_up(times)
                visit.until("judge")
                state = visit.state()
                self.assertEqual(state.as_found.mark, "none")
                self.assertEqual(state.judgement.causes[0].label, "Air left in the regulator")
                # Set all the same it could never be signed: it is not offered.
                self.assertNotIn("adjust", [c.id for c in state.judgement.choices])
                self.refused(
                    visit, "choice.unknown", "decided", step="judge", choice="adjust", reason="x"
                )

    def test_the_paper_says_why(self):
        visit = self.given_up(0)
        visit.until("judge")
        visit.push("ended", state="not_done", reason="no gas to bleed with")
        visit.until("")
        self.assertIn("cylinder nearly empty", " ".join(self.paper(visit)["method"]["deviations"]))
        self.assertEqual(visit.state().outcome.id, "stopped")

    def test_a_repeated_test_asks_for_it_again(self):
        visit = self.given_up(0)
        visit.until("judge")
        visit.push("decided", step="judge", choice="repeat", reason="another cylinder came")
        self.assertIn(
            "bleed", [s.id for s in visit.state().steps if s.status in ("now", "next", "later")]
        )
