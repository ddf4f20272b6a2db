"""Smart transmitters: read through the loop once the loop is ready, and silent devices."""

from django.test import SimpleTestCase

from calibration.engine.judging.record_mismatch import accepted
from calibration.engine.method.family import METHODS
from calibration.engine.papers.certificate import certificate
from calibration.kernel.errors import InputError
from tests.core.asking import adjustment, every_step
from tests.core.families import Visit


class Order(SimpleTestCase):
    def test_resistor_and_connection_come_before_what_is_read_through_them(self):
        order = [s.id for s in METHODS["smart_transmitter", 2].steps]
        for first, then in (
            ("loop", "settings"),
            ("connect", "settings"),
            ("device_answers", "settings"),
        ):
            self.assertLess(order.index(first), order.index(then))

    def test_a_device_that_does_not_answer_is_said_and_the_job_ends_truly(self):
        visit = Visit("smart_transmitter", asks=True)
        state = visit.until("device_answers")
        self.assertIn("230 to 600 ohm", state.task.why)
        visit.push("line_failed", step="device_answers", item="answers", what="no answer")
        visit.push("ended", state="failed", reason="it does not answer")
        done = visit.until("")
        self.assertEqual(done.outcome.id, "failed")
        self.assertIn("no answer", done.outcome.why)


class Units(SimpleTestCase):
    """A device says its range in a unit of its own. 1 inH2O at 4 °C is 249.082 Pa (NIST SP 811)."""

    LOW = {"input_upper": "20", "input_lower": "0"}

    def settings(self, unit, upper):
        visit = Visit("smart_transmitter", asks=True, facts=self.LOW)
        visit.until("settings")
        visit.push("recorded", step="settings", field="unit", value=unit)
        for name, value in (("tag", "X-1"), ("lower", "0"), ("upper", upper)):
            visit.push("recorded", step="settings", field=name, value=value)
        return visit, {f.id: f.question for f in self.step(visit, "settings").fields}

    def step(self, visit, name):
        return next(s for s in every_step(visit) if s.id == name)

    def test_80_3_inches_of_water_is_20_kpa(self):
        visit, asked = self.settings("inH2O", "80.3")
        self.assertEqual(asked["upper"], "")
        self.assertFalse(visit.standing().differs)

    def test_20_inches_of_water_is_not(self):
        visit, asked = self.settings("inH2O", "20")
        self.assertIn("The record says 20", asked["upper"])
        self.assertTrue(visit.standing().differs)

    def test_a_range_that_differs_is_brought_back_in_the_unit_of_the_device(self):
        """20 kPa are 80.295 inches of water at 4 °C (249.082 Pa each, NIST SP 811)."""
        visit, _ = self.settings("inH2O", "60.2")
        visit.push("decided", step="settings", choice="later")
        visit.until("as_found")
        for point in visit.state().as_found.points:
            shown = {"reading": str(4 + 16 * float(point.target_value) / 15), "kept": True}
            typed = {"applied": point.target_value, "digital": point.target_value}
            typed["indicated"] = point.target_value
            visit.push("reading_taken", run="as_found", point=point.index, **typed, **shown)
        visit.until("rerange")
        upper = next(s for s in self.step(visit, "rerange").sets if s.id == "upper")
        self.assertEqual((upper.unit, upper.found, upper.to_write), ("inH2O", "60.2", "80.29"))
        write = {"step": "rerange", "setting": "upper", "value": upper.to_write}
        with self.assertRaises(InputError) as caught:
            visit.push("written", **write, read_back="20")
        self.assertEqual(caught.exception.code, "setting.not_taken")
        visit.push("written", **write, read_back="80.3")
        self.assertTrue(next(s for s in self.step(visit, "rerange").sets if s.id == "upper").done)
        self.assertEqual(list(accepted(visit.standing())), [])

    def test_water_of_20_degrees_weighs_less(self):
        """998.207 kg/m³ at 20 °C (IAPWS-95): one inch is 248.64 Pa, so 20 kPa is 80.44 inches."""
        _, asked = self.settings("inH2O_20", "80.44")
        self.assertEqual(asked["upper"], "")
        _, asked = self.settings("inH2O_20", "80.3")
        self.assertIn("The record says 20", asked["upper"])

    def test_a_unit_that_is_none_is_refused(self):
        visit = Visit("smart_transmitter", asks=True, facts=self.LOW)
        visit.until("settings")
        with self.assertRaises(InputError) as caught:
            visit.push("recorded", step="settings", field="unit", value="degrees")
        self.assertEqual(caught.exception.code, "unit.unknown")


