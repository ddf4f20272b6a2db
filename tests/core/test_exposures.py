"""Portables: each cylinder is opened once, all its gases are read together and then set."""

from decimal import Decimal

from calibration.families.gas.gases import clear_below
from calibration.families.gas.ledger import gas_of
from tests.core.detectors import (
    CO,
    METHANE,
    PORTABLE_CHANNELS,
    GasVisit,
    channel,
    cylinder,
    part,
)
from tests.core.test_gas_practice import Practice

BUTANE = channel("a", "butane", "%LEL", "100", "catalytic", "50", demand=True)
H2S = PORTABLE_CHANNELS[2]
IN_AIR = {
    "a": cylinder([part("butane", "50", "%LEL")], number="G-BUT", demand=True),
    "b": cylinder([part("carbon monoxide", "100", "ppm")], number="G-CO", demand=True),
    "c": cylinder([part("hydrogen sulfide", "25", "ppm")], "nitrogen", number="G-H2S", demand=True),
}
THREE = {"span_gas": IN_AIR["a"], "span_gas_b": IN_AIR["b"], "span_gas_c": IN_AIR["c"]}


def three_gases():
    """A portable of three gases, a cylinder for each, butane the one that burns."""
    return GasVisit(
        "gas_portable",
        asks=True,
        facts={"channels": [BUTANE, {**CO, "range": "500", "demand": True}, H2S]},
        assets=THREE,
    )


def typed(visit, step, role="", **shown):
    """One exposure, typed as a person types it: opened, read and set, shut."""
    visit.until(step)
    if role:
        visit.push("gas_on", step=step, role=role, flow="0.5")
    visit.push("exposed", step=step, kept=True, **shown)
    if role:
        visit.push("gas_off", step=step)


class ThreeGases(Practice):
    def air(self, visit, a="0", b="0", c="0", **more):
        other = {"a_other": "0", "b_other": "0", "c_other": "0"}
        typed(visit, "clean_air", a=a, b=b, c=c, **other, **more)

    def spans(self, visit, b=("96", "100")):
        typed(visit, "gas", "span_gas", a="46", a_after="50")
        after = {"b_after": b[1]} if b[1] else {}
        typed(visit, "gas_b", "span_gas_b", b=b[0], **after)
        typed(visit, "gas_c", "span_gas_c", c="24.1", c_after="25")

    def test_three_openings_and_at_most_28_entries(self):
        visit = three_gases()
        self.air(visit, a_after="0", b_after="0", c_after="0")
        self.spans(visit)
        typed(visit, "clear", a="0", b="0", c="0")
        done = visit.until("")
        self.assertEqual((done.status, done.outcome.id), ("signed", "adjusted"))
        self.assertEqual(len([e for e in visit.events if e.kind == "gas_on"]), 3)
        # Place, the instrument beside it and the alarms are told as well.
        self.assertLessEqual(len(visit.events), 28)
        left = {r.id: r.points[0].reading for r in done.runs if r.id.startswith("as_left")}
        self.assertEqual(left, {"as_left": "50", "as_left_b": "100", "as_left_c": "25"})
        found = {r.id: r.points[0].reading for r in done.runs if r.id.startswith("as_found")}
        self.assertEqual(found, {"as_found": "46", "as_found_b": "96", "as_found_c": "24.1"})

    def test_what_is_not_set_stays_and_is_said_so(self):
        visit = three_gases()
        self.air(visit)
        self.spans(visit, b=("97", ""))
        typed(visit, "clear", a="0", b="0", c="0")
        visit.until("")
        self.assertEqual({m.channel for m in gas_of(visit.job.ledger).moves}, {0, 2})
        self.assertFalse(visit.job.ledger.readings["as_left_b"])

    def test_a_zero_set_first_does_not_hide_what_it_showed_before(self):
        """+4 %LEL at zero and 54 in 50 afterwards: before its zero was set it showed 58."""
        visit = three_gases()
        self.air(visit, a="4", a_after="0")
        typed(visit, "gas", "span_gas", a="54", a_after="50")
        self.assertEqual(visit.job.figures("as_found").mark, "outside")
        by_itself = three_gases()
        self.air(by_itself)
        typed(by_itself, "gas", "span_gas", a="54", a_after="50")
        self.assertNotEqual(by_itself.job.figures("as_found").mark, "outside")

    def test_one_that_cannot_be_set_is_judged_and_fails_or_is_set_again(self):
        visit = three_gases()
        self.air(visit)
        typed(visit, "gas", "span_gas", a="50")
        visit.until("gas_b")
        visit.push("gas_on", step="gas_b", role="span_gas_b", flow="0.5")
        refused = self.refused(visit, "set.refused", "exposed", step="gas_b", b="20", b_after="100")
        self.assertEqual(refused.field, "data.b_after")
        visit.push("exposed", step="gas_b", b="20", kept=True)
        visit.push("gas_off", step="gas_b")
        typed(visit, "gas_c", "span_gas_c", c="25")
        state = visit.state()
        self.assertEqual(state.current_step, "judge")
        self.assertEqual(state.judgement.run, "as_found_b")
        self.assertIn("stop", [c.id for c in state.judgement.choices])
        visit.push("decided", step="judge", choice="stop", reason="goes to the maker")
        self.assertEqual(visit.until("").outcome.id, "failed")

    def test_a_new_sensor_is_read_and_set_anew(self):
        visit = three_gases()
        self.air(visit)
        typed(visit, "gas", "span_gas", a="50")
        typed(visit, "gas_b", "span_gas_b", b="20")
        typed(visit, "gas_c", "span_gas_c", c="25")
        visit.push("decided", step="judge", choice="replace", reason="spent")
        self.assertEqual(visit.state().current_step, "replace")
        self.air(visit, b="3", b_after="0")
        self.spans(visit, b=("88", "100"))
        typed(visit, "clear", a="0", b="0", c="0")
        done = visit.until("")
        self.assertEqual(done.outcome.id, "adjusted")
        run = next(r for r in done.runs if r.id == "as_found_b")
        self.assertEqual(run.points[0].reading, "20")

    def test_set_again_where_it_is_still_outside(self):
        visit = three_gases()
        self.air(visit)
        self.spans(visit, b=("60", "75"))
        self.assertEqual(visit.state().current_step, "left_judge")
        visit.push("decided", step="left_judge", choice="adjust", reason="")
        self.air(visit)
        self.spans(visit, b=("75", "100"))
        typed(visit, "clear", a="0", b="0", c="0")
        self.assertEqual(visit.until("").outcome.id, "adjusted")

    def test_bad_input_names_its_field(self):
        visit = three_gases()
        visit.until("clean_air")
        for data, code, field in (
            ({"a": "x", "b": "0", "c": "0"}, "number.not_a_number", "data.a"),
            ({"b": "0", "c": "0"}, "value.missing", "data.a"),
            ({"a": "0", "b": "0", "c": "0", "z": "1"}, "field.unknown", "data.z"),
            ({"a": "500", "b": "0", "c": "0"}, "slip.suspected", "data.a"),
        ):
            with self.subTest(data=data):
                found = self.refused(visit, code, "exposed", step="clean_air", **data)
                self.assertEqual(found.field, field)
        self.refused(visit, "gas.not_due", "exposed", step="gas", a="50")

    def test_gas_must_be_on_and_the_last_look_clear(self):
        visit = three_gases()
        self.air(visit)
        visit.until("gas")
        self.refused(visit, "gas.not_on", "exposed", step="gas", a="50")
        self.spans(visit)
        visit.until("clear")
        limit = clear_below(visit.job, 1) + 1
        found = self.refused(
            visit, "purge.not_clear", "exposed", step="clear", a="0", b=str(limit), c="0"
        )
        self.assertEqual(found.field, "data.b")


