"""Electromagnetic flow meters: plugs in order, every line, verified only when all of it is."""

from __future__ import annotations

import json

from calibration.engine.files.device_file import read as read_file
from calibration.engine.files.device_file import sheet
from calibration.families.magmeter.device_file import form
from calibration.families.magmeter.model import MACHINE, MagModel
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact
from calibration.kernel.sheets import table
from calibration.simulate.commands import Command
from tests.core import planted_magmeters
from tests.core.jobs import Jobs
from tests.core.magmeters import LINES, MagVisit

GOOD = {
    "a": "68.8",
    "b": "2000",
    "c": "100.1",
    "d": "12.5",
    "e": "12.6",
    "f": "1800",
    "g": "4.001",
    "h": "19.998",
    "i": "1000.2",
    "j": "1",
}


class Verified(Jobs):
    def test_verified_and_nothing_is_changed(self):
        visit = MagVisit(asks=True)
        state = visit.until("")
        self.assertEqual((state.outcome.id, state.outcome.words), ("within", "verified"))
        said = self.tables(visit)["Lines of the tester"]
        self.assertEqual(said["lines"], ["Verified only: nothing in the instrument was changed."])
        self.assertEqual(self.paper(visit)["title"], "Verification certificate")
        self.assertEqual(len(said["rows"]), len(LINES))

    def test_copper_is_turned_to_20_degrees_by_hand(self):
        """IEC 60028: 68.8 Ω at 48 °C are 68.8 / (1 + 0.00393 × 28) = 61.98 Ω."""
        visit = MagVisit()
        visit.until("tester_run")
        visit.push("lines_read", step="tester_run", **GOOD)
        row = visit.state().blocks[0].cells[0]
        self.assertIn(f"({68.8 / (1 + 0.00393 * 28):.2f} at 20 °C)", row[2])

    def test_every_kind_of_line(self):
        visit = MagVisit()
        visit.until("tester_run")
        wrong = {**GOOD, "b": "40", "c": "98.5", "g": "4.03", "j": "0"}
        visit.push("lines_read", step="tester_run", **wrong)
        marks = [p.mark for p in visit.state().as_found.points]
        names = [x.id for x, m in zip(LINES, marks, strict=True) if m == "outside"]
        self.assertEqual(names, ["b", "c", "g", "j"])
        self.assertIn("6 of 10 lines within", visit.state().judgement.text)

    def test_yes_or_no_is_said_so_and_no_figure_stands_for_it(self):
        visit = MagVisit()
        visit.until("tester_run")
        visit.push("lines_read", step="tester_run", **{**GOOD, "j": "0"})
        state = visit.state()
        relay = state.as_found.points[-1]
        self.assertEqual((relay.reading, relay.error, relay.limit), ("no", "", ""))
        self.assertEqual(relay.mark, "outside")
        self.assertEqual(state.as_found.worst, "Alarm relay: no")
        self.assertIn("Worst: Alarm relay, no.", state.judgement.text)
        self.assertEqual([(s.id, s.value) for s in state.as_found.stations][1], ("output", "no"))
        on_paper = self.paper(visit)["as_found"]["points"][-1]
        self.assertEqual((on_paper["reading"], on_paper["uncertainty"]), ("no", ""))
        self.assertIsNone(on_paper["numbers"]["reading"])
        self.assertIsNone(on_paper["numbers"]["error_percent"])

    def test_the_strip_shows_what_is_stored_and_what_the_tester_says(self):
        visit = MagVisit()
        visit.until("tester_run")
        visit.push("lines_read", step="tester_run", **{**GOOD, "g": "4.03"})
        strip = visit.state().as_found.stations
        self.assertEqual(
            [(s.label, s.value, s.unit, s.remark, s.bad) for s in strip],
            [
                ("Output at 4 mA, stored", "4", "mA", "±0.02", False),
                ("Tester says", "4.03", "mA", "", True),
                ("Of its limit", "150.0", "%", "", False),
            ],
        )

    def test_a_line_counts_only_when_all_that_is_averaged_is_that_line(self):
        """A value is the mean of the last second and two more: none of them from before."""
        test = Command(t=100.0, kind="tell", setting="test")
        for n, line in enumerate(LINES):
            model = MagModel(lines=LINES, shown=n)
            t = 100.0
            while MACHINE.held(model, MACHINE.at(model, [test], t)) < 1:
                t += 0.25
            window = MACHINE.window(model, [test], t, 7, 3.0)
            last = MACHINE.live(model, [test], t, 7).digital
            self.assertEqual({w.digital for w in window}, {last}, line.label)
            self.assertGreater(last, 0)

    def test_what_is_not_whole_is_not_verified(self):
        visit = MagVisit()
        visit.until("tester_run")
        partly = {k: v for k, v in GOOD.items() if k != "f"}
        said = self.refused(visit, "value.missing", "lines_read", step="tester_run", **partly)
        self.assertEqual(said.field, "data.f")
        self.refused(visit, "field.unknown", "lines_read", step="tester_run", **GOOD, z="1")
        far = {**GOOD, "a": "68800"}
        self.refused(visit, "slip.suspected", "lines_read", step="tester_run", **far)

    def test_causes_are_told_apart_and_nothing_is_ever_set(self):
        for fault, cause in (
            ({"shorted_percent": 8.0}, "coil_shorted"),
            ({"coil_c": 62.0}, "coil_warm"),
            ({"coil_mohm": 5.0}, "coil_wet"),
            ({"coated": 10.0}, "electrode_coated"),
            ({"conductivity": 700.0}, "liquid_conducts_less"),
            ({"output_ma": 0.15}, "mag_output_off"),
        ):
            with self.subTest(cause):
                visit = MagVisit(asks=True, **fault)
                state = visit.until("judge")
                self.assertEqual(visit.causes(), [cause])
                self.assertNotIn("adjust", [c.id for c in state.judgement.choices])

    def test_tested_and_not_verified_in_words(self):
        visit = MagVisit(asks=True, shorted_percent=8.0)
        self.assertEqual(visit.until("").outcome.words, "tested, not verified: out of service")


