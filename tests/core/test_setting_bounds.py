"""Setting hides no fault: bounds, what is barred, causes that need one more measurement.

Figures are those of the acts as they are done, not of our own rigs: a belt scale with one of two
cells dead, a weight that is missing, a leak at one and a half times the pressure.
"""

from django.test import SimpleTestCase

from calibration.engine.job.fold import history
from calibration.families.belt.naming import Turned
from calibration.families.belt.naming import causes_of as belt_causes
from calibration.families.loadcells.naming import Loaded
from calibration.families.loadcells.naming import causes_of as vessel_causes
from calibration.families.massflow.naming import Zero
from calibration.families.massflow.naming import causes_of as zero_causes
from tests.core.belts import BeltVisit
from tests.core.families import FAMILIES, METHOD_OF, Visit
from tests.core.jobs import Jobs
from tests.core.massflows import MassFlowVisit
from tests.core.vessels import VesselVisit


def names(causes):
    return [c.cause for c in causes]


class HalfABelt(Jobs):
    """Zero 26,418 → 13,214 and span 41,260 → 20,632: −32 and −50 %: one of two cells is dead."""

    SEEN = {
        "zero_limit": 0.25, "span_limit": 0.5, "zero_u": 0.05, "span_u": 0.05, "spread": 5.0,
        "usual_spread": 5.0, "speed": 1.2, "zero_percent": -32.0, "span_percent": -50.0,
        "zero_share": 0.32,
    }  # fmt: skip

    def test_it_is_a_cell_or_the_speed_and_both_tell(self):
        self.assertEqual(
            names(belt_causes(Turned(**self.SEEN))), ["belt_cell_lost", "belt_speed_lost"]
        )
        for apart, name in (
            ({"speed_shown": 1.2, "cell_least_mv": 0.0}, "belt_cell_lost"),
            ({"speed_shown": 0.6, "cell_least_mv": 8.4}, "belt_speed_lost"),
        ):
            self.assertEqual(names(belt_causes(Turned(**self.SEEN, apart=apart))), [name])

    def typed(self, visit, zero, span):
        """Every revolution as it is counted; a belt that is half dead counts half."""
        for run, count in (("as_found", zero), ("span_as_found", span)):
            visit.until(run)
            for point in range(len(visit.standing().plan_of(run))):
                visit.push(
                    "reading_taken", run=run, point=point, applied="20150", reading=str(count),
                    seconds="45", kept=True,
                )  # fmt: skip

    def test_nobody_takes_its_counts_over(self):
        visit = BeltVisit(asks=True)
        self.typed(visit, 15300, 35930)
        visit.until("tell_apart")
        self.refused(visit, "reason.missing", "decided", step="tell_apart", choice="not_here")
        visit.push("decided", step="tell_apart", choice="not_here", reason="no key to the box")
        judged = visit.state().judgement
        self.assertEqual(len(judged.causes), 2)
        self.assertIn(
            "no counts are taken", " ".join(c.why for c in judged.choices) + judged.advice
        )
        self.assertNotIn("adjust", {c.id for c in judged.choices})
        self.refused(visit, "choice.unknown", "decided", step="judge", choice="adjust", reason="x")

    def test_beyond_five_percent_a_named_person_may_with_a_reason_that_is_printed(self):
        visit = BeltVisit(asks=True, zero_percent=8.0)
        judged = visit.until("judge").judgement
        by = {c.id: c for c in judged.choices}
        self.assertTrue(by["adjust"].needs_reason)
        self.assertFalse(by["adjust"].recommended)
        self.assertIn("more than drift explains", by["adjust"].why)
        self.refused(visit, "reason.missing", "decided", step="judge", choice="adjust")
        visit.push("decided", step="judge", choice="adjust", reason="new bridge since May")
        visit.until("")
        self.assertIn("new bridge since May", " ".join(self.paper(visit)["judgement"]["decisions"]))


class Transmitters(SimpleTestCase):
    def test_five_percent_of_span_is_a_fault_and_less_is_set(self):
        for off, advised in ((0.9, "adjust"), (4.5, "adjust"), (6.0, "stop")):
            visit = Visit("smart_transmitter", output_zero_percent=off)
            choices = visit.until("judge").judgement.choices
            self.assertEqual([c.id for c in choices if c.recommended], [advised], off)
            self.assertIn("adjust", {c.id for c in choices})


class OneReading(SimpleTestCase):
    """No cause and no advice before a run holds what tells it apart: every family with a rig."""

    def test_after_the_first_reading_only_inside_or_outside_is_said(self):
        seen = 0
        for family in METHOD_OF:
            fault = {"offset_c": 3.0} if "offset_c" in vars(FAMILIES[family][1]) else {}
            fault = fault or {"output_zero_percent": 1.4}
            visit = Visit(family, **fault)
            visit.until("as_found")
            visit.step()
            found = visit.state()
            if not found.as_found.taken or found.as_found.complete:
                continue
            with self.subTest(family):
                seen += 1
                self.assertEqual((found.judgement.causes, found.judgement.advice), ((), ""))
                self.assertEqual(found.judgement.hop, "")
                self.assertEqual(found.as_found.causes, ())
                self.assertIn("so far", found.judgement.headline)
        self.assertGreaterEqual(seen, 8)

    def test_a_current_that_is_held_is_said_at_once(self):
        visit = Visit("smart_transmitter", fault="inhibit", fixed_output=2.0)
        visit.until("as_found")
        visit.step()
        visit.step()
        self.assertEqual([c.cause for c in visit.state().judgement.causes], ["inhibited"])


