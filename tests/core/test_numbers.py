"""Numbers as typed, and how they are shown."""

from decimal import Decimal

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exceeds, from_float, parse_decimal
from calibration.kernel.rounding import as_typed, fixed, show, significant, trimmed


class Typed(SimpleTestCase):
    def test_keeps_the_decimals(self):
        for text, shown in (("4.00", "4.00"), ("4,00", "4.00"), (" 12.040 ", "12.040")):
            with self.subTest(text=text):
                self.assertEqual(as_typed(parse_decimal(text, "reading")), shown)

    def test_reads_a_decimal_comma_signs_and_blanks(self):
        self.assertEqual(parse_decimal("12,04", "x"), Decimal("12.04"))
        self.assertEqual(parse_decimal("\u22120,5", "x"), Decimal("-0.5"))
        self.assertEqual(parse_decimal("3 001.2", "x"), Decimal("3001.2"))

    def test_refuses_what_is_no_reading_and_names_field_and_remedy(self):
        cases = {
            "": "number.missing",
            "abc": "number.not_a_number",
            "NaN": "number.not_finite",
            "inf": "number.not_finite",
            "-Infinity": "number.not_finite",
            "1e309": "number.out_of_range",
            "1e-309": "number.out_of_range",
            "1,234.5": "number.ambiguous",
            "1,2,3": "number.ambiguous",
            "9" * 41: "number.out_of_range",
            "12.0.4": "number.not_a_number",
            "0x10": "number.not_a_number",
        }
        for text, code in cases.items():
            with self.subTest(text=text), self.assertRaises(InputError) as caught:
                parse_decimal(text, "data.reading")
            self.assertEqual(caught.exception.code, code)
            self.assertEqual(caught.exception.field, "data.reading")
            self.assertTrue(caught.exception.remedy)
        for value in (None, True, float("nan"), float("inf")):
            with self.subTest(value=value), self.assertRaises(InputError):
                parse_decimal(value, "x")

    @given(st.decimals(min_value=-99999, max_value=99999, places=4, allow_nan=False))
    def test_reads_back_what_it_writes(self, value):
        self.assertEqual(parse_decimal(format(value, "f"), "x"), value)
        self.assertEqual(parse_decimal(as_typed(value), "x"), value)

    @given(st.floats(allow_nan=False, allow_infinity=False))
    def test_a_float_becomes_its_own_shortest_decimal(self, value):
        self.assertEqual(float(from_float(value)), value)


class Limits(SimpleTestCase):
    def test_exactly_on_the_limit_is_within(self):
        # Hand calculation: 0.25 % of 16 mA is 0.04 mA.
        limit, span = Decimal("0.25") * 16 / 100, Decimal(16)
        self.assertFalse(exceeds(Decimal("12.04") - 12, limit, span))
        self.assertTrue(exceeds(Decimal("12.041") - 12, limit, span))
        self.assertFalse(exceeds(Decimal("11.96") - 12, limit, span))

    def test_a_float_gets_a_guard_of_1e9_of_span_and_no_more(self):
        limit, span = Decimal(1), Decimal(100)
        self.assertFalse(exceeds(Decimal("1.00000009"), limit, span, floats=True))
        self.assertTrue(exceeds(Decimal("1.0000002"), limit, span, floats=True))
        self.assertTrue(exceeds(Decimal("1.00000009"), limit, span))


class Shown(SimpleTestCase):
    def test_rounds_half_to_even(self):
        # ISO 80000-1:2009, annex B, rule A: 12.25 to 12.2 and 12.35 to 12.4.
        self.assertEqual(fixed(Decimal("12.25"), 1), Decimal("12.2"))
        self.assertEqual(fixed(Decimal("12.35"), 1), Decimal("12.4"))

    def test_signs_groups_and_zero(self):
        self.assertEqual(show(Decimal("-0.004"), 2, sign=True), "0.00")
        self.assertEqual(show(Decimal("0.5"), 2, sign=True), "+0.50")
        self.assertEqual(show(-12345.678, 1), "\u221212\u202f345.7")
        self.assertEqual(trimmed(Decimal("4000.00")), "4000")
        self.assertEqual(trimmed(Decimal("0.50")), "0.5")
        self.assertEqual(significant(0.01234, 2), "0.012")
        self.assertEqual(significant(0.0), "0")
