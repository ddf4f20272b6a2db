"""After a failed check: the test again, or on to setting it in the same job."""

from dataclasses import replace
from decimal import Decimal

from django.test import SimpleTestCase

from calibration.engine.judging.explain import explain
from calibration.engine.method.family import METHODS
from calibration.engine.papers.certificate import Beside, certificate
from calibration.families.gas.learnt import drawn
from calibration.families.gas.ledger import gas_of
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact
from calibration.simulate.commands import Share
from calibration.simulate.technician import Bottle
from tests.core.asking import every_step
from tests.core.detectors import DETECTORS, SHELF, GasVisit, cylinder, part
from tests.core.families import Visit

SET = ["zero", "span"]
#: The bottle that hangs on the regulator holds half of what its neighbour does.
HALF = Bottle((Share(gas="methane", percent=1.1),))
FULL = Bottle((Share(gas="methane", percent=2.2),))
OTHER = cylinder([part("methane", "50", "%LEL")], number="G-51", shelf=SHELF)


def with_bottle(bottle):
    """A bump check of a good detector, with a bottle in hand that may be the wrong one."""
    visit = GasVisit("gas_bump", asks=True)
    visit.person.bottles = {**visit.person.bottles, "span_gas": bottle}
    return visit


def decide(visit, choice, reason="another bottle hung on it"):
    visit.until("judge")
    visit.push("decided", step="judge", choice=choice, reason=reason)


def advised(state):
    return [c.id for c in state.judgement.choices if c.recommended]


def paper(visit):
    with exact():
        return certificate(visit.job, visit.state(), "0" * 64, Beside(site={}, events=visit.events))


class Again(SimpleTestCase):
    def refused(self, visit, code, kind, /, **data):
        with self.assertRaises(InputError) as caught:
            visit.push(kind, **data)
        self.assertEqual(caught.exception.code, code, caught.exception.message)

    def test_a_check_with_the_wrong_cylinder_is_repeated_with_the_right_one(self):
        visit = with_bottle(HALF)
        self.assertEqual(advised(visit.until("judge")), ["repeat_other"])
        decide(visit, "repeat_other")
        self.assertEqual(visit.state().current_step, "kit")
        visit.person.bottles = {**visit.person.bottles, "span_gas": FULL}
        visit.person.assets = {**visit.person.assets, "span_gas": OTHER}
        done = visit.until("")
        self.assertEqual(done.outcome.id, "within")
        self.assertIn("another bottle hung on it", done.outcome.why)
        with exact():
            self.assertEqual({d.asset for d in drawn(visit.job)}, {"G-50", "G-51"})

    def test_what_was_read_first_stays_on_the_paper_with_its_references(self):
        visit = with_bottle(HALF)
        decide(visit, "repeat_other")
        visit.person.bottles = {**visit.person.bottles, "span_gas": FULL}
        visit.person.assets = {**visit.person.assets, "span_gas": OTHER}
        visit.until("")
        said = paper(visit)
        first = next(r for r in said["extra_runs"] if "before it was repeated" in r["title"])
        self.assertEqual(first["verdict"], "outside limits")
        shown = Decimal(first["points"][0]["reading"].split()[0])
        self.assertAlmostEqual(shown, Decimal(8), delta=Decimal("0.5"))
        self.assertLessEqual({"G-50", "G-51"}, {r["asset"] for r in said["references"]})
        self.assertIn("another bottle hung on it", " ".join(said["method"]["deviations"]))

    def test_a_figure_of_the_first_test_can_still_be_opened_up(self):
        visit = with_bottle(HALF)
        decide(visit, "repeat")
        with exact():
            error = explain(visit.job, "as_found~1.points.0.error")
        self.assertIn("Error", error.title)
        for name in ("as_found~2", "as_found~0", "as_found~x", "nothing~1"):
            with self.assertRaises(InputError):
                explain(visit.job, f"{name}.points.0.error")

    def test_with_the_very_same_cylinder_the_first_answer_asks_what_follows(self):
        """A sensor that answers only the second time would not have warned the first."""
        for choice, asked in (("repeat", True), ("repeat_other", False)):
            with self.subTest(choice=choice):
                visit = with_bottle(HALF)
                decide(visit, choice, "the hose was off")
                visit.person.bottles = {**visit.person.bottles, "span_gas": FULL}
                visit.until("sign")
                kinds = [a.kind for a in visit.state().asked]
                self.assertEqual("impact" in kinds, asked)

    def test_repeating_is_advised_once_and_takes_a_reason(self):
        visit = with_bottle(HALF)
        visit.until("judge")
        self.refused(visit, "reason.missing", "decided", step="judge", choice="repeat", reason=" ")
        decide(visit, "repeat")
        self.assertEqual(advised(visit.until("judge")), ["stop"])

    def test_what_was_repeated_cannot_be_taken_back(self):
        visit = with_bottle(HALF)
        decide(visit, "repeat")
        for kind in ("reading_taken", "decided"):
            event = next(e for e in visit.events if e.kind == kind)
            self.refused(visit, "retract.refused", "retracted", event=event.id, reason="slip")

    def test_once_something_was_set_the_test_is_not_repeated(self):
        visit = GasVisit("gas_zero_span", asks=True).head(response=0.8)
        visit.until("as_left")
        self.assertTrue(gas_of(visit.job.ledger).moves)
        self.refused(visit, "choice.too_late", "decided", step="judge", choice="repeat", reason="x")

    def test_every_family_may_repeat_a_test_that_failed(self):
        """A leak in the hand pump: the transmitter is not adjusted for it."""
        visit = Visit("smart_transmitter", sensor_zero_percent=2.0)
        visit.events[0] = replace(
            visit.events[0], content=replace(visit.events[0].content, asks=True)
        )
        state = visit.until("judge")
        self.assertEqual(state.as_found.mark, "outside")
        decide(visit, "repeat", "the fitting leaked")
        self.assertEqual(visit.state().as_found.taken, 0)
        titles = [r.title for r in visit.state().extra_runs]
        self.assertIn("As found, before it was repeated", titles)

    def test_a_job_of_before_is_not_offered_it(self):
        visit = GasVisit("gas_bump").head(response=0.5)
        choices = {c.id for c in visit.until("judge").judgement.choices}
        self.assertFalse(choices & {"repeat", "repeat_other"})


