"""Displacers as they are checked: weights, two screws, and liquid of another density."""

from decimal import Decimal

from django.test import SimpleTestCase

from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.families.shared.loop.progress import AIM_HIGHEST, AIM_LOWEST
from calibration.kernel.numbers import exact
from calibration.runs.screws import ScrewsIn, screws
from calibration.runs.screws import Visit as Turn
from tests.core.asking import every_step
from tests.core.families import DISPLACER, Visit
from tests.core.jobs import Jobs

RANGED_943 = [{**s, "value": "943"} if s["name"] == "density" else s for s in DISPLACER]


class Wet(SimpleTestCase):
    def at_wet_run(self, density, errors=None, glass="0.2", upper=(), **more):
        """A displacer ranged for 943 kg/m³, its wet run typed with these errors. [% of span]"""
        visit = Visit("displacer", asks=True, facts={"settings": [*RANGED_943, *upper]})
        visit.person.answers = {
            "operator": "Jo",
            "wet_density": density,
            "glass_within": glass,
            **more,
        }
        state = visit.until("wet_run")
        run = next(r for r in state.runs if r.id == "wet_run")
        for point, error in zip(run.points, errors or ["0"] * 9, strict=True):
            level = Decimal(point.target_value)
            percent = level * Decimal("998") / 943 if density == "998" else level
            reading = 4 + Decimal("0.16") * (percent + Decimal(error))
            visit.push(
                "reading_taken",
                run="wet_run",
                point=point.index,
                applied=str(level),
                reading=str(round(reading, 3)),
                kept=True,
            )
        return visit

    def run_of(self, visit):
        return next(r for r in visit.state().runs if r.id == "wet_run")

    def test_a_perfect_unit_in_cold_water_is_within(self):
        """Ranged for 943 and filled with 998: 105.83 % at the top, as it must be."""
        run = self.run_of(self.at_wet_run("998"))
        self.assertEqual(run.mark, "within")
        top = next(p for p in run.points if p.target == "100")
        self.assertEqual(top.ideal, "20.933")

    def test_the_same_readings_without_the_density_would_be_outside(self):
        run = self.run_of(self.at_wet_run("943", ["0", "1.46", "2.9", "4.4", "5.83"] + ["0"] * 4))
        self.assertEqual(run.mark, "outside")

    def test_an_interface_needs_both_liquids(self):
        two = {"name": "upper_density", "value": "0", "unit": "kg/m³", "label": "Upper liquid"}
        visit = self.at_wet_run("943", upper=[two], wet_upper_density="94.3")
        bottom = next(p for p in self.run_of(visit).points if p.target == "0")
        self.assertEqual(bottom.ideal, "5.600")

    def test_the_glass_is_a_reference_with_an_uncertainty(self):
        with exact():
            for glass, least in (("0.2", 0.2), ("1", 1.0)):
                visit = self.at_wet_run("998", glass=glass)
                figures = Job(build(visit.method, visit.events), visit.now).figures("wet_run")
                self.assertGreater(figures.budgets[0].expanded_uncertainty, least)

    def test_nine_points_that_a_shift_of_zero_cures(self):
        """All nine +0.12 to +1.94 %, limit 1 %: a shift of about −1 puts them within."""
        errors = ["0.12", "0.5", "1.0", "1.5", "1.94", "1.6", "1.1", "0.6", "0.2"]
        visit = self.at_wet_run("998", errors)
        state = visit.state()
        self.assertEqual(state.current_step, "wet_judge")
        self.assertIn("A zero shift of", state.judgement.advice)
        self.assertIn("repair", [c.id for c in state.judgement.choices])
        visit.push("repaired", step="wet_judge", what="other", said="zero set by −1 % at 50 %")
        self.assertEqual(visit.state().current_step, "wet_run")
        self.assertEqual(self.run_of(visit).taken, 0)
        titles = [r.title for r in visit.state().runs]
        self.assertIn("Wet run, before it was repeated", titles)

    def test_there_is_no_diagnosis_to_read_where_there_is_none(self):
        visit = Visit("displacer", asks=True)
        steps = {s.id: s.status for s in every_step(visit)}
        self.assertEqual(steps["state"], "skipped")

    def test_every_weight_is_listed_before_the_first_is_hung(self):
        visit = Visit("displacer", asks=True)
        visit.until("weights")
        step = next(s for s in every_step(visit) if s.id == "weights")
        said = {line.label: line.value for line in step.computed}
        for percent in ("0", "25", "50", "75", "100"):
            self.assertIn(" g", said[f"{percent} % level"])

    def test_the_words_fit_weights(self):
        visit = Visit("displacer", asks=True)
        visit.until("as_found")
        titles = set()
        for _ in range(9):
            titles.add(visit.state().task.title.split(" until")[0])
            self.assertNotIn("Come from", visit.state().task.caution)
            visit.step()
        self.assertLessEqual({"Take off", "Add"}, titles)