class CarbonDioxide(Practice):
    """0 to 5000 ppm: clean air holds about 400 ppm of it. A zero has three ways."""

    CO2 = channel("a", "carbon dioxide", "ppm", "5000", "infrared", "2500", demand=True)
    SPAN = cylinder([part("carbon dioxide", "2500", "ppm")], "nitrogen", number="G-CO2")
    N2 = cylinder([], "nitrogen", number="G-N2", demand=True)

    def visit(self, way):
        return GasVisit(
            "gas_portable",
            asks=True,
            facts={"channels": [self.CO2]},
            assets={"span_gas": self.SPAN, "nitrogen": self.N2},
            parameters={"zero_by": {"value": way, "source": "manual"}},
        )

    def end(self, visit):
        typed(visit, "gas", "span_gas", a="2420", a_after="2500")
        typed(visit, "clear", a="410")
        return visit.until("").outcome.id

    def test_in_outdoor_air_it_is_set_to_what_is_in_the_air(self):
        visit = self.visit("outdoor air")
        typed(visit, "clean_air", a="460", a_other="400", a_after="400")
        self.assertEqual(self.end(visit), "adjusted")

    def test_in_nitrogen_it_is_set_to_nothing(self):
        visit = self.visit("nitrogen")
        typed(visit, "clean_air", a="460")
        typed(visit, "zero_nitrogen", "nitrogen", a="55", a_after="0")
        self.assertEqual(self.end(visit), "adjusted")
        self.assertEqual(visit.job.ledger.readings["zero_apart"][0].content.reading, Decimal(55))

    def test_through_an_absorber_for_five_minutes_with_the_pump_on(self):
        visit = self.visit("absorber")
        typed(visit, "clean_air", a="460")
        visit.until("absorber_on")
        visit.push("put_on", step="absorber_on")
        todo = visit.state().task
        self.assertEqual((todo.step, todo.asks[0].minutes), ("absorber_wait", "5"))
        visit.push("timer_waived", step="absorber_wait", reason="5 min by the watch")
        typed(visit, "zero_absorber", a="55", a_after="0")
        self.assertEqual(visit.state().current_step, "absorber_off")
        self.assertEqual(self.end(visit), "adjusted")

    def test_in_air_it_is_not_set_where_its_zero_is_another_gas(self):
        visit = self.visit("nitrogen")
        visit.until("clean_air")
        self.refused(visit, "set.not_here", "exposed", step="clean_air", a="460", a_after="400")