class Vessels(Jobs):
    """One 20 kg weight of 1,000 kg is missing: 980 kg hang, and 2 % is missing."""

    SEEN = {
        "capacity": 5000.0, "load": 1000.0, "limit": 1.0, "zero_limit": 0.5, "u": 0.2,
        "zero": 0.0, "span": 980.0, "half_up": 490.0, "half_down": 490.0,
    }  # fmt: skip

    def test_nothing_is_set_before_signal_and_weights_are_looked_at(self):
        four = ["span_parameter", "piping", "weights_wrong", "cell_signal"]
        self.assertEqual(names(vessel_causes(Loaded(**self.SEEN))), four)
        read = Loaded(**self.SEEN, signal_percent=-2.0)
        self.assertEqual(names(vessel_causes(read)), four[1:])
        right = Loaded(**self.SEEN, signal_percent=0.0)
        self.assertEqual(names(vessel_causes(right)), ["span_parameter"])
        for apart, name in (
            ({"weights_percent": 0.0}, ["weights_wrong"]),
            ({"weights_percent": -2.0}, ["piping", "cell_signal"]),
            ({"weights_percent": -2.0, "pipes_free_percent": 0.0}, ["piping"]),
        ):
            found = Loaded(**self.SEEN, signal_percent=-2.0, apart=apart)
            self.assertEqual(names(vessel_causes(found)), name)

    def test_a_missing_piece_is_found_and_the_test_repeated(self):
        visit = VesselVisit(asks=True, short_percent=2.0)
        visit.until("judge")
        self.assertEqual(visit.causes(), ["weights_wrong"])
        self.assertEqual(self.advised(visit), ["Repeat it with another set of weights"])

    def test_the_signal_cannot_be_read_and_nothing_is_advised(self):
        visit = VesselVisit(asks=True)
        visit.until("as_found")
        loads = (0, 500, 1000, 1000, 500, 0)
        for point, load in enumerate(loads):
            shown = f"{load * 1.006:.1f}"
            visit.push(
                "reading_taken", run="as_found", point=point, applied=str(load), reading=shown,
                kept=True,
            )  # fmt: skip
        visit.until("tell_apart")
        visit.push("decided", step="tell_apart", choice="not_here", reason="no port in it")
        by = {c.id: c for c in visit.state().judgement.choices}
        self.assertFalse(by["adjust"].recommended)
        self.assertTrue(by["adjust"].needs_reason)
        self.assertIn("it cannot be measured here", " ".join(self.said(visit)))

    def said(self, visit):
        return [line.text for line in history(visit.standing().ledger, visit.events)]


class Leaks(SimpleTestCase):
    """2.27 kg/h at 2.4 bar: at 3.9 bar a leak gives 2.89 or more, a moved zero 2.27."""

    SEEN = {
        "zero": 2.27, "stability": 0.9, "u": 0.05, "spread": 0.28, "usual_spread": 0.3, "gain": 5.5,
        "usual_gain": 5.4, "density": 1309.9, "usual_density": 1309.6, "record_density": 1309.6,
        "full": 18000.0,
    }  # fmt: skip

    def named(self, **apart):
        return names(zero_causes(Zero(**self.SEEN, apart=apart)))

    def test_a_leak_is_held_against_the_pressure_that_was_made(self):
        both = ["valve_leaks", "zero_moved"]
        self.assertEqual(self.named(), both)
        self.assertEqual(self.named(zero_at_other=2.92), both)
        at = {"pressure_before": 2.4, "pressure_other": 3.9}
        self.assertEqual(self.named(**at, zero_at_other=2.29), ["zero_moved"])
        self.assertEqual(self.named(**at, zero_at_other=2.92), ["valve_leaks"])
        self.assertEqual(self.named(**at, zero_at_other=2.70), ["valve_leaks"])

    def test_a_pressure_that_hardly_moves_tells_nothing(self):
        at = {"pressure_before": 2.4, "pressure_other": 2.5}
        self.assertEqual(self.named(**at, zero_at_other=2.33), ["valve_leaks", "zero_moved"])
        down = {"pressure_before": 2.4, "pressure_other": 2.4}
        self.assertEqual(self.named(**down, zero_at_other=2.27), ["valve_leaks", "zero_moved"])

    def test_what_cannot_be_measured_leaves_it_open_and_nothing_is_advised(self):
        visit = MassFlowVisit(zero=4.0, asks=True)
        visit.until("tell_apart")
        visit.push("decided", step="tell_apart", choice="not_here", reason="pump may not run")
        judged = visit.state().judgement
        self.assertEqual([c.cause for c in judged.causes], ["valve_leaks", "zero_moved"])
        self.assertEqual([c.id for c in judged.choices if c.recommended], ["repeat"])