class Bent:
    """Two screws that move each other on a bend: middle error, share of each turn passed on."""

    def __init__(self, bend, a, b):
        self.zero, self.span, self.bend, self.a, self.b = 3.0, -4.0, bend, a, b

    def turn(self, end, to):
        by = to - (self.zero if end == "zero" else self.span)
        if end == "zero":
            self.zero, self.span = self.zero + by, self.span + self.b * by
        else:
            self.span, self.zero = self.span + by, self.zero + self.a * by


class Screws(SimpleTestCase):
    def visits(self, device, found):
        visits, said = [], None
        for _ in range(30):
            said = screws(
                ScrewsIn(
                    zero_error_percent=found[0],
                    span_error_percent=found[1],
                    limit_percent=Decimal("0.2"),
                    visits=tuple(visits),
                )
            )
            if said.next == "done":
                return visits
            before = Decimal(str(round(getattr(device, said.next), 3)))
            after = None
            if said.turn:
                device.turn(said.next, float(said.aim_percent or 0))
                after = Decimal(str(round(getattr(device, said.next), 3)))
            visits.append(Turn(end=said.next, before_percent=before, after_percent=after))
        raise AssertionError(f"no end in sight: {visits}")

    def test_a_bend_costs_no_visits(self):
        """A bend of 0.2 mA is 1.25 % of span; aimed by the ends it does not matter."""
        for (a, b), most in (((0.3, 0.1), 6), ((0.9, 0.8), 8)):
            with self.subTest(a=a, b=b):
                device = Bent(1.25, a, b)
                found = (Decimal(str(device.zero)), Decimal(str(device.span)))
                done = self.visits(device, found)
                self.assertLessEqual(len(done), most)
                self.assertLess(max(abs(device.zero), abs(device.span)), 0.21)

    def test_the_number_in_the_text_is_the_one_to_set(self):
        """Where the aim is held at its bound, text and number say the bound, and no passes."""
        device, visits, held = Bent(1.25, 0.9, 0.8), [], 0
        for _ in range(12):
            said = screws(
                ScrewsIn(
                    zero_error_percent=Decimal(3),
                    span_error_percent=Decimal(-4),
                    limit_percent=Decimal("0.2"),
                    aim_lowest_percent=AIM_LOWEST,
                    aim_highest_percent=AIM_HIGHEST,
                    visits=tuple(visits),
                )
            )
            if said.turn and said.aim_percent in (AIM_LOWEST, AIM_HIGHEST):
                held += 1
                self.assertIn(f"{abs(said.aim_percent):.2f} % of span", said.advice)
                self.assertIsNone(said.passes_left)
            before = Decimal(str(round(getattr(device, said.next), 3)))
            after = None
            if said.turn:
                device.turn(said.next, float(said.aim_percent or 0))
                after = Decimal(str(round(getattr(device, said.next), 3)))
            visits.append(Turn(end=said.next, before_percent=before, after_percent=after))
        self.assertGreater(held, 1)


