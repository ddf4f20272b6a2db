"""What a run was read by stays with it: unit, how it is read, references."""

from calibration.kernel.numbers import exact
from tests.core.asking import every_step
from tests.core.families import Visit, asset
from tests.core.jobs import Jobs


class Frozen(Jobs):
    def test_how_it_is_read_is_not_changed_under_its_readings(self):
        """4.096 mV became 4.096 °C, an error of −95.90 °C, when the way of reading was changed."""
        visit = Visit("type_k_sensor", asks=True)
        visit.until("as_found")
        visit.step()
        step = next(s for s in every_step(visit) if s.id == "how_read")
        other = next(c for c in step.fields[0].choices if c != step.fields[0].value)
        said = self.refused(
            visit, "recorded.frozen", "recorded", step="how_read", field=step.fields[0].id,
            value=other,
        )  # fmt: skip
        self.assertIn("count as something else", said.message)

    def test_after_a_repeat_the_first_test_reads_as_it_was_read(self):
        visit = Visit("type_k_sensor", asks=True, offset_c=12.0)
        visit.until("judge")
        before = visit.standing().figures("as_found")
        shown = [(visit.standing().facts_of("as_found").output_unit, m) for m in before.marks]
        visit.push("decided", step="judge", choice="repeat", reason="clip was loose")
        step = next(s for s in every_step(visit) if s.id == "how_read")
        other = next(c for c in step.fields[0].choices if c != step.fields[0].value)
        visit.push("recorded", step="how_read", field=step.fields[0].id, value=other)
        with exact():
            then = visit.standing().at_attempt(1)
            again = then.figures("as_found")
            found = [(then.facts_of("as_found").output_unit, m) for m in again.marks]
        self.assertEqual(found, shown)
        self.assertEqual(
            [p.error for p in again.result.points], [p.error for p in before.result.points]
        )

    def test_a_reference_that_is_changed_later_weighs_nothing_in_what_was_read(self):
        visit = Visit("smart_transmitter", asks=True, output_zero_percent=0.9)
        visit.until("judge")
        with exact():
            u = [b.expanded_uncertainty for b in visit.standing().as_found.budgets]
        worse = {**asset("current"), "asset": "R-worse"}
        kit = next(s for s in visit.method.steps if s.kind == "kit")
        role = next(r.id for r in kit.roles if r.quantity == "output")
        self.refused(visit, "kit.in_use", "kit_chosen", role=role, asset=worse)
        visit.push("decided", step="judge", choice="repeat_other", reason="meter in doubt")
        visit.push("kit_chosen", role=role, asset=worse)
        with exact():
            then = visit.standing().at_attempt(1).as_found
            self.assertEqual([b.expanded_uncertainty for b in then.budgets], u)
        visit.until("")
        names = {r["asset"] for r in self.paper(visit)["references"]}
        self.assertTrue({"R-current", "R-worse"} <= names, names)


class AsRead(Jobs):
    def test_a_recorded_value_keeps_the_unit_in_which_it_was_read(self):
        """4014.7 inH2O are 1000 kPa; the paper said "found 4014.7 kPa"."""
        visit = Visit("smart_transmitter", facts={"input_upper": "1000"}, upper=1000)
        visit.person.answers = {
            **visit.person.answers, "unit": "inH2O", "lower": "0", "upper": "4014.7",
        }  # fmt: skip
        visit.until("as_found")
        found = {e["name"]: (e["value"], e["unit"]) for e in self.paper(visit)["settings_found"]}
        self.assertEqual(found["Upper range value found"], ("4014.7", "inH2O"))
        fields = {f.id: f.unit for s in every_step(visit) for f in s.fields}
        self.assertEqual(fields["upper"], "inH2O")