class Reranging(SimpleTestCase):
    def visit(self):
        visit = Visit("smart_transmitter", asks=True, method="smart_rerange")
        visit.person.answers = {
            **visit.person.answers,
            "new_lower": "0",
            "new_upper": "2500",
            "ordered_by": "change 118",
        }
        return visit

    def test_the_new_range_is_written_read_back_checked_and_proposed(self):
        visit = self.visit()
        done = visit.until("")
        self.assertEqual(done.outcome.words, "range changed, read back and checked")
        self.assertEqual([p.target for p in done.as_found.points], ["0", "1250", "2500"])
        self.assertEqual(done.as_found.mark, "within")
        [found] = accepted(visit.standing())
        self.assertEqual(
            (found.name, found.on_record, found.found), ("input_upper", "4000", "2500")
        )

    def test_its_paper_is_no_calibration(self):
        visit = self.visit()
        visit.until("")
        paper = certificate(visit.standing(), visit.state(), "")
        self.assertEqual(paper["title"], "Record of re-ranging")

    def test_a_receiver_with_the_old_scale_ends_it(self):
        visit = self.visit()
        visit.until("control_room")
        visit.push("line_failed", step="control_room", item="scaled", what="nobody there")
        with self.assertRaises(InputError) as caught:
            visit.push("decided", step="control_room", choice="without", reason="later")
        self.assertIn(caught.exception.code, ("line.open", "line.must"))

    def test_a_range_without_span_is_refused(self):
        visit = self.visit()
        visit.push("recorded", step="new_range", field="new_lower", value="100")
        with self.assertRaises(InputError) as caught:
            visit.push("recorded", step="new_range", field="new_upper", value="100")
        self.assertEqual(caught.exception.code, "range.empty")


class OutputTrim(SimpleTestCase):
    def test_at_fixed_4_and_20_without_pressure_and_back_to_normal(self):
        visit = Visit("smart_transmitter", asks=True, output_zero_percent=1.2)
        self.assertEqual(
            [c.id for c in visit.until("judge").judgement.choices if c.recommended], ["adjust"]
        )
        state = visit.until("adjust")
        self.assertIn("Fixed-current mode", [o.label for o in state.on])
        now = adjustment(visit)
        self.assertEqual((now.apply, [c.id for c in now.columns]), ("4 mA", ["before", "reading"]))
        self.assertEqual(visit.until("trim_fix_off").current_step, "trim_fix_off")
        done = visit.until("")
        self.assertEqual((done.outcome.id, done.as_left.mark), ("adjusted", "within"))
        fixed = [e.data for e in visit.events if e.kind == "adjusted"]
        self.assertEqual({d["hop"] for d in fixed}, {"output"})
        self.assertLessEqual({d["applied"] for d in fixed}, {"0", "4000"})

    def test_where_only_the_sensor_is_trimmed_nothing_is_fixed(self):
        visit = Visit("smart_transmitter", asks=True, sensor_zero_percent=1.5)
        visit.until("")
        self.assertNotIn("trim_fix_on", {e.data.get("step") for e in visit.events})

    def test_the_receiver_is_told_the_number_to_show(self):
        visit = Visit("smart_transmitter", asks=True, receiver_span_percent=3.0)
        visit.until("adjust")
        while adjustment(visit).end != "span":
            visit.step()
        shows = "the control room shows 4000.00 kPa at 20.00 mA"
        self.assertIn(shows, adjustment(visit).target)
