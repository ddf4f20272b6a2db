"""Weights together: classes by OIML R 111-1, one certificate added and not squared, the air."""

from __future__ import annotations

from decimal import Decimal

from django.test import SimpleTestCase

from calibration.engine.job.facts import AssetFacts
from calibration.families.shared.weights import hung, parts_of, whole_kg
from calibration.kernel.codec import decode
from calibration.kernel.errors import InputError
from calibration.measuring.weights import limit_kg
from calibration.operations import run
from tests.core.plant import reference

TWENTIES = [{"nominal_kg": "20", "count": 4}, {"nominal_kg": "10", "count": 2}]


def a_set(*pieces, **more):
    own = {"pieces": list(pieces or TWENTIES), "oiml_class": "M1", **more}
    return decode(AssetFacts, reference("W-1", "test_weights", "kg", **own), "asset")


class Sums(SimpleTestCase):
    def test_what_the_classes_permit(self):
        """OIML R 111-1:2004, table 1: 20 kg is ±30 mg in E2, ±1 g in M1, ±10 g in M3."""
        for name, kg, mg in (
            ("E2", 20, 30),
            ("F1", 10, 50),
            ("F2", 5, 80),
            ("M1", 20, 1000),
            ("M1", 500, 25_000),
            ("M2", 1000, 160_000),
            ("M3", 20, 10_000),
        ):
            self.assertEqual(limit_kg(name, Decimal(kg)), Decimal(mg) / 1_000_000, (name, kg))
        self.assertIsNone(limit_kg("M1", Decimal(25)))

    def test_one_certificate_is_added(self):
        """4 × 20 kg and 2 × 10 kg of M1, U a third of 1 g and of 0.5 g: 1.667 g, not 0.707 g."""
        said = run("weights.sum", {"pieces": TWENTIES, "oiml_class": "M1"})
        self.assertEqual(Decimal(said["nominal_kg"]), Decimal(100))
        self.assertAlmostEqual(float(said["uncertainty_kg"]), 0.005 / 3, 9)
        self.assertEqual(Decimal(said["limit_kg"]), Decimal("0.005"))

    def test_two_certificates_are_squared(self):
        """0.3 g and 0.4 g of two certificates: 0.5 g."""
        pieces = [
            {"nominal_kg": "20", "uncertainty_kg": u, "certificate": c}
            for u, c in (("0.0003", "A"), ("0.0004", "B"))
        ]
        said = run("weights.sum", {"pieces": pieces})
        self.assertAlmostEqual(float(said["uncertainty_kg"]), 0.0005, 9)

    def test_conventional_values_and_the_air(self):
        """By OIML D 28: 100 kg of 7200 kg/m³ in air of 1.1: +100 × 0.1 × (1/7200 − 1/8000)."""
        pieces = [{"nominal_kg": "20", "count": 5, "conventional_kg": "20.0004"}]
        given = {"pieces": pieces, "density": "7200", "air": "1.1"}
        said = run("weights.sum", given)
        self.assertEqual(Decimal(said["conventional_kg"]), Decimal("100.002"))
        self.assertAlmostEqual(float(said["buoyancy_kg"]), 10 * (1 / 7200 - 1 / 8000), 6)

    def test_what_cannot_be_is_refused(self):
        for pieces, code in (
            ([], "pieces.too_few"),
            ([{"nominal_kg": "0"}], "nominal_kg.not_positive"),
            ([{"nominal_kg": "20", "count": 0}], "count.out_of_range"),
            ([{"nominal_kg": "20", "conventional_kg": "-1"}], "conventional_kg.not_positive"),
            ([{"nominal_kg": "20", "uncertainty_kg": "-1"}], "uncertainty_kg.negative"),
            ([{"nominal_kg": "25"}], "uncertainty_kg.missing"),
        ):
            with self.assertRaises(InputError) as caught:
                run("weights.sum", {"pieces": pieces})
            self.assertEqual(caught.exception.code, code)
            self.assertTrue(caught.exception.remedy)


class Hanging(SimpleTestCase):
    def test_the_largest_hang_first(self):
        found = hung(a_set(), Decimal(75))
        self.assertEqual(found.words, "3 × 20 kg + 10 kg")
        self.assertEqual(found.out.conventional_kg, Decimal(70))
        self.assertIsNone(hung(a_set(), Decimal(5)))
        self.assertEqual(whole_kg(a_set()), Decimal(100))

    def test_what_they_add_to_the_uncertainty(self):
        """100 kg ±1.667 g on a span of 500 kg: 0.000333 % (k = 2); no load adds nothing."""
        own, air = parts_of(a_set(), Decimal(100), 500.0)
        self.assertAlmostEqual(own.value, 100 * 0.005 / 3 / 500, 9)
        self.assertAlmostEqual(air.value, 100 * 100 * 0.12 * (1 / 7850 - 1 / 8000) / 500, 9)
        self.assertEqual(parts_of(a_set(), Decimal(0), 500.0), ())