class Hanging(SimpleTestCase):
    """1.362 kg, 0.9414 L in 870 kg/m³: from 1362 g to 543 g, as found by Archimedes' principle."""

    def at_weights(self, unit="g", errors=None):
        visit = Visit("displacer", asks=True)
        visit.person.answers = {"operator": "Jo", "weight_unit": unit}
        run = visit.until("as_found").as_found
        with exact():
            plan = visit.standing().plan_of("as_found")
        for point in run.points:
            percent = plan[point.index].nominal_percent
            reading = 4 + Decimal("0.16") * (
                percent + Decimal((errors or {}).get(f"{percent:f}", 0))
            )
            visit.push(
                "reading_taken",
                run="as_found",
                point=point.index,
                applied=point.target_value,
                reading=str(round(reading, 3)),
                kept=True,
            )
        return visit, visit.state()

    def test_weights_in_the_unit_that_stands_on_them(self):
        """1 lb is 453.59237 g, 1 oz 28.349523125 g (NIST SP 811)."""
        for unit, heavy in (("g", "1362.0"), ("kg", "1.3620"), ("lb", "3.0027"), ("oz", "48.043")):
            with self.subTest(unit=unit):
                _, state = self.at_weights(unit)
                self.assertEqual(state.as_found.points[0].target_value, heavy)
                self.assertEqual((state.as_found.input_unit, state.as_found.mark), (unit, "within"))

    def test_a_piece_that_is_missing_at_one_weight_is_named_with_its_mass(self):
        """50 g of 819 g: +6.10 % at 50 %, up and down."""
        _, state = self.at_weights(errors={"50": "6.10"})
        first = state.judgement.causes[0]
        self.assertEqual(first.label, "Wrong weight on the hook")
        self.assertIn("a piece of 50 g", first.evidence)
        self.assertIn("A bend", first.evidence)
        self.assertIn("Turn no screw before", first.remedy)
        self.assertEqual([c.id for c in state.judgement.choices if c.recommended], ["repeat"])

    def test_what_several_weights_show_is_no_wrong_weight(self):
        _, state = self.at_weights(errors={"25": "2", "50": "3", "75": "2"})
        self.assertNotIn("Wrong weight on the hook", [c.label for c in state.judgement.causes])


class OtherLiquid(Jobs):
    """A perfect loop ranged for 998 kg/m³ stands in a liquid of 850: it shows 85.17 % full."""

    RANGED = [{**one, "value": "998"} if one["name"] == "density" else one for one in RANGED_943]

    def test_the_control_room_is_held_against_what_the_current_means(self):
        facts = {"settings": self.RANGED, "indicated": True}
        visit = Visit("displacer", asks=True, facts=facts)
        visit.person.answers = {"operator": "Jo", "wet_density": "850", "glass_within": "0.2"}
        run = next(r for r in visit.until("wet_run").runs if r.id == "wet_run")
        for point in run.points:
            percent = Decimal(point.target_value) * 850 / 998
            visit.push(
                "reading_taken", run="wet_run", point=point.index, applied=point.target_value,
                reading=str(round(4 + Decimal("0.16") * percent, 3)),
                indicated=str(round(percent, 2)), kept=True,
            )  # fmt: skip
        run = next(r for r in visit.state().runs if r.id == "wet_run")
        self.assertEqual({p.mark for p in run.points}, {"within"})
        self.assertNotIn("zero shift", visit.state().judgement.advice)

    def test_weights_of_before_a_zero_in_liquid_are_not_how_it_is_left(self):
        visit = Visit("displacer", asks=True, output_zero_percent=2.0)
        run = next(r for r in visit.until("wet_run").runs if r.id == "wet_run")

        def wet(off):
            for point in run.points:
                reading = 4 + Decimal("0.16") * (Decimal(point.target_value) + off)
                visit.push(
                    "reading_taken", run="wet_run", point=point.index, applied=point.target_value,
                    reading=str(round(reading, 3)), kept=True,
                )  # fmt: skip

        wet(Decimal("2.2"))
        visit.push("repaired", step="wet_judge", what="other", said="zero set by −2.2 % at 50 %")
        wet(Decimal(0))
        visit.until("")
        said = self.paper(visit)["verdict"]
        self.assertIn("by wet run", said["as_left"])
        self.assertIn("is over", said["as_left"])
