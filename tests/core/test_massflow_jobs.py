"""Mass flow meters: a zero that is verified, causes before any zeroing, runs against a scale."""

from __future__ import annotations

from calibration.families.massflow.model import AIR, WEIGHTS
from tests.core import planted_massflow
from tests.core.asking import every_step
from tests.core.jobs import Jobs
from tests.core.massflows import MassFlowVisit

LIVE = {"run": "as_found", "point": 0, "applied": "0", "drive_gain": "6"}


class Zero(Jobs):
    def test_a_good_zero_is_left_alone_and_nothing_is_changed(self):
        visit = MassFlowVisit(zero=0.7, asks=True)
        state = visit.until("")
        self.assertEqual((state.status, state.outcome.id), ("signed", "within"))
        worth = next(t for title, t in self.tables(visit).items() if "is worth" in title)
        self.assertEqual(worth["lines"], ["Verified only: nothing in the instrument was changed."])
        self.assertEqual(self.paper(visit)["title"], "Verification certificate")

    def test_what_a_zero_is_worth_by_hand(self):
        """1.08 kg/h of 900, 5400 and 20,000 kg/h: 0.12, 0.02 and 0.0054 %."""
        visit = MassFlowVisit()
        visit.until("as_found")
        visit.push("reading_taken", **LIVE, reading="1.08", spread="0.3", mean_s="60")
        block = visit.state().blocks[0]
        self.assertEqual([c[2] for c in block.cells], ["0.120 %", "0.020 %", "0.005 %"])
        self.assertIn("90 % of the zero stability", visit.state().judgement.text)

    def test_a_moved_zero_is_set_only_once_a_leak_is_ruled_out(self):
        visit = MassFlowVisit(zero=4.0, asks=True)
        state = visit.until("tell_apart")
        self.assertEqual(visit.causes(), ["valve_leaks", "zero_moved"])
        asked = {f.id: f.hint for f in every_step(visit)[10].fields}
        self.assertEqual(list(asked), ["pressure_before", "pressure_other", "zero_at_other"])
        self.assertIn("root of the pressure", asked["zero_at_other"])
        visit.until("judge")
        self.assertEqual(self.advised(visit), ["Set it"])
        state = visit.until("")
        self.assertEqual(state.outcome.id, "adjusted")
        self.assertEqual(len(self.tables(visit)["Set, kg/h"]["rows"]), 1)
        self.assertLess(abs(float(state.as_left.points[0].reading.replace("−", "-"))), 0.3)

    def test_a_leak_is_never_stored_as_a_zero(self):
        visit = MassFlowVisit(leak=5.0, asks=True)
        visit.until("judge")
        self.assertEqual(visit.causes(), ["valve_leaks"])
        self.assertEqual(self.advised(visit), ["Correct the test setup, repeat"])
        said = self.refused(visit, "reason.missing", "decided", step="judge", choice="adjust")
        self.assertIn("reason", said.message)
        state = visit.until("")
        self.assertEqual(state.outcome.id, "within")
        self.assertIn("repeated", state.outcome.why)

    def test_what_disturbs_is_outside_though_the_mean_is_not(self):
        for fault, cause in (
            ({"gas_percent": 0.5}, "gas_in_it"),
            ({"empty_percent": 15.0}, "not_full"),
            ({"solids_percent": 4.0}, "solids_in_it"),
            ({"beat": 3.0, "beat_s": 5.0}, "crosstalk"),
        ):
            with self.subTest(cause):
                visit = MassFlowVisit(asks=True, **fault)
                visit.until("judge")
                self.assertEqual(visit.causes(), [cause])
                self.assertEqual(visit.state().judgement.mark, "outside")

    def test_a_coating_moves_the_density_and_no_zero(self):
        visit = MassFlowVisit(coated_percent=3.0, asks=True)
        visit.until("judge")
        self.assertEqual(visit.causes(), ["tube_coated"])
        self.assertEqual(self.advised(visit), ["Leave it as it is"])

    def test_a_zero_that_cannot_be_seen_is_refused(self):
        visit = MassFlowVisit()
        visit.until("as_found")
        given = {**LIVE, "mean_s": "60"}
        said = self.refused(visit, "zero.hidden", "reading_taken", **given, reading="0", spread="0")
        self.assertIn("cut-off", said.message)
        short = {**LIVE, "reading": "0.3", "spread": "0.3", "mean_s": "20"}
        self.refused(visit, "zero.too_short", "reading_taken", **short)
        for name in ("spread", "mean_s", "drive_gain"):
            wrong = {**LIVE, "reading": "0.3", "spread": "0.3", "mean_s": "60", name: "-1"}
            self.refused(visit, "number.range", "reading_taken", **wrong)
        self.refused(
            visit, "field.unknown", "reading_taken", **given, reading="1", spread="1", colour="red"
        )

    def test_it_is_zeroed_as_often_as_the_site_says(self):
        visit = MassFlowVisit(zero=6.0, asks=True, parameters={"zero_attempts": "2"})
        visit.until("zeroing")
        self.assertIn("Attempt 1 of 2", visit.state().task.asks[0].blocks[1].text)
        visit.push("refused", step="zeroing", word="noise too high")
        self.assertIn("Attempt 2 of 2", visit.state().task.asks[0].blocks[1].text)
        visit.push("refused", step="zeroing", word="flow too high")
        self.assertEqual(visit.state().current_step, "zero_stored")
        self.refused(visit, "step.not_now", "zeroed", step="zeroing", after="0")
        state = visit.until("left_judge")
        self.assertEqual(state.as_left.mark, "outside")

    def test_zeroed_at_each_visit_where_the_site_says_so(self):
        visit = MassFlowVisit(zero=0.2, asks=True, parameters={"school": "always"})
        visit.until("judge")
        self.assertEqual(self.advised(visit), ["Set it"])
        self.assertEqual(visit.until("").outcome.id, "adjusted")

    def test_upstream_is_opened_before_it_is_signed(self):
        visit = MassFlowVisit()
        state = visit.until("meter_open")
        self.assertEqual([on.label for on in state.on][-1], "Meter blocked in")
        self.assertTrue(any("Meter blocked in is still on" in line for line in state.to_close))


