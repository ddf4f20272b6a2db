"""What the Bench needs from the core: finding, forms, figures as text, tables."""

from decimal import Decimal

from django.test import SimpleTestCase

from calibration.desk.finding import listed, search
from calibration.kernel.errors import InputError
from calibration.kernel.present import entries, figure_text
from calibration.kernel.registry import OPERATIONS
from calibration.operations import run, with_text


class Finding(SimpleTestCase):
    def test_what_one_has_in_mind(self):
        for text, name, given in (
            ("250 ohm", "loop.supply", {"resistor_ohm": "250"}),
            ("K 500", "thermocouple.emf", {"type": "K", "temperature_c": "500"}),
            ("k -50,5", "thermocouple.emf", {"type": "K", "temperature_c": "-50,5"}),
            ("J 20 mV", "thermocouple.temperature", {"type": "J", "emf_mv": "20"}),
            ("pt100 250", "rtd.resistance", {"r0_ohm": "100", "temperature_c": "250"}),
            ("Pt1000 1385 ohm", "rtd.temperature", {"r0_ohm": "1000", "resistance_ohm": "1385"}),
            ("weights displacer", "displacer.weights", {}),
            ("LEL propane", "gas.convert", {"gas": "propane"}),
            ("block and bleed", "gas.bleed_cycles", {}),
            ("12 mA", "signal.scale", {"output": "12", "input": None, "percent": None}),
            ("100 psi", "unit.convert", {"value": "100", "unit": "psi", "to_unit": ""}),
        ):
            found = search(text)[0]
            self.assertEqual((found.operation.name, dict(found.given)), (name, given), text)

    def test_what_is_filled_in_computes(self):
        for text in ("K 500", "j 20 mv", "pt100 250", "pt500 600 ohm", "12 ma", "100 psi"):
            found = search(text)[0]
            example = {**found.operation.example, **found.given}
            run(found.operation.name, {k: v for k, v in example.items() if v is not None})

    def test_every_calculator_is_the_first_find_within_eight_keystrokes(self):
        """With b before and Enter after, that is under ten keys more than the place itself."""
        for op in listed():
            text = f"{op.title} {op.name.replace('.', ' ').replace('_', ' ')} {op.words}".lower()
            starts = {w[:n] for w in text.split() for n in range(2, 9)}
            words = text.split()
            hit = self.first(op, starts) or self.first(
                op, {f"{a[:3]} {b[:3]}" for a in words for b in words}
            )
            self.assertTrue(hit, op.name)
            self.assertLessEqual(len(hit), 8, op.name)

    def first(self, op, starts):
        """Return the shortest text that finds it first."""
        ordered = sorted(starts, key=lambda s: (len(s), s))
        return next((s for s in ordered if (f := search(s)) and f[0].operation is op), "")

    def test_nothing_found_is_empty(self):
        for text in ("", "   ", "xyzzy", "K 500 ohm bananas", "(", "\\"):
            self.assertEqual(search(text), ())


class Forms(SimpleTestCase):
    def test_every_example_fits_its_form(self):
        for op in listed():
            form = {e.name: e for e in entries(op.input_type)}
            self.assertLessEqual(set(op.example), set(form), op.name)
            for entry in form.values():
                self.assertTrue(entry.label)
                if entry.required:
                    self.assertIn(entry.name, op.example, op.name)
                if entry.kind in ("rows", "group"):
                    self.assertTrue(entry.entries)
                if entry.kind in ("choice", "choices"):
                    self.assertTrue(entry.choices)

    def test_a_number_offers_its_units(self):
        form = {e.name: e for e in entries(OPERATIONS["loop.supply"].input_type)}
        self.assertEqual(form["supply_v"].units, ("V", "mV", "µV"))
        self.assertEqual(form["resistor_ohm"].default, "250")


class Figures(SimpleTestCase):
    def test_texts(self):
        for value, decimals, text in (
            (1.5, None, "1.5"),
            (8500.0, None, "8500"),
            (0.1 + 0.2, None, "0.3"),
            (123456.789, None, "123\u202f457"),
            (0.00000012, None, "1.200e-7"),
            (-2.345, 2, "\u22122.34"),
            (Decimal("4.00"), None, "4.00"),
            (Decimal(1) / 3, None, "0.333333"),
            (0.0, None, "0"),
            (True, None, "yes"),
            (None, None, "none"),
            ("low_response", None, "low response"),
            (12, None, "12"),
        ):
            self.assertEqual(figure_text(value, decimals), text)
        with self.assertRaises(TypeError):
            figure_text(object())

    def test_other_units_of_a_result(self):
        shown = run("thermocouple.temperature", {"type": "K", "emf_mv": "0"}, pictured=True)
        figure = shown["shown"]["figures"][0]
        self.assertEqual((figure["text"], figure["unit"]), ("0.00", "°C"))
        # No emf is 0 °C, and that is 32 °F and 273.15 K.
        others = {o["unit"]: o["text"] for o in figure["others"]}
        self.assertEqual(others, {"°F": "32", "K": "273.15"})

    def test_as_text(self):
        text = with_text("loop.supply", {"supply_v": 24, "loop_ohm": 50})["text"]
        self.assertIn("Supply: 24 V", text)
        self.assertIn("At the transmitter: 18.00 V", text)
        self.assertIn("Ohm's law", text)
        self.assertIn("24 − 20 mA × (50 + 250) Ω", text)


class Tables(SimpleTestCase):
    def make(self, **changes):
        asked = {
            "operation": "thermocouple.emf",
            "fixed": {"type": "K"},
            "vary": "temperature_c",
            "start": "0",
            "stop": "20",
            "step": "5",
            "columns": ["emf_mv"],
            **changes,
        }
        return run("table.make", asked)

    def test_thermocouple(self):
        # NIST Monograph 175, type K: 0.000 at 0, 0.397 at 10, 0.798 at 20 °C.
        made = self.make()
        self.assertEqual([r[0] for r in made["rows"]], ["0", "5", "10", "15", "20"])
        self.assertEqual([made["rows"][i][1] for i in (0, 2, 4)], ["0.000", "0.397", "0.798"])
        self.assertEqual(made["columns"], ["Measuring junction [°C]", "Emf [mV]"])
        self.assertIn("Thermocouple type: K", made["conditions"])

    def test_every_first_suggestion_works(self):
        suggested = [op for op in listed() if op.table]
        self.assertGreaterEqual(len(suggested), 5)
        for op in suggested:
            table = dict(op.table)
            fixed = {**op.example, **table.pop("set", {})}
            made = self.make(operation=op.name, fixed=fixed, **table)
            self.assertGreater(len(made["rows"]), 5)
            self.assertTrue(all(len(r) == len(made["columns"]) for r in made["rows"]))

    def test_refusals(self):
        for change, code in (
            ({"operation": "coffee.brew"}, "operation.unknown"),
            ({"operation": "table.make"}, "operation.unknown"),
            ({"step": "0"}, "step.not_positive"),
            ({"stop": "-1"}, "stop.order"),
            ({"step": "0.001"}, "rows.too_many"),
            ({"columns": []}, "columns.too_few"),
            ({"columns": ["emf_mv"] * 9}, "columns.too_many"),
            ({"columns": ["taste"]}, "columns.unknown"),
            ({"vary": "mood"}, "field.unknown"),
            ({"vary": "mood.2"}, "vary.unknown"),
            ({"stop": "3000", "step": "100"}, "temperature.out_of_range"),
        ):
            with self.subTest(change=change), self.assertRaises(InputError) as caught:
                self.make(**change)
            self.assertEqual(caught.exception.code, code)
