"""What is kept of a sensor: its answer as found, once net of zero, and no worse than it is."""

from calibration.families.gas.learnt import responses
from calibration.kernel.numbers import exact
from tests.core.detectors import GasVisit
from tests.core.jobs import Jobs


def kept(visit):
    with exact():
        return {r["channel"]: r for r in responses(visit.standing())}


class Kept(Jobs):
    def test_a_zero_that_was_set_is_taken_off_once(self):
        """39.2 of 50 after its zero was set from 3.3: 78.4 %, of 90 % of new 70.6; not 64.6."""
        visit = GasVisit("gas_two_channel", asks=True, channel={"base_percent": "90.0"})
        visit.until("on_zero")
        visit.push("gas_on", step="on_zero", role="zero_gas", flow="0.5")
        visit.push("exposed", step="on_zero", a="3.3", a_after="0", kept=True)
        visit.push("gas_off", step="on_zero")
        visit.push("gas_on", step="on_span", role="span_gas", flow="0.5")
        visit.push("exposed", step="on_span", a="39.2", a_after="50", kept=True)
        visit.push("gas_off", step="on_span")
        visit.until("")
        self.assertEqual(kept(visit)["a"]["raw"], 70.6)

    def test_oxygen_is_kept_as_it_was_found_in_air(self):
        """20.3 in proven air of a cell of 93.0 % of new: 93.0 × 20.3 / 20.9 = 90.3."""
        visit = GasVisit("gas_portable", asks=True)
        channels = [dict(c) for c in visit.events[0].data["instrument"]["channels"]]
        channels[3]["base_percent"] = "93.0"
        visit = GasVisit("gas_portable", asks=True, facts={"channels": channels})
        visit.until("clean_air")
        visit.push(
            "exposed", step="clean_air", a="0", a_other="0", b="0", b_other="0", c="0",
            c_other="0", d="20.3", d_other="20.9", d_after="20.9", kept=True,
        )  # fmt: skip
        visit.until("")
        self.assertEqual(kept(visit)["d"]["raw"], 90.3)

    def test_oxygen_is_not_set_in_air_that_nobody_proved(self):
        visit = GasVisit("gas_portable", asks=True)
        visit.until("clean_air")
        air = {"a": "0", "b": "0", "c": "0", "d": "17.8", "d_after": "20.9"}
        for other in ({}, {"d_other": "17.6"}):
            said = self.refused(
                visit, "set.refused", "exposed", step="clean_air", **air, **other, kept=True
            )
            self.assertIn("air", said.message)
        visit.push(
            "exposed", step="clean_air", **{**air, "d_after": "20.9"}, d_other="20.9", kept=True
        )

    def test_a_head_that_was_cleaned_keeps_what_it_answers_clean(self):
        visit = GasVisit("gas_infrared", asks=True).head(response=0.67)
        visit.until("judge")
        visit.push("repaired", step="judge", what="cleaned", said="window cleaned")
        visit.head(response=1.0)
        visit.until("")
        self.assertGreater(kept(visit)["a"]["found"], 95)
