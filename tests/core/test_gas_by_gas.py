"""Gas by gas: a zero that moved is named, a speed only where it was timed, gas beside it first."""

from __future__ import annotations

from django.test import SimpleTestCase

from calibration.detector.naming import Evidence, causes_of
from calibration.families.gas.sections import sections
from calibration.kernel.errors import InputError
from tests.core.detectors import GasVisit


def named(**seen):
    given = {"range": 100.0, "gas_value": 40.0, "by_gas": True, **seen}
    return [c.cause for c in causes_of(Evidence(**given)).causes]


class Named(SimpleTestCase):
    def test_zero_that_moved_where_the_air_reads_the_same(self):
        self.assertEqual(named(zero=6.0, air=6.0), ["head_zero"])
        self.assertEqual(named(zero=6.0), ["zero_gas_suspect"])
        self.assertEqual(named(zero=6.0, by_gas=False), [])

    def test_gas_that_another_instrument_shows_comes_first(self):
        self.assertEqual(named(zero=6.0, air=6.0, beside=6.0), ["background_gas"])
        self.assertEqual(named(zero=6.0, air=6.0, beside=0.5), ["head_zero"])

    def test_span_counts_from_the_zero_that_was_set_in_between(self):
        seen = Evidence(
            range=100.0, gas_value=40.0, zero=2.0, span=35.0, span_from=0.0, by_gas=True
        )
        self.assertAlmostEqual(causes_of(seen).response_percent, 87.5)

    def test_a_speed_is_said_only_where_it_was_timed(self):
        for t90, said in ((None, False), (20.0, True)):
            seen = Evidence(
                range=100.0, gas_value=40.0, zero=0.0, span=30.0, t90_s=t90, usual_t90_s=20.0,
                by_gas=True,
            )  # fmt: skip
            words = causes_of(seen).causes[0].evidence
            self.assertEqual("as fast as usual" in words, said)

    def test_light_that_fails_is_no_ageing(self):
        self.assertEqual(
            named(zero=0.0, span=29.0, principle="infrared", fixed_span=True), ["window"]
        )


class Order(SimpleTestCase):
    def test_alarms_may_be_told_once_gas_was_on_and_not_before(self):
        visit = GasVisit("gas_head", asks=True)
        with self.assertRaises(InputError):
            visit.push("recorded", step="alarms_seen", field="any", value="came")
        visit.until("on_span")
        visit.push("recorded", step="alarms_seen", field="any", value="came")

    def test_either_sensor_may_come_first(self):
        first = {"methane": "adapter", "carbon monoxide": "adapter_b"}
        for gas, step in first.items():
            visit = GasVisit("gas_two_heads", asks=True)
            visit.until("reference" if gas == "methane" else "adapter")
            visit.push("recorded", step="which_first", field="first_sensor", value=gas)
            visit.until(step)
            self.assertEqual(visit.job.current.id, step)


class Paper(SimpleTestCase):
    """What was agreed to and never set was not forced."""

    def refused(self):
        visit = GasVisit("gas_head", asks=True)
        visit.until("on_zero")
        self.opened(visit, a="0.3", a_word="zero rejected")
        visit.push("agreed", step="on_zero", way="second_person", name="Bo", reason="cold day")
        return visit

    def opened(self, visit, **typed):
        visit.push("gas_on", step="on_zero", role="zero_gas", flow="0.5")
        visit.push("exposed", step="on_zero", kept=True, **typed)
        visit.push("gas_off", step="on_zero")

    def forced(self, visit):
        return sections(visit.job)["gas"]["forced"]

    def test_forced_only_where_it_was_set_on_it(self):
        visit = self.refused()
        self.assertEqual(self.forced(visit), [])
        self.opened(visit, a="0.3", a_after="0.0")
        self.assertEqual(len(self.forced(visit)), 1)

    def test_left_as_refused_and_put_right_are_not_forced(self):
        visit = self.refused()
        visit.push("gas_kept", step="on_zero")
        self.assertEqual(self.forced(visit), [])
        visit = self.refused()
        visit.push("repaired", step="on_zero", what="cleaned", said="filter dried")
        self.opened(visit, a="0.1", a_after="0.0")
        self.assertEqual(self.forced(visit), [])
