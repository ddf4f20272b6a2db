"""Vessels on load cells and indicators: least weight, corners, causes before any setting."""

from __future__ import annotations

import math

from calibration.engine.judging.explain import explain
from calibration.families.loadcells.evidence import enough
from calibration.kernel.numbers import exact
from tests.core import planted_indicators, planted_vessels
from tests.core.asking import every_step
from tests.core.indicators import IndicatorVisit
from tests.core.jobs import Jobs
from tests.core.vessels import SET, VesselVisit

LIGHT = {"pieces": [{"nominal_kg": "20", "count": 10}]}


class Vessels(Jobs):
    def test_a_good_one_is_left_alone(self):
        visit = VesselVisit(asks=True)
        state = visit.until("")
        self.assertEqual((state.status, state.outcome.id), ("signed", "within"))
        table = self.tables(visit)["Is the weight heavy enough?"]
        self.assertEqual(table["lines"], ["Verified only: nothing in the instrument was changed."])

    def test_weights_up_held_and_down(self):
        visit = VesselVisit()
        run = visit.until("as_found").as_found
        self.assertEqual(
            [(p.label, p.target) for p in run.points],
            [
                ("Empty", "0"),
                ("Half", "500"),
                ("All", "1000"),
                ("All, held", "1000"),
                ("Half", "500"),
                ("Empty", "0"),
            ],
        )
        self.assertEqual(visit.state().task.title, "Empty: read what it shows")
        visit.step()
        self.assertEqual(visit.state().task.title, "Half: 8 × 50 kg + 5 × 20 kg")

    def test_creep_is_asked_about_before_its_time_and_its_time_is_on_the_paper(self):
        visit = VesselVisit()
        visit.until("as_found")
        for _ in range(3):
            visit.step()
        kind, data = visit.person.act(visit.state())[0]
        said = self.refused(visit, "slip.suspected", kind, **data)
        self.assertEqual(said.message, "The load stands for 0 of 10 min. Keep it?")
        visit.until("")
        self.assertEqual(
            self.tables(visit)["Creep"]["rows"], [["As found", "0 of 10 min", "0.0 kg"]]
        )

    def test_full_read_again_after_it_was_held_leaves_no_creep_until_then(self):
        visit = VesselVisit()
        visit.until("as_found")
        for _ in range(4):
            visit.step()
        held = self.blocks(visit)
        self.assertIn("Creep", held)
        full = [e for e in visit.events if e.kind == "reading_taken"][2]
        visit.push("retracted", event=full.id, reason="typed at the wrong place")
        self.assertNotIn("Creep", self.blocks(visit))

    def blocks(self, visit):
        """Return titles of what the job shows besides."""
        return [b.title for b in visit.state().blocks if b.kind == "table"]

    def test_an_error_is_said_and_opened_up_in_the_unit_of_the_display(self):
        visit = VesselVisit(asks=True, span_percent=0.6)
        state = visit.until("judge")
        full = state.as_found.points[2]
        self.assertEqual(float(full.error_text.replace("+", "")), float(full.reading) - 1000)
        self.assertEqual([s.unit for s in state.as_found.stations], ["kg"] * 3)
        self.assertTrue(state.judgement.uncertainty.endswith(" kg"), state.judgement.uncertainty)
        with exact():
            opened = explain(visit.standing(), "as_found.points.2.error")
        self.assertEqual(opened.result, f"{full.error_text} kg")
        self.assertIn(f"{full.reading} kg − 1000", opened.worked)

    def test_least_weight_and_what_it_leaves_at_capacity_by_hand(self):
        """5 % of 4 × 2200 kg are 440 kg. 1000 kg of M1: (8 × 2.5 + 30 × 1) g / 3 = 16.7 g;
        with a step of 0.2 kg: √(0.0167² + 0.2²/3) × 5000/1000 = 0.583 kg."""
        visit = VesselVisit()
        visit.until("as_found")
        with exact():
            of = enough(visit.standing())
        self.assertEqual(float(of.least.minimum_kg), 440.0)
        u = math.hypot((8 * 2.5 + 30 * 1.0) / 3000, 0.2 / math.sqrt(3)) * 5
        self.assertAlmostEqual(of.u_at_capacity, u, 6)
        self.assertAlmostEqual(float(of.used_percent), 100 * 6450 / 8800, 6)

    def test_weights_that_are_too_light_take_a_reason(self):
        visit = VesselVisit(shelf=LIGHT)
        visit.person.reason = ""
        kind, data = visit.person.act(visit.state())[0]
        said = self.refused(visit, "reference.not_adequate", kind, **data)
        self.assertIn("200 kg is less than the 440 kg", said.message)
        self.refused(
            visit, "weights.none", kind, **{**data, "asset": {**data["asset"], "pieces": []}}
        )
        VesselVisit("loadcell_theoretical", shelf=LIGHT).until("as_found")

    def test_a_difference_from_the_record_is_resolved(self):
        visit = VesselVisit(span_percent=0.6)
        visit.until("settings")
        for kind, data in visit.person.act(visit.state()):
            visit.push(kind, **data)
        fields = next(s for s in every_step(visit) if s.id == "settings").fields
        self.assertIn("1.13675", fields[1].question)
        self.assertEqual(fields[0].question, "")

    def test_setting_is_advised_only_where_the_vessel_is_in_order(self):
        for fault, cause, advised in (
            ({"span_percent": 0.6}, "span_parameter", "Set zero and span"),
            ({"zero_kg": -4.0}, "scale_zero_moved", "Set zero and span"),
            ({"cell_percent": -0.6}, "cell_signal", "Set zero and span"),
            ({"pipe_percent": 0.8}, "piping", "Stop and report it"),
            ({"pipe_percent": 0.8, "pipe_sticks": 0.4}, "piping", "Stop and report it"),
            ({"build_up_kg": 8.0}, "build_up", "Stop and report it"),
            ({"moisture_mohm": 80.0}, "moisture", "Stop and report it"),
            ({"corner_percent": 1.5}, "corner_off", "Stop and report it"),
            ({"dead_cell": True}, "cell_dead", "Stop and report it"),
        ):
            with self.subTest(cause):
                visit = VesselVisit(asks=True, **fault)
                visit.until("judge")
                self.assertEqual(visit.causes(), [cause])
                self.assertEqual(self.advised(visit), [advised])

    def test_an_open_signal_is_found_at_the_corners_alone(self):
        """Three cells of four give the same mean for a load in the middle."""
        visit = VesselVisit(asks=True, open_cell=True, uneven=0.0)
        state = visit.until("judge")
        self.assertEqual({p.mark for p in state.as_found.points}, {"within"})
        self.assertEqual((visit.causes(), state.judgement.mark), (["cell_open"], "outside"))

    def test_what_was_set_is_read_back_and_kept(self):
        visit = VesselVisit(asks=True, span_percent=0.6)
        state = visit.until("")
        self.assertEqual(state.outcome.id, "adjusted")
        rows = {r[0]: r for r in self.tables(visit)["Electronics, mV/V"]["rows"]}
        self.assertEqual(rows["Span"][3], "+0.600 %")
        self.assertEqual([r[0] for r in self.tables(visit)["Set, kg"]["rows"]][1], "Span set")

    def test_a_corner_that_was_put_right_is_read_again(self):
        visit = VesselVisit(asks=True, corner_percent=1.5)
        visit.until("judge")
        visit.push("repaired", step="judge", what="other", said="cell trimmed in the box")
        visit.model(corner_percent=0.0)
        state = visit.until("corners_left")
        self.assertEqual(state.current_step, "corners_left")
        self.assertEqual(visit.until("").outcome.words, "within limits after repair")

    def test_substitution_grows_in_uncertainty(self):
        """The set counts as often as it hung: 3 × 16.7 g, and each time is read twice."""
        visit = VesselVisit("loadcell_substitution", asks=True)
        visit.until("judge")
        figures = visit.standing().as_found
        step = 0.2 / math.sqrt(12)
        u3 = 2 * math.hypot(3 * 0.050 / 3 / 2, step * math.sqrt(5))
        self.assertAlmostEqual(figures.budgets[3].expanded_uncertainty * 50, u3, 3)
        self.assertIn("fill material", self.how(VesselVisit("loadcell_substitution"), 2))

    def how(self, visit, place):
        visit.until("as_found")
        for _ in range(place):
            visit.step()
        return visit.state().task.asks[0].blocks[1].text

    def test_by_data_and_then_checked(self):
        """2 mV/V × 5000 / 8800 kg × 9.81 / 9.80665 = 1.13675 mV/V."""
        visit = VesselVisit("loadcell_theoretical", asks=True, span_percent=0.6)
        visit.until("span_by_data")
        step = next(s for s in every_step(visit) if s.id == "span_by_data")
        self.assertEqual(step.sets[0].to_write, "1.13675")
        self.assertEqual(visit.until("").outcome.id, "adjusted")

    def test_service_mode_and_locked_discharge_are_on_until_they_are_off(self):
        visit = VesselVisit()
        on = [o.label for o in visit.until("as_found").on]
        self.assertIn("Service mode on", on)
        self.assertIn("Feed and discharge locked", on)

    def test_a_set_is_kept_in_the_words_of_its_label(self):
        visit = VesselVisit()
        visit.step()
        role = every_step(visit)[0].roles[0]
        self.assertIn("30 × 20 kg, 8 × 50 kg, class M1", role.detail)
        self.assertEqual(len(SET["pieces"]), 2)