class Order(Jobs):
    def test_plugs_keep_their_order_in_and_out(self):
        visit = MagVisit()
        state = visit.until("plugs_in")
        self.assertEqual(state.task.asks[0].blocks[0].kind, "wiring")
        self.assertEqual([c[0] for c in state.task.asks[0].blocks[0].cells][2], "Cable plug")
        said = self.refused(visit, "plug.order", "plugged", step="plugs_in", plug="cable")
        self.assertIn("Coil plug comes first", said.message)
        self.refused(visit, "plug.unknown", "plugged", step="plugs_in", plug="other")
        visit.push("plugged", step="plugs_in", plug="coil")
        self.assertIn("Electrode plug into", visit.state().task.title)
        visit.push("plugged", step="plugs_in", plug="all")
        self.assertEqual(visit.state().current_step, "wires_parked")
        state = visit.until("plugs_out")
        self.assertEqual(state.task.asks[0].button, "Output lead is out")

    def test_a_compact_one_has_no_cable(self):
        visit = MagVisit(own={"build": "compact"})
        cells = visit.until("plugs_in").task.asks[0].blocks[0].cells
        self.assertNotIn("Cable plug", [c[0] for c in cells])

    def test_power_is_off_and_proven_four_times(self):
        visit = MagVisit()
        steps = [s.id for s in visit.state().steps if s.id.startswith("dead_for")]
        self.assertEqual(len(steps), 4)
        for step in steps:
            visit.until(step)
            visit.push("line_failed", step=step, item="dead", what="230 V", said="x")
            visit.push("confirmed", step=step, item="before")
            visit.push("confirmed", step=step, item="after")
            with self.assertRaises(InputError):
                visit.push("decided", step=step, choice="without", reason="in a hurry")
            visit.push("confirmed", step=step, item="dead")

    def test_wires_and_covers_are_on_until_they_are_back(self):
        visit = MagVisit()
        on = [o.label for o in visit.until("tester_run").on]
        self.assertIn("Output wires parked: the loop is dead", on)
        self.assertIn("Covers open", on)

    def test_a_wire_that_is_not_back_is_found_in_the_control_room(self):
        visit = MagVisit(asks=True, wire_off=True)
        state = visit.until("live_judge")
        self.assertEqual(visit.causes(), ["wire_not_back"])
        self.assertIn("repair", [c.id for c in state.judgement.choices])
        visit.push("repaired", step="live_judge", what="connection", said="wire 3 back")
        visit.model(wire_off=False)
        state = visit.until("")
        self.assertEqual(state.outcome.words, "within limits after repair")


