"""Ranges, junctions, leads and roots against worked examples of named sources."""

from decimal import Decimal

from django.test import SimpleTestCase

from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.engine.view.run_view import strip_of
from calibration.kernel.numbers import exact
from calibration.operations import run
from tests.core.families import Visit


def evaluate(characteristic="linear", tolerance="0.5", **given):
    points = given.pop("points")
    readings = [
        {"nominal_percent": str(n), "applied": a, "reading": r} for n, (a, r) in enumerate(points)
    ]
    return run(
        "run.evaluate",
        {
            "characteristic": characteristic,
            "tolerance": {"percent_of_span": tolerance},
            "readings": readings,
            **given,
        },
    )


class Ranges(SimpleTestCase):
    """Kuphaldt, Lessons in Industrial Instrumentation (CC BY), "Relating 4 to 20 mA signals to
    instrument variables": each answer follows from the two range pairs by hand."""

    def scale(self, ends, **one):
        names = ("input_lower", "input_upper", "output_lower", "output_upper")
        return run("signal.scale", {**dict(zip(names, ends, strict=True)), **one})

    def test_a_suppressed_range_in_fahrenheit(self):
        """50 to 140 °F on 4 to 20 mA: 79 °F is 32.2 % and 9.16 mA."""
        said = self.scale(("50", "140", "4", "20"), input="79")
        self.assertAlmostEqual(float(said["output"]), 9.16, delta=0.005)
        self.assertAlmostEqual(float(said["percent"]), 32.2, delta=0.05)

    def test_a_suppressed_range_read_backwards(self):
        """4 to 10 pH on 4 to 20 mA: 11.3 mA is 6.74 pH."""
        said = self.scale(("4", "10", "4", "20"), output="11.3")
        self.assertAlmostEqual(float(said["input"]), 6.74, delta=0.005)

    def test_a_reversed_range(self):
        """4 to 20 mA makes 15 to 3 psi: 12.7 psi takes 7.07 mA."""
        said = self.scale(("4", "20", "15", "3"), output="12.7")
        self.assertAlmostEqual(float(said["input"]), 7.07, delta=0.005)

    def test_a_run_on_a_reversed_range(self):
        """The same transducer, 0.06 psi high at mid-scale: 0.5 % of 12 psi, exactly the limit."""
        given = {
            "input_lower": "4",
            "input_upper": "20",
            "output_lower": "15",
            "output_upper": "3",
            "points": [("4", "15.00"), ("12", "9.06"), ("20", "3.00")],
        }
        said = evaluate(**given)
        middle = said["points"][1]
        self.assertEqual(Decimal(middle["error_percent_of_span"]), Decimal("0.5"))
        self.assertTrue(middle["within"])

    def test_one_to_five_volts_is_four_to_twenty_milliamps_over_250_ohm(self):
        """Ohm's law; 1-5 V as in IEC 60381-2. 3000 kPa of 4000 are 16 mA, so 4 V."""
        drop = run("loop.supply", {"supply_v": "24", "resistor_ohm": "250", "current_ma": "16"})
        self.assertEqual(float(drop["resistor_v"]), 4.0)
        given = {
            "input_lower": "0",
            "input_upper": "4000",
            "output_lower": "1",
            "output_upper": "5",
            "points": [("0", "1.000"), ("3000", "4.020"), ("4000", "5.000")],
        }
        point = evaluate(**given)["points"][1]
        self.assertEqual((float(point["ideal"]), float(point["error_percent_of_span"])), (4.0, 0.5))


