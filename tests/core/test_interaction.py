"""Screws that move each other: what is learnt, where to aim, and when it is enough."""

from decimal import Decimal

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from calibration.kernel.errors import InputError
from calibration.runs.screws import ScrewsIn, Visit, screws


class Linear:
    """Two screws with exact interaction; a turn moves its own end by what is asked."""

    def __init__(self, zero, span, a, b):
        self.error = {"zero": zero, "span": span}
        self.moves = {"zero": b, "span": a}

    def turn(self, end, to):
        by = to - self.error[end]
        other = "span" if end == "zero" else "zero"
        self.error[end] = to
        self.error[other] += self.moves[end] * by


def ask(found, visits, limit="0.1"):
    return screws(
        ScrewsIn(
            zero_error_percent=Decimal(repr(found[0])),
            span_error_percent=Decimal(repr(found[1])),
            limit_percent=Decimal(limit),
            visits=tuple(visits),
        )
    )


def follow(device, most=40):
    """Follow the advice; return what was asked, in order."""
    found, visits, said = (device.error["zero"], device.error["span"]), [], []
    for _ in range(most):
        advice = ask(found, visits)
        said.append(advice)
        if advice.next == "done":
            return said
        before = Decimal(repr(device.error[advice.next]))
        after = None
        if advice.turn:
            device.turn(advice.next, float(advice.aim_percent))
            after = advice.aim_percent
        visits.append(Visit(end=advice.next, before_percent=before, after_percent=after))
    raise AssertionError("no end")


class Learning(SimpleTestCase):
    def test_what_each_turn_does_to_the_other_end_is_learnt_exactly(self):
        said = follow(Linear(3.0, -2.0, a=0.4, b=1.1))
        self.assertAlmostEqual(said[-1].span_moves_zero, 0.4, places=9)
        self.assertAlmostEqual(said[-1].zero_moves_span, 1.1, places=9)
        self.assertAlmostEqual(said[-1].interaction, 0.44, places=9)

    def test_the_aim_solves_both_equations_by_hand(self):
        """a = 0.5, b = 1, errors 1 and 2: aim 0.5 × (2 − 1) / (1 − 0.5) = 1: span then takes
        2 + (1 − 1) = 2 back, and with it 0.5 × 2 = 1 of zero."""
        visits = (
            Visit(end="zero", before_percent=Decimal(4), after_percent=Decimal(0)),
            Visit(end="span", before_percent=Decimal(-4), after_percent=Decimal(-2)),
            Visit(end="zero", before_percent=Decimal(1)),
        )
        said = ask((4.0, 0.0), visits)
        self.assertEqual((said.zero_moves_span, said.span_moves_zero), (1.0, 0.5))
        self.assertEqual((said.next, said.turn), ("zero", True))
        # errors now: zero 1, span −2, so a (e_high − b e_low) / (1 − a b) = 0.5 × (−3) / 0.5
        self.assertAlmostEqual(float(said.aim_percent), -3.0, places=9)

    @given(
        st.floats(-5, 5),
        st.floats(-5, 5),
        st.floats(-0.6, 0.6),
        st.floats(0.5, 1.5),
    )
    @settings(max_examples=200, deadline=None)
    def test_two_passes_are_enough_whatever_the_interaction(self, zero, span, a, b):
        device = Linear(zero, span, a, b)
        said = follow(device)
        turns = sum(s.turn for s in said)
        self.assertLessEqual(turns, 5)
        self.assertLessEqual(max(abs(e) for e in device.error.values()), 0.1 + 1e-9)

    def test_nothing_to_do_is_done_at_once(self):
        said = ask((0.02, -0.03), ())
        self.assertEqual((said.next, said.turn), ("done", False))

    def test_it_is_steady_only_when_two_passes_agree(self):
        said = follow(Linear(1.0, 0.0, a=0.0, b=0.0))
        asked = [(s.next, s.turn) for s in said]
        self.assertEqual(asked[0], ("zero", True))
        self.assertGreaterEqual(sum(n == "zero" for n, _ in asked), 2)
        self.assertGreaterEqual(sum(n == "span" for n, _ in asked), 2)

    def test_a_held_output_teaches_nothing(self):
        visits = (
            Visit(end="zero", before_percent=Decimal("-1.2"), after_percent=Decimal(0), held=True),
            Visit(end="span", before_percent=Decimal(2)),
        )
        self.assertIsNone(ask((-1.2, 0.0), visits).zero_moves_span)

    def test_a_limit_must_be_above_nothing(self):
        with self.assertRaises(InputError) as caught:
            ask((1.0, 1.0), (), limit="0")
        self.assertEqual(caught.exception.code, "limit.not_positive")