class Indicators(Jobs):
    def test_a_mistyped_factor_comes_back_with_the_load(self):
        visit = IndicatorVisit(asks=True, factor_percent=1.2)
        visit.until("judge")
        self.assertEqual(visit.causes(), ["factor_mistyped"])
        state = visit.until("")
        self.assertEqual(state.outcome.id, "adjusted")
        rows = {r[0]: r[1:] for r in self.tables(visit)["Factor"]["rows"]}
        self.assertEqual(rows["On record"][0], "2.0375")
        self.assertEqual(rows["Now"], ["2.0375", "0.000 %"])

    def test_unlocked_is_on_until_it_is_locked(self):
        visit = IndicatorVisit(factor_percent=1.2)
        self.assertIn("Indicator unlocked", [o.label for o in visit.until("as_left").on])
        visit.until("locked_again")
        self.assertTrue(any("Indicator unlocked is still on" in t for t in visit.state().to_close))

    def test_a_default_password_is_a_finding_and_no_password_is_asked_for(self):
        visit = IndicatorVisit(asks=True)
        visit.until("found_locked")
        visit.push("line_failed", step="found_locked", item="own", what="it is 0000", said="x")
        visit.push("confirmed", step="found_locked", item="locked")
        visit.push("decided", step="found_locked", choice="without", reason="changed at the end")
        state = visit.until("")
        self.assertEqual(state.outcome.id, "limited")
        names = [f.label.lower() for s in every_step(visit) for f in s.fields]
        self.assertFalse([n for n in names if "password" in n])

    def test_causes_before_any_setting(self):
        for fault, cause, advised in (
            # Further off than drift takes it: a named person may set it, with a reason.
            ({"zero_kg": -20.0}, "zeroed_with_load", "Stop and report it"),
            ({"lies_kg": 2.0}, "lies_on_it", "Correct the test setup, repeat"),
            ({"unit": "lb"}, "unit_wrong", "Correct the test setup, repeat"),
            ({"cell_percent": -0.6}, "cell_moved", "Set zero and load"),
            ({"load_percent": -0.6}, "load_wrong", "Repeat it with another load"),
        ):
            with self.subTest(cause):
                visit = IndicatorVisit(asks=True, **fault)
                visit.until("judge")
                self.assertEqual((visit.causes(), self.advised(visit)), ([cause], [advised]))

    def test_check_only_never_sets(self):
        visit = IndicatorVisit("indicator_check", asks=True, factor_percent=1.2)
        state = visit.until("judge")
        self.assertEqual([c.id for c in state.judgement.choices if c.recommended], ["stop"])
        self.assertNotIn("adjust", [c.id for c in state.judgement.choices])
        state = visit.until("")
        self.assertEqual(state.outcome.id, "failed")
        self.assertEqual(self.paper(visit)["title"], "Verification certificate")


class Planted(Jobs):
    def test_planted_faults_of_vessels_are_named(self):
        self.planted(planted_vessels.FOUND, planted_vessels.TABLE)

    def test_planted_faults_of_indicators_are_named(self):
        self.planted(planted_indicators.FOUND, planted_indicators.TABLE)

    def test_the_published_tables_hold_the_aims(self):
        self.published("loadcell-faults.md", planted_vessels.FAULTS)
        self.published("indicator-faults.md", planted_indicators.FAULTS)
