"""Belt scales: whole revolutions, causes before any new count, material against a truck."""

from __future__ import annotations

import math
from statistics import stdev

from calibration.families.belt.validity import courses, learnt, remembered
from calibration.kernel.numbers import exact
from tests.core import planted_belts
from tests.core.asking import every_step
from tests.core.belts import BeltVisit
from tests.core.jobs import Jobs

TURN = {"run": "as_found", "point": 0, "applied": "20150", "reading": "20150"}


class Turns(Jobs):
    def test_whole_revolutions_near_the_minutes_and_three_at_least(self):
        """72 m at 1.6 m/s are 45 s: four of them reach 3 min; 240 m at 0.8 m/s: three."""
        visit = BeltVisit()
        self.assertEqual(len(visit.until("as_found").as_found.points), 4)
        visit = BeltVisit(own={"belt_length_m": "240", "belt_speed_m_s": "0.8"})
        self.assertEqual(len(visit.until("as_found").as_found.points), 3)
        self.assertIn("3 whole ones", visit.state().task.asks[0].blocks[0].rows[0].value)

    def test_what_the_weights_stand_for_by_hand(self):
        """3.6 × 1.6 m/s × 120 kg / 2.4 m = 288 t/h."""
        visit = BeltVisit()
        visit.until("judge")
        self.assertIn("288 t/h", visit.state().judgement.text)

    def test_part_of_a_revolution_is_refused_or_asked_about(self):
        visit = BeltVisit()
        visit.until("as_found")
        said = self.refused(visit, "turn.partial", "reading_taken", **TURN, seconds="30")
        self.assertIn("45.0 s", said.message)
        self.refused(visit, "slip.suspected", "reading_taken", **TURN, seconds="42")
        self.refused(visit, "number.range", "reading_taken", **TURN)
        wrong = {**TURN, "reading": "2015"}
        self.refused(visit, "slip.suspected", "reading_taken", **wrong, seconds="45")
        visit.push("reading_taken", **TURN, seconds="42", kept=True)

    def test_a_deviation_by_hand(self):
        """A mean of 20,315 against 20,150 of 41,200: +0.40 % of span."""
        visit = BeltVisit()
        visit.until("as_found")
        counts = (20310, 20320, 20312, 20318)
        for n, count in enumerate(counts):
            reading = {"run": "as_found", "point": n, "applied": "20150", "reading": str(count)}
            visit.push("reading_taken", **reading, seconds="45")
        self.assertIn("Zero +0.40 % of span", visit.state().judgement.text)
        figures = visit.standing().figures("as_found")
        u = 3.182 * stdev(counts) / math.sqrt(4)
        top = 2 * (20150 + 41200)
        self.assertAlmostEqual(figures.budgets[0].expanded_uncertainty * top / 100, u, 1)

    def test_causes_before_any_new_count(self):
        for fault, cause, advised in (
            ({"zero_percent": 0.8}, "belt_zero_moved", "Take the new counts over"),
            ({"span_percent": 1.2}, "belt_span_moved", "Take the new counts over"),
            ({"build_up_kg_m": 0.5}, "belt_build_up", "Correct the test setup, repeat"),
            (
                {"tension_kg": -1.0, "misaligned_mm": 2.0},
                "belt_tension",
                "Correct the test setup, repeat",
            ),
            ({"slip_percent": 1.5}, "belt_slip", "Correct the test setup, repeat"),
            ({"stuck": 80.0}, "idler_stuck", "Correct the test setup, repeat"),
            ({"leans_percent": 1.2}, "weights_not_seated", "Correct the test setup, repeat"),
        ):
            with self.subTest(cause):
                visit = BeltVisit(asks=True, **fault)
                visit.until("judge")
                self.assertEqual((visit.causes(), self.advised(visit)), ([cause], [advised]))

    def test_tension_hardly_moves_the_weights(self):
        visit = BeltVisit(asks=True, tension_kg=-1.0, misaligned_mm=2.0)
        visit.until("judge")
        self.assertIn("Span 0.00 %", visit.state().judgement.text)

    def test_new_counts_are_means_and_are_proved_without_and_with_weights(self):
        visit = BeltVisit(asks=True, zero_percent=0.8)
        visit.until("counts_taken_over")
        step = next(s for s in every_step(visit) if s.id == "counts_taken_over")
        zero, span = (int(i.to_write) for i in step.sets)
        self.assertAlmostEqual(zero, 20150 + 0.008 * 41200, delta=5)
        self.assertAlmostEqual(span, 41200, delta=5)
        state = visit.until("")
        self.assertEqual(state.outcome.id, "adjusted")
        rows = {r[0]: r for r in self.tables(visit)["Zero and span"]["rows"]}
        named = {f"{of} as {when}" for of in ("Zero", "Span") for when in ("found", "left")}
        self.assertEqual(set(rows), named)
        self.assertEqual(rows["Zero as found"][4], "+0.80 %")

    def test_a_test_that_is_repeated_begins_without_weights(self):
        visit = BeltVisit(asks=True, build_up_kg_m=0.5)
        visit.until("judge")
        visit.step()
        self.assertEqual(visit.state().current_step, "belt_empty")
        state = visit.until("as_found")
        self.assertNotIn("Test weights", " ".join(o.label for o in state.on))
        self.assertEqual(visit.until("").outcome.id, "within")

    def test_a_first_zero_is_a_baseline(self):
        visit = BeltVisit("belt_commission", asks=True)
        state = visit.until("judge")
        self.assertIn("baseline, and deviates from nothing", state.judgement.text)
        self.assertEqual({p.mark for p in state.as_found.points}, {"none"})
        self.assertEqual(visit.until("").outcome.id, "adjusted")

    def test_zero_and_span_are_learnt_and_have_a_trend(self):
        visit = BeltVisit(asks=True, zero_percent=0.8)
        visit.until("")
        with exact():
            lines = learnt(visit.standing())
        self.assertAlmostEqual(int(lines[0]["zero_count"]), 20480, delta=5)
        lines = [{"zero_count": "20481", "span_count": "41201"}]
        day = visit.now.date()
        own = remembered({"zero_count": "20150"}, [(day, lines)], day)
        self.assertEqual(own["zero_count"], "20481")
        later = [{"zero_count": "20687", "span_count": "41201"}]
        zero, span = courses({}, [(day, lines), (day, later)], {})
        self.assertEqual([round(a.response, 1) for a in zero.history], [100.0, 100.5])
        self.assertEqual([round(a.response, 1) for a in span.history], [100.0, 100.0])


