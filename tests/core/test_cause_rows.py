"""Every cause is complete: what it needs, what excludes it, what is done, and a planted fault."""

from pathlib import Path

from django.test import SimpleTestCase

import calibration.families  # noqa: F401  # registers them
from calibration.engine.method.family import FAMILIES
from calibration.runs.cause_rows import KNOWN, ROWS, CauseRow, table
from tests.core.causes_drawn import DOCUMENT, document, planted

#: Causes of which no fault is planted, with the test that tries them instead.
TRIED = {
    "meter_in_doubt": "test_hop_causes",
    "air_in_doubt": "test_air_and_alarms",
    "head_zero": "test_gas_by_gas",
    "air_leaks_in": "test_air_and_alarms",
    "air_poor": "test_air_and_alarms",
    "belt_cell_lost": "test_setting_bounds",
    "belt_speed_lost": "test_setting_bounds",
    "junction_compensation": "test_sensor_jobs",
    "noise": "test_run",
    "offset_moved": "test_plant_side",
    "outlier": "test_run",
    "span_high": "test_trace_jobs",
    "spent": "test_sensor_life",
    "stuck_between": "test_air_and_alarms",
    "zero_gas_suspect": "test_detectors",
}
#: Nor are these: they are named by rules that no simulator tries yet. The list may only shrink.
NOT_YET = (
    "air_rich",
    "another_fluid",
    "blocked_junction",
    "buffers_exchanged",
    "dry_gas",
    "fault_current",
    "gas_in_doubt",
    "gases_exchanged",
    "gc_peak",
    "grab_sample",
    "mix_air",
    "no_oxygen",
    "no_return",
    "optics_high",
    "slope_moved",
    "window",
    "wrong_weight",
)


class Rows(SimpleTestCase):
    def test_each_row_is_complete_and_in_words(self):
        for id, row in KNOWN.items():
            with self.subTest(cause=id):
                said = (row.label, row.needs, row.looks, row.excluded, row.remedy, row.source)
                self.assertTrue(all(text.strip() for text in said))
                self.assertFalse(any("_" in text for text in said))
                self.assertLessEqual(set(row.alike), set(KNOWN))
                self.assertNotIn(id, row.alike)

    def test_only_what_lies_in_the_instrument_is_set(self):
        for id, row in KNOWN.items():
            self.assertFalse(row.sets and row.lies_in != "instrument", id)

    def test_each_belongs_to_one_family_or_to_all(self):
        owned = [id for family in FAMILIES.values() for id in family.causes]
        self.assertEqual(sorted([*owned, *ROWS]), sorted(KNOWN))

    def test_a_cause_has_one_row(self):
        with self.assertRaises(ValueError):
            table(KNOWN["zero_shift"])
        self.assertIsInstance(KNOWN["zero_shift"], CauseRow)

    def test_a_fault_of_each_is_planted_or_it_is_said_what_tries_it(self):
        self.assertEqual(sorted(set(KNOWN) - planted()), sorted([*TRIED, *NOT_YET]))
        for cause, module in TRIED.items():
            self.assertIn(cause, Path(__file__).with_name(f"{module}.py").read_text())

    def test_the_document_is_drawn_from_them(self):
        self.assertEqual(DOCUMENT.read_text(), document(), "python -m tests.core.causes_drawn")