class TwoSensors(Practice):
    """Each sensor has its gas, its flow and its adapter; the adapter is moved once."""

    def visit(self, **facts):
        return GasVisit("gas_two_channel", asks=True, facts=facts or None)

    def typed(self, visit, suffix, zero, span):
        """One sensor: its zero gas and its span gas, each opened once."""
        name = {"": "a", "_b": "b"}[suffix]
        for gas, shown in (("zero", zero), ("span", span)):
            said = dict(zip((name, f"{name}_after"), shown, strict=False))
            typed(visit, f"on_{gas}{suffix}", f"{gas}_gas{suffix}", **said)

    def test_four_openings_and_two_bumps(self):
        visit = self.visit()
        self.typed(visit, "", ("1", "0"), ("46", "50"))
        visit.until("adapter_off")
        self.typed(visit, "_b", ("2", "0"), ("91", "100"))
        done = visit.until("")
        self.assertEqual((done.status, done.outcome.id), ("signed", "adjusted"))
        openings = [e.data["step"] for e in visit.events if e.kind == "gas_on"]
        bumps = [step for step in openings if step.startswith("as_left")]
        self.assertEqual((len(openings), bumps), (6, ["as_left", "as_left_b"]))

    def test_the_table_says_zero_and_span_of_each_gas_in_its_unit(self):
        visit = self.visit()
        self.typed(visit, "", ("1", "0"), ("46", "50"))
        visit.until("on_zero_b")
        self.typed(visit, "_b", ("2",), ("98",))
        [table] = visit.until("air_left").blocks
        self.assertEqual(
            table.cells,
            (
                ("Methane, %LEL", "1", "0", "50", "46", "50.0", "±5.00"),
                ("Carbon monoxide, ppm", "2", "", "100", "98", "", "±10.00"),
            ),
        )

    def test_what_is_good_takes_four_openings(self):
        visit = self.visit()
        self.assertEqual(visit.until("").outcome.id, "within")
        self.assertEqual(len([e for e in visit.events if e.kind == "gas_on"]), 4)

    def test_the_adapter_is_moved_and_stands_on_one_sensor_at_a_time(self):
        visit = self.visit()
        state = visit.until("on_zero_b")
        self.assertEqual(
            [o.label for o in state.on if o.kind == "adapter"], ["Adapter on the second sensor"]
        )

    def test_each_has_a_zero_gas_and_a_flow_of_its_own(self):
        flows = [{**METHANE, "full_scale_v": "5"}, {**CO, "flow_l_per_min": "0.3"}]
        visit = self.visit(channels=flows)
        visit.until("on_zero_b")
        self.assertEqual(visit.gas.role, "zero_gas_b")
        self.assertEqual(visit.gas.flow, "0.3 L/min")
        visit.push("gas_on", step="on_zero_b", role="zero_gas_b", flow="0.3")

    def test_a_zero_from_a_bottle_where_little_is_around_and_none_where_much_is(self):
        for shown, allowed in (("5", True), ("12", False)):
            with self.subTest(shown=shown):
                visit = self.visit()
                visit.until("air_found")
                visit.push(
                    "reading_taken",
                    run="air_found",
                    point=0,
                    applied="0",
                    digital=shown,
                    reading=str(4 + Decimal(shown) * Decimal("0.16")),
                    kept=True,
                )
                visit.until("on_zero")
                visit.push("gas_on", step="on_zero", role="zero_gas", flow="0.5")
                push = dict(step="on_zero", a="-1", a_after="0", kept=True)
                if allowed:
                    visit.push("exposed", **push)
                else:
                    self.refused(visit, "set.refused", "exposed", **push)

    def test_one_that_is_slow_is_outside_though_it_reads_right(self):
        visit = self.visit()
        typed(visit, "on_zero", "zero_gas", a="0")
        typed(visit, "on_span", "span_gas", a="50", a_t90="60")
        self.assertEqual(visit.job.figures("as_found").mark, "outside")

    def test_a_new_sensor_is_read_under_its_adapter_again(self):
        visit = self.visit()
        self.typed(visit, "", ("0",), ("50",))
        visit.until("on_zero_b")
        self.typed(visit, "_b", ("0",), ("20",))
        visit.until("judge")
        visit.push("decided", step="judge", choice="replace", reason="spent")
        state = visit.until("adapter")
        self.assertEqual([o.kind for o in state.on], ["bypass"])
        self.typed(visit, "", ("0",), ("50",))
        visit.until("on_zero_b")
        self.typed(visit, "_b", ("1", "0"), ("88", "100"))
        self.assertEqual(visit.until("as_left_b").status, "open")