class Material(Jobs):
    def load(self, n, full, counted, **more):
        return {
            "run": "as_found",
            "point": n,
            "applied": full,
            "empty": "14000",
            "reading": counted,
            **more,
        }

    def test_a_truck_is_weighed_twice(self):
        """38,000 less 14,000 kg are 24,000; 24,240 counted are +1.00 %."""
        visit = BeltVisit("belt_material")
        visit.until("as_found")
        for n in range(3):
            visit.push("reading_taken", **self.load(n, "38000", "24240"))
        self.assertIn("+1.00 %", visit.state().judgement.text)

    def test_moisture_that_dried_on_the_way(self):
        """24,000 kg of 20 % moisture were 24,000 × 0.80 / 0.76 on the belt, at 24 %."""
        visit = BeltVisit("belt_material", parameters={"loads": "1"})
        visit.until("as_found")
        wet = {"moist_belt": "24", "moist_truck": "20"}
        visit.push("reading_taken", **self.load(0, "38000", "25263", **wet))
        self.assertIn("0.00 %", visit.state().judgement.text)
        rows = visit.state().blocks[0].cells
        self.assertEqual(rows[0][1].replace("\u202f", ""), "25263")

    def test_bad_loads_are_refused_or_asked_about(self):
        visit = BeltVisit("belt_material")
        visit.until("as_found")
        bad = self.load(0, "12000", "24000")
        self.assertEqual(
            self.refused(visit, "number.range", "reading_taken", **bad).field, "data.empty"
        )
        one = self.load(0, "38000", "24000", moist_belt="20")
        self.refused(visit, "moisture.one_missing", "reading_taken", **one)
        wet = self.load(0, "38000", "24000", moist_belt="95", moist_truck="20")
        self.refused(visit, "number.range", "reading_taken", **wet)
        far = self.load(0, "38000", "2400")
        self.refused(visit, "slip.suspected", "reading_taken", **far)

    def test_the_span_by_material(self):
        """A span that multiplies: 41,200 × 24,000 / 24,600."""
        visit = BeltVisit("belt_material", asks=True, span_percent=2.5)
        visit.until("span_by_material")
        step = next(s for s in every_step(visit) if s.id == "span_by_material")
        self.assertAlmostEqual(int(step.sets[0].to_write), 41200 / 1.024, delta=60)
        self.assertEqual(visit.until("").outcome.id, "adjusted")

    def test_material_lost_is_told_from_a_span(self):
        visit = BeltVisit("belt_material", asks=True, lost_percent=3.0)
        visit.until("tell_apart")
        self.assertEqual(visit.causes(), ["belt_span_moved", "material_lost"])
        visit.until("judge")
        self.assertEqual(self.advised(visit), ["Repeat it with another reference"])


class Planted(Jobs):
    def test_planted_faults_are_named(self):
        self.planted(planted_belts.FOUND, planted_belts.TABLE)

    def test_the_published_table_holds_the_aims(self):
        self.published("belt-faults.md", planted_belts.FAULTS)
