"""The reference is in doubt before what it measures; a wrong setting bars what counts by it."""

from calibration.engine.judging.outcome import GOOD
from tests.core.detectors import GasVisit
from tests.core.electrodes import ROLES, PhVisit
from tests.core.families import Visit
from tests.core.jobs import Jobs
from tests.core.mixtures import COMPONENTS, MIXED, MixVisit, facts


class AcceptedWrong(Jobs):
    """What was accepted otherwise than on record, and governs: nothing is set by it."""

    def accepted(self, visit, step, field, value):
        visit.until(step)
        visit.push("recorded", step=step, field=field, value=value)
        visit.push("decided", step=step, choice="accept", reason="changed on purpose")
        return visit.until("judge").judgement

    def test_a_range_that_is_not_as_on_record_bars_the_trim(self):
        judged = self.accepted(Visit("smart_transmitter", asks=True), "settings", "upper", "250")
        self.assertNotIn("adjust", {c.id for c in judged.choices})
        self.assertIn("accepted as it is: nothing is set by it", judged.advice + str(judged))

    def test_a_set_of_buffers_that_is_not_as_on_record_bars_the_slope(self):
        judged = self.accepted(
            PhVisit(asks=True, slope=0.93), "last_found", "buffer_set", "primary"
        )
        self.assertNotIn("adjust", {c.id for c in judged.choices})


class GasInDoubt(Jobs):
    """A sensor that falls by 40 % between two visits does so seldom; a cylinder does."""

    def test_the_cylinder_is_tried_before_the_span_is_set(self):
        visit = GasVisit("gas_zero_span", asks=True).head(response=0.60)
        state = visit.until("judge")
        self.assertEqual(state.as_found.causes[0].split(":")[0].split(",")[0], "The gas")
        by = {c.id: c for c in state.judgement.choices}
        self.assertFalse(by["adjust"].recommended)
        self.refused(visit, "reason.missing", "decided", step="judge", choice="adjust")

    def test_a_sensor_that_ages_as_sensors_do_is_set(self):
        visit = GasVisit("gas_zero_span", asks=True).head(response=0.85)
        state = visit.until("judge")
        self.assertTrue({c.id: c for c in state.judgement.choices}["adjust"].recommended)


class Exchanged(Jobs):
    def test_two_buffers_poured_into_each_others_beaker_condemn_no_electrode(self):
        """Slope −96 %: the electrode is sound, its beakers are not."""
        visit = PhVisit(asks=True)
        bottles = visit.person.bottles
        near, side = ROLES[:2]
        bottles[near], bottles[side] = bottles[side], bottles[near]
        state = visit.until("judge")
        self.assertEqual(state.as_found.causes, ("The two buffers exchanged",))
        self.assertNotIn("lectrode", state.judgement.advice.split(".")[0])
        self.assertNotIn("adjust", {c.id for c in state.judgement.choices if c.recommended})

    def test_zero_and_span_gas_exchanged_condemn_no_sensor(self):
        visit = GasVisit("gas_zero_span", asks=True)
        visit.until("as_found")
        for point, (role, applied, shown) in enumerate(
            (("zero_gas", "0", "50"), ("span_gas", "50", "0.2"))
        ):
            visit.push("gas_on", step="as_found", role=role, flow="0.5")
            visit.push(
                "reading_taken", run="as_found", point=point, applied=applied, digital=shown,
                reading=f"{4 + 0.16 * float(shown):.2f}", kept=True,
            )  # fmt: skip
            visit.push("gas_off", step="as_found")
        state = visit.until("judge")
        self.assertEqual(state.as_found.causes, ("Zero and span gas exchanged",))
        self.assertNotIn("adjust", {c.id for c in state.judgement.choices if c.recommended})


class ProcessDiffers(Jobs):
    def test_a_reading_that_is_not_the_processes_is_not_good(self):
        """0.6 off the grab sample, and the buffers are right: never "leave it as it is"."""
        visit = PhVisit(asks=True, loop_mv=35.0)
        done = visit.until("")
        self.assertNotIn(done.outcome.id, GOOD)


class LowRange(Jobs):
    def test_oxygen_past_its_range_judges_nothing(self):
        """A range of 0 to 2 % vol in air at 20.95: it is not "outside, −5 %"."""
        low = [*COMPONENTS[:2], {**COMPONENTS[2], "upper": "2", "set_from": "1"}]
        air = ({"gas": "oxygen", "value": "20.95", "unit": "% vol", "uncertainty_percent": "0.2"},)
        visit = MixVisit(asks=True, facts_=facts(low), zero_parts=air, mixed=MIXED[:2])
        while (seen := visit.look()).status == "open" and seen.current_step != "judge":
            for kind, data in visit.person.act(seen):
                visit.push(kind, **data, **({"kept": True} if kind == "mixed" else {}))
        state = visit.state()
        (oxygen,) = [r for r in state.runs if r.title == "As found, oxygen"]
        by = {p.applied.split(" ")[0]: p.mark for p in oxygen.points if p.event}
        self.assertEqual(by["20.95"], "none", by)