class OnToSetting(SimpleTestCase):
    def test_a_failed_bump_goes_on_to_zero_and_span_in_the_same_job(self):
        visit = GasVisit("gas_bump", asks=True).head(response=0.8)
        state = visit.until("judge")
        self.assertEqual(advised(state), ["adjust"])
        self.assertEqual([r.id for s in every_step(visit) for r in s.roles], ["span_gas", "meter"])
        visit.step()
        zero = next(s for s in every_step(visit) if s.id == visit.state().current_step)
        self.assertEqual([r.id for r in zero.roles], ["zero_gas"])
        done = visit.until("")
        self.assertEqual(done.outcome.id, "adjusted")
        self.assertEqual([s.content.step for s in visit.events if s.kind == "gas_set"], SET)
        self.assertEqual(done.as_left.mark, "within")

    def test_an_infrared_head_is_only_zeroed(self):
        optical, model = DETECTORS["gas_infrared"]
        site = {"bump_limit_percent": {"value": "10", "source": "site"}}
        visit = GasVisit("gas_bump", facts=optical, asks=True, parameters=site)
        visit.person.model = replace(model, heads=(replace(model.heads[0], zero=8.0),))
        decide(visit, "adjust", "its zero has moved")
        visit.until("")
        self.assertEqual([s.content.step for s in visit.events if s.kind == "gas_set"], ["zero"])

    def test_until_it_fails_no_gas_for_setting_is_set_aside(self):
        bump = GasVisit("gas_bump")
        bump.until("bypass")
        role = next(r for s in every_step(bump) for r in s.roles if r.id == "span_gas")
        self.assertEqual(role.ratio, "1.0 L set aside")

    def test_a_job_that_began_with_the_first_version_keeps_it(self):
        old = METHODS["gas_bump", 1]
        self.assertFalse(old.sets)
        self.assertNotIn("as_left", [r.id for r in old.runs])