class Proof(Jobs):
    def test_runs_on_a_scale_are_put_right_for_the_air(self):
        """A scale shows less of what is lighter than its weights: OIML D 28."""
        visit = MassFlowVisit("massflow_prove")
        visit.until("as_found")
        for n in range(3):
            visit.push("reading_taken", run="as_found", point=n, applied="1000", reading="1001.76")
        air = (1 - AIR / WEIGHTS) / (1 - AIR / 1320)
        expected = 100 * (1001.76 / (1000 * air) - 1)
        self.assertIn(f"+{expected:.3f} %", visit.state().judgement.text)
        self.assertAlmostEqual(float(visit.state().as_found.points[0].ideal), 1000 * air, 2)
        self.assertEqual(visit.state().as_found.points[0].applied, "1000")

    def test_a_metered_quantity_has_no_air(self):
        visit = MassFlowVisit("massflow_prove", shelf={"reference_is": "metered"}, weighed=False)
        visit.until("as_found")
        for n in range(3):
            visit.push("reading_taken", run="as_found", point=n, applied="1000", reading="1001")
        self.assertIn("+0.100 %", visit.state().judgement.text)

    def test_five_runs_by_default_and_three_at_least(self):
        visit = MassFlowVisit("massflow_prove")
        self.assertEqual(len(visit.until("as_found").as_found.points), 5)
        visit = MassFlowVisit("massflow_prove", parameters={"runs": "3"})
        self.assertEqual(len(visit.until("as_found").as_found.points), 3)
        for n in range(2):
            visit.push("reading_taken", run="as_found", point=n, applied="1000", reading="1050")
        self.assertEqual(visit.state().as_found.mark, "none")

    def test_a_factor_is_set_round_by_round(self):
        visit = MassFlowVisit("massflow_prove", factor_percent=0.6, asks=True)
        visit.until("set_factor")
        first = float(every_step(visit)[10].sets[0].to_write)
        self.assertAlmostEqual(first, 1 / 1.006, 3)
        visit.step()
        visit.model(factor_percent=1.2)
        state = visit.until("left_judge")
        self.assertEqual(state.as_left.mark, "outside")
        visit.push("decided", step="left_judge", choice="adjust")
        second = float(every_step(visit)[10].sets[0].to_write)
        self.assertAlmostEqual(second, 1 / 1.012, 3)
        state = visit.until("")
        self.assertEqual(state.outcome.id, "adjusted")
        self.assertEqual(len(self.paper(visit)["settings_written"]), 2)

    def test_runs_that_differ_give_no_factor(self):
        visit = MassFlowVisit("massflow_prove", scatter_percent=0.15, asks=True)
        visit.until("judge")
        self.assertEqual(visit.causes(), ["runs_differ"])
        self.assertEqual(self.advised(visit), ["Correct the test setup, repeat"])

    def test_the_reference_is_checked_before_a_factor_is_set(self):
        visit = MassFlowVisit("massflow_prove", reference_percent=0.5, asks=True)
        visit.until("tell_apart")
        self.assertEqual(visit.causes(), ["factor_moved", "quantity_wrong"])
        visit.until("judge")
        self.assertEqual(visit.causes(), ["quantity_wrong"])
        self.assertEqual(self.advised(visit), ["Repeat it with another reference"])

    def test_bad_runs_are_refused_or_asked_about(self):
        visit = MassFlowVisit("massflow_prove")
        visit.until("as_found")
        run = {"run": "as_found", "point": 0}
        self.refused(visit, "number.range", "reading_taken", **run, applied="0", reading="1000")
        self.refused(
            visit, "slip.suspected", "reading_taken", **run, applied="1000", reading="100.1"
        )

    def test_a_reference_hardly_better_takes_a_reason(self):
        visit = MassFlowVisit("massflow_prove", shelf={"uncertainty_percent": "0.15"})
        visit.person.reason = ""
        kind, data = visit.person.act(visit.state())[0]
        said = self.refused(visit, "reference.not_adequate", kind, **data)
        self.assertIn("3 times better", said.message)


class Planted(Jobs):
    def test_planted_faults_are_named(self):
        self.planted(planted_massflow.FOUND, planted_massflow.TABLE)

    def test_the_published_table_holds_the_aims(self):
        self.published("massflow-faults.md", planted_massflow.FAULTS)
