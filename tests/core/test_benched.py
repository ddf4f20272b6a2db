"""Calculators of the Bench that a step leads to: each opens with what the job knows, and agrees."""

import json

from django.test import SimpleTestCase

from calibration.engine.view.bench_links import link
from calibration.kernel.codec import decode
from calibration.operations import OPERATIONS
from tests.core.families import Visit
from tests.core.gcs import GcVisit
from tests.core.mixtures import MixVisit
from tests.core.traces import TraceVisit


def computed(one):
    """Compute a link as the Bench does."""
    operation = OPERATIONS[one.operation]
    given = {
        name: json.loads(text) if text[:1] in "[{" else text for name, text in one.given.items()
    }
    return operation.function(decode(operation.input_type, given, ""))


def of(state, operation):
    return next(one for one in state.bench if one.operation == operation)


class Links(SimpleTestCase):
    def test_two_injections_are_compared_as_the_job_did(self):
        state = GcVisit().until("judge")
        found = computed(of(state, "injections.compare"))
        shown = next(b for b in state.blocks if b.title == "Injections, ppm")
        self.assertEqual(found.advice, shown.text)
        times = computed(of(state, "retention.check"))
        self.assertEqual(len(times.peaks), len(shown.cells))

    def test_cycles_of_bleeding_are_those_that_the_job_wants(self):
        state = TraceVisit().until("bleed")
        links = [one for one in state.bench if one.operation == "gas.bleed_cycles"]
        self.assertEqual(len(links), 2)
        for one in links:
            self.assertGreaterEqual(computed(one).cycles, 3)

    def test_a_mixture_comes_to_what_its_parts_are(self):
        state = MixVisit().until("in_span")
        found = computed(of(state, "gas.mixture"))
        self.assertEqual(len(found.components), 3)

    def test_a_typed_unit_leads_to_the_others_of_it_and_a_signed_job_to_nothing(self):
        visit = Visit("smart_transmitter")
        state = visit.until("as_found")
        self.assertEqual(of(state, "unit.convert").given, {"to_unit": "kPa"})
        self.assertEqual(visit.until("").bench, ())

    def test_what_is_none_is_left_out(self):
        self.assertEqual(link("x", "y", {"a": None, "b": 2}).given, {"b": "2"})
