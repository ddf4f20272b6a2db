"""Nothing is stuck: a run is begun again as a whole, a device refuses, one valve only, channels."""

from decimal import Decimal

from django.test import SimpleTestCase

from calibration.engine.judging.outcome import GOOD
from calibration.families.chromatograph.injections import times
from calibration.families.chromatograph.ledger import Result
from tests.core.detectors import GasVisit
from tests.core.electrodes import PhVisit
from tests.core.families import Visit
from tests.core.gcs import GcVisit, facts
from tests.core.jobs import Jobs
from tests.core.massflows import MassFlowVisit

#: What is applied, what the detector shows, and out of what: it does not come up.
SHOWN = (("0", "0", "zero_gas"), ("50", "40", "span_gas"))


class BegunAgain(Jobs):
    def test_a_run_that_broke_off_is_begun_again_by_one_press_and_said(self):
        visit = Visit("smart_transmitter")
        visit.until("as_found")
        self.refused(visit, "run.not_begun", "begun_again", run="as_found", reason="x")
        for _ in range(3):
            visit.step()
        offered = next(m for m in visit.state().mishaps if m.kind == "begun_again")
        self.assertEqual(offered.button, "Begin this run again")
        self.refused(visit, "reason.missing", "begun_again", run="as_found", reason=" ")
        visit.push("begun_again", run="as_found", reason="the pump lost its seal")
        self.assertEqual(visit.state().as_found.taken, 0)
        done = visit.until("")
        self.assertIn(done.outcome.id, GOOD)
        said = " ".join(self.paper(visit)["method"]["deviations"])
        self.assertIn("begun again after 3 readings (the pump lost its seal)", said)

    def test_it_can_be_taken_back(self):
        visit = Visit("smart_transmitter")
        visit.until("as_found")
        visit.step()
        visit.push("begun_again", run="as_found", reason="slip")
        visit.push("retracted", event=visit.events[-1].id, reason="no slip")
        self.assertEqual(visit.state().as_found.taken, 1)


class Refuses(Jobs):
    """Each of the four says in its own words that it refuses, and the job leads on."""

    def test_two_channels_portables_ph_and_chromatographs(self):
        for visit, step in (
            (GasVisit("gas_two_channel", asks=True), "on_span"),
            (GasVisit("gas_portable", asks=True), "gas"),
            (PhVisit(asks=True, slope=0.93), "reported"),
            (GcVisit(asks=True, aged_percent=9.0), "store"),
        ):
            visit.until(step)
            with self.subTest(visit.method.id):
                self.assertIn("refused", {m.kind for m in visit.state().mishaps})
                visit.push("refused", step=step, word="not accepted")
                visit.push("ended", state="failed", reason="it refuses")
                done = visit.until("")
                self.assertNotIn(done.outcome.id, GOOD)
                history = " ".join(self.paper(visit)["adjustments"])
                self.assertIn("not accepted", history)

    def test_the_same_is_not_advised_a_third_time(self):
        visit = GasVisit("gas_zero_span", asks=True).head(response=0.62)
        visit.until("judge")
        visit.push("decided", step="judge", choice="adjust", reason="other cylinder agrees")
        advised = []
        for _ in range(3):
            visit.until("as_left")
            for point, (applied, shown, role) in enumerate(SHOWN):
                visit.push("gas_on", step="as_left", role=role, flow="0.5")
                visit.push(
                    "reading_taken", run="as_left", point=point, applied=applied,
                    digital=shown, reading=f"{4 + 0.16 * float(shown):.2f}", kept=True,
                )  # fmt: skip
                visit.push("gas_off", step="as_left")
            choices = {c.id: c for c in visit.state().judgement.choices}
            advised.append(choices["adjust"].recommended)
            reason = "once more" if choices["adjust"].needs_reason else ""
            visit.push("decided", step="left_judge", choice="adjust", reason=reason)
        self.assertFalse(advised[2])


class OneValve(Jobs):
    def test_a_meter_with_one_valve_is_verified_and_the_paper_says_how(self):
        visit = MassFlowVisit(asks=True, own={"isolation": "downstream only"})
        todo = visit.until("nothing_flows").task
        self.assertIn("Downstream valve shut", todo.asks[0].lines[0].label)
        done = visit.until("")
        self.assertEqual(done.outcome.id, "within")
        self.assertIn("Isolated: downstream only.", self.paper(visit)["covers"])


class Channels(SimpleTestCase):
    def test_peaks_of_different_channels_are_no_neighbours(self):
        """28 s on one channel and 31 s on the other never meet in one column."""
        timed = (("hydrogen", 28, "A"), ("methane", 74, "A"), ("ethylene", 31, "B"))
        found = []
        for own in (True, False):
            peaks = [
                {
                    **{"id": gas[0], "gas": gas, "label": gas, "upper": "500", "width_s": "6"},
                    **{"expected_s": str(at), "channel": channel if own else ""},
                }
                for gas, at, channel in timed
            ]
            ledger = GcVisit(facts_=facts(peaks=peaks)).standing().ledger
            seen = {n: Result(Decimal(1), Decimal(at)) for n, (_, at, _) in enumerate(timed)}
            found.append(times(ledger, seen).resolution)
        # R = 2 Δt / (w₁ + w₂): 2 × 46 / 12 on channel A, 2 × 3 / 12 where all are of one.
        self.assertEqual([round(r, 2) for r in found], [7.67, 0.5])