class Sensors(SimpleTestCase):
    def test_a_thermocouple_with_its_junction_at_ambient(self):
        """NIST Monograph 175, type K: 16.397 mV at 400 °C and 1.000 mV at 25 °C, so 15.397 mV
        between terminals at 25 °C."""
        visit = Visit("type_k_sensor")
        visit.until("junction")
        visit.push("recorded", step="junction", field="temperature", value="25")
        visit.until("as_found")
        beside = {"point": len(visit.state().as_found.points), "beside": "as in the table"}
        visit.push("reading_taken", run="as_found", applied="400", reading="15.397", **beside)
        point = visit.state().as_found.points[beside["point"]]
        self.assertEqual((point.ideal, point.mark), ("15.397", "within"))
        self.assertAlmostEqual(point.error_percent, 0.0, delta=0.003)

    def test_emfs_are_added_and_never_temperatures(self):
        """Subtracting 25 °C instead of 1.000 mV would read 375 °C, 15.343 mV by the table: 54 µV
        away."""
        right = run(
            "thermocouple.emf", {"type": "K", "temperature_c": 400, "reference_junction_c": 25}
        )
        wrong = run("thermocouple.emf", {"type": "K", "temperature_c": 375})
        self.assertAlmostEqual(right["emf_mv"] - wrong["emf_mv"], 15.397 - 15.343, delta=0.001)

    def test_two_wires_of_half_an_ohm_each_read_high(self):
        """IEC 60751, table of a Pt100: 138.51 Ω at 100 °C, 139.26 at 102 and 139.64 at 103. With
        1 Ω of lead, 139.51 Ω are read: between 102 and 103 °C, 2.6 °C too much."""
        visit = Visit("pt100_sensor", facts={"wires": 2})
        visit.until("as_found")
        for point, (applied, ohm) in enumerate(
            (("0", "101.00"), ("100", "139.51"), ("200", "176.86"))
        ):
            visit.push(
                "reading_taken",
                run="as_found",
                point=point,
                applied=applied,
                reading=ohm,
                kept=True,
            )
        state = visit.state()
        self.assertEqual(state.as_found.causes, ("Lead resistance of two wires",))
        self.assertIn("high by about 1.00 Ω", state.judgement.causes[0].evidence)
        shown = next(s for s in visit_strip(visit, 1) if s.id == "whole")
        self.assertTrue(2.0 < float(shown.value) < 3.0, shown)


def visit_strip(visit, point):
    """Return the stations of one point of the as-found run."""
    with exact():
        job = Job(build(visit.method, visit.events), visit.now)
        return strip_of(job, "as_found", job.as_found, point)


class Roots(SimpleTestCase):
    """ISO 5167-1: flow goes with the root of differential pressure. 1, 25 and 56.25 % of the
    pressure are 10, 50 and 75 % of the flow."""

    RECEIVER = {"indicated_lower": "0", "indicated_upper": "40"}
    RANGE = {
        "input_lower": "0",
        "input_upper": "25",
        "output_lower": "4",
        "output_upper": "20",
        "tolerance": {"percent_of_span": "0.5"},
    }

    def locate(self, stations, **more):
        readings = [{"applied": a, "output": o, "indicated": i} for a, o, i in stations]
        return run("chain.locate", {**self.RANGE, **self.RECEIVER, "readings": readings, **more})

    def test_a_root_in_the_receiver(self):
        said = self.locate(
            (("0.25", "4.16", "4"), ("6.25", "8", "20"), ("14.0625", "13", "30")),
            indicated_characteristic="square_root",
        )
        self.assertEqual((said["fails"], float(said["total_max_percent"])), (None, 0.0))

    def test_a_root_in_the_transmitter(self):
        said = self.locate(
            (("0.25", "5.6", "4"), ("6.25", "12", "20"), ("14.0625", "16", "30")),
            characteristic="square_root",
        )
        self.assertEqual((said["fails"], float(said["total_max_percent"])), (None, 0.0))

    def test_a_root_taken_twice_shows_the_root_of_the_flow(self):
        """50 % of flow is shown as 70.7 %: the root of a half."""
        said = self.locate(
            (("0.25", "5.6", "12.65"), ("6.25", "12", "28.28"), ("14.0625", "16", "34.64")),
            characteristic="square_root",
        )
        self.assertEqual(said["fails"], "receiver")
        receiver = next(h for h in said["hops"] if h["name"] == "receiver")
        self.assertAlmostEqual(float(receiver["errors_percent"][1]), 70.7 - 50, delta=0.05)

    def test_the_error_at_ten_percent_flow_is_honestly_large(self):
        """0.05 % of the pressure's span: √(0.0105) is 10.247 %, so 0.25 % of flow at 10 % flow,
        and √(0.5630) is 75.033 %, 0.033 %, at 75 %."""
        given = {k: v for k, v in self.RANGE.items() if k != "tolerance"}
        said = evaluate(
            "square_root",
            **given,
            points=[("0.25", f"{4 + 16 * 0.10247:.5f}"), ("14.0625", f"{4 + 16 * 0.75033:.5f}")],
        )
        low, high = (float(p["error_percent_of_span"]) for p in said["points"])
        self.assertAlmostEqual(low, 0.247, delta=0.001)
        self.assertAlmostEqual(high, 0.033, delta=0.001)

    def test_below_the_cut_off_an_error_is_shown_and_not_judged(self):
        given = {k: v for k, v in self.RANGE.items() if k != "tolerance"}
        said = evaluate(
            "square_root",
            **given,
            points=[("0.01", "4.90"), ("6.25", "12.00"), ("25", "20.00")],
            cut_off_percent="5",
        )
        first = said["points"][0]
        self.assertEqual((first["judged"], first["within"]), (False, True))
        self.assertGreater(float(first["error_percent_of_span"]), 3)
        self.assertEqual(said["summary"]["verdict"], "within")