class Files(Jobs):
    def lines(self, visit, text):
        with exact():
            want = form(visit.standing())
        return read_file(sheet(text, want), want, None)

    def test_records_in_json_fill_every_line(self):
        visit = MagVisit()
        visit.until("tester_run")
        tests = [{"test": x.label, "measured": GOOD[x.id], "unit": x.unit} for x in LINES]
        tests[-1]["measured"] = True
        text = json.dumps({"serial": "S-77", "program": "4.2", "tests": tests})
        found = table(text, ())
        self.assertEqual(dict(found.above)["serial"], "S-77")
        self.assertEqual(found.headers, ("test", "measured", "unit"))
        self.assertEqual(found.rows[-1][1][1], "1")

    def test_what_is_no_report_is_refused(self):
        for text in ("{", "[]", '{"a": 1}', "[[1, 2]]", '{"tests": [{"a": 1}]}', "[" * 5000):
            with self.subTest(text[:20]), self.assertRaises(InputError) as caught:
                table(text, ())
            self.assertEqual(caught.exception.code, "file.no_table")

    def test_a_file_is_not_read_twice(self):
        visit = MagVisit(asks=True, coated=10.0)
        visit.until("tester_run")
        of = {"name": "report.json", "digest": "a" * 64, "values": {}}
        visit.push("lines_read", step="tester_run", **{**GOOD, "d": "40"}, read_from=of)
        visit.until("judge")
        visit.push("decided", step="judge", choice="repeat", reason="cleaned")
        visit.until("tester_run")
        self.refused(
            visit, "file.read_before", "lines_read", step="tester_run", **GOOD, read_from=of
        )


class Planted(Jobs):
    def test_planted_faults_are_named(self):
        self.planted(planted_magmeters.FOUND, planted_magmeters.TABLE)

    def test_the_published_table_holds_the_aims(self):
        self.published("magmeter-faults.md", planted_magmeters.FAULTS)


class Power(Jobs):
    """Off, covers, proven dead there, lead, on, who is it, off …: hands never go in under power."""

    def test_the_order_of_power_hands_and_covers(self):
        visit = MagVisit()
        wanted = (
            "off_for_covers", "covers_open", "dead_for_lead", "lead_in", "on_for_identity",
            "meter_identity", "off_for_plugs", "dead_for_plugs", "plugs_in", "wires_parked",
            "tester_power", "tester_run", "off_for_undoing", "dead_for_undoing", "plugs_out",
            "on_for_check", "reconnection", "off_for_wires", "dead_for_wires", "lead_out",
            "wires_back", "covers_shut", "on_for_service", "live_output",
        )  # fmt: skip
        order = [s.id for s in visit.method.steps]
        self.assertEqual([id for id in order if id in wanted], list(wanted))
        power = ""
        for step in visit.method.steps:
            power = step.power or power
            if step.hands:
                self.assertEqual(power, "off", step.id)
        # Between every two times of off there is one of on.
        states = [s.power for s in visit.method.steps if s.power]
        self.assertEqual(states, ["off", "on"] * 4)

    def test_no_hand_goes_in_while_power_is_on_whatever_the_order(self):
        visit = MagVisit()
        visit.until("meter_identity")
        self.assertEqual(visit.standing().power, "on")
        for kind, data in (
            ("plugged", {"step": "plugs_in", "plug": "coil"}),
            ("put_on", {"step": "wires_parked"}),
            ("confirmed", {"step": "dead_for_plugs", "item": "dead"}),
            ("confirmed", {"step": "static", "item": "strap"}),
        ):
            said = self.refused(visit, "power.on", kind, **data)
            self.assertIn("no hand goes in", said.message)
        visit.until("dead_for_plugs")
        self.assertEqual(visit.standing().power, "off")

    def test_outputs_stay_parked_while_the_sensor_side_is_checked(self):
        visit = MagVisit()
        visit.until("reconnection")
        self.assertIn("wires_parked", {s.id for s, _ in visit.standing().ledger.on_now()})
        visit.until("covers_shut")
        self.assertNotIn("wires_parked", {s.id for s, _ in visit.standing().ledger.on_now()})
        self.assertEqual(visit.standing().power, "off")
