"""Several components on one mixture: roles, windows, order, refusals, causes, papers."""

from __future__ import annotations

import math
from dataclasses import replace
from decimal import Decimal

from django.test import SimpleTestCase

from calibration.engine.job.fold import history
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.engine.papers.certificate import certificate
from calibration.families.mixture.model import live
from calibration.families.mixture.naming import Evidence, One, asks, causes_of
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact
from calibration.simulate.commands import Command
from tests.core import planted_mixture
from tests.core.asking import every_step
from tests.core.mixtures import COMPONENTS, MIXED, MixVisit, facts, gas
from tests.long import DOCS, LONG


def of(visit):
    return Job(build(visit.method, visit.events), visit.now)


class Mixed(SimpleTestCase):
    def refused(self, visit, code, kind, **data):
        with self.assertRaises(InputError) as caught:
            visit.push(kind, **data)
        self.assertEqual(caught.exception.code, code)
        self.assertTrue(caught.exception.remedy)
        return caught.exception

    def rows(self, visit):
        table = next(b for b in visit.state().blocks if b.title == "Every component")
        return {(row[0], row[1]): row[2:5] for row in table.cells}


class Whole(Mixed):
    def test_a_sound_one_is_left_as_it_is(self):
        visit = MixVisit(asks=True)
        state = visit.until("")
        self.assertEqual((state.status, state.outcome.id), ("signed", "within"))
        self.assertEqual(len(self.rows(visit)), 6)
        opened = [e for e in visit.events if e.kind == "put_on" and e.data["step"] != "bypass"]
        self.assertEqual(len(opened), 2, "each gas is opened once")

    def test_a_drifted_cell_is_set_looked_at_and_zeroed_again(self):
        visit = MixVisit(asks=True).cell(1, gain=0.97)
        state = visit.until("")
        self.assertEqual(state.outcome.id, "adjusted")
        found = self.rows(visit)["Carbon monoxide", "mixture"]
        self.assertEqual(found, ("4", "3.88", "4.00"))
        self.assertEqual(self.rows(visit)["Carbon dioxide", "mixture"][2], "")
        titles = [s.title for s in every_step(visit) if s.status == "done"]
        for title in ("Look at all of it again", "Let it work for a while", "Zero again"):
            self.assertIn(title, titles)

    def test_a_zero_that_was_set_first_is_added_back(self):
        """Zero +0.15 set to 0, then 3.90 in the mixture: as found it was 4.05, within ±0.10."""
        visit = MixVisit()
        visit.until("in_zero")
        visit.push("mixed", step="in_zero", a="0.1", b="0.15", b_after="0.00", c="0.0")
        visit.until("in_span")
        visit.push("mixed", step="in_span", a="40.0", b="3.90", c="8.0")
        with exact():
            figures = of(visit).figures("as_found_b")
        self.assertEqual(figures.marks[0], "outside")
        self.assertNotEqual(figures.marks[1], "outside")
        visit = MixVisit()
        visit.until("in_zero")
        visit.push("mixed", step="in_zero", a="0.1", b="-0.09", b_after="0.00", c="0.0")
        visit.until("in_span")
        visit.push("mixed", step="in_span", a="40.0", b="3.97", c="8.0")
        with exact():
            figures = of(visit).figures("as_found_b")
        self.assertEqual(figures.marks, ("near", "outside"), "3.97 − 0.09 is 3.88")

    def test_far_off_it_is_told_before_it_is_set(self):
        visit = MixVisit(asks=True).cell(1, gain=1.08)
        state = visit.until("tell_apart")
        fields = [
            f.label for f in next(s for s in every_step(visit) if s.id == "tell_apart").fields
        ]
        self.assertEqual(fields, ["Carbon monoxide in another mixture, in % of its value"])
        state = visit.until("judge")
        self.assertEqual([c.label for c in state.judgement.causes], ["Span moved"])
        state = visit.until("")
        self.assertEqual(state.outcome.id, "adjusted")


class RoomAir(Mixed):
    """Air of the room as zero gas, 20.9, without paper: what it holds is asked before it is set."""

    AIR = ({"gas": "oxygen", "value": "20.9", "unit": "% vol", "uncertainty_percent": "1"},)

    def in_air(self, certificate=""):
        visit = MixVisit(zero_parts=self.AIR, mixed=MIXED[:2], asks=True)
        own = visit.person.assets
        own["mixture_zero"] = {**own["mixture_zero"], "certificate": certificate}
        visit.until("in_zero")
        return visit

    def read(self, visit, oxygen, **more):
        visit.push("mixed", step="in_zero", a="0", b="0", c=oxygen, kept=True, **more)
        visit.until("in_span")
        visit.push("mixed", step="in_span", a="40", b="4", c="0", kept=True)

    def test_it_is_not_set_while_the_air_may_be_poor(self):
        said = self.refused(
            self.in_air(), "set.refused", "mixed", step="in_zero", a="0", b="0", c="18.6",
            c_after="20.9",
        )  # fmt: skip
        self.assertIn("may be poor or rich", said.message)

    def test_near_what_good_air_holds_it_is_set(self):
        for value in ("20.4", "20.6", "21.4"):
            self.in_air().push(
                "mixed", step="in_zero", a="0", b="0", c=value, c_after="20.9", kept=True
            )

    def test_bottled_air_with_a_paper_is_its_own_proof(self):
        self.in_air("C-77").push(
            "mixed", step="in_zero", a="0", b="0", c="18.6", c_after="20.9", kept=True
        )

    def test_another_instrument_in_the_same_air_tells(self):
        for beside, names in (("20.9", ["Span moved"]), ("18.7", ["The air is poor or rich"])):
            with self.subTest(beside=beside):
                visit = self.in_air()
                self.read(visit, "18.6")
                state = visit.state()
                self.assertEqual(state.current_step, "tell_apart")
                fields = [f.id for s in every_step(visit) if s.id == "tell_apart" for f in s.fields]
                self.assertEqual(fields, ["air_beside"])
                visit.push("recorded", step="tell_apart", field="air_beside", value=beside)
                visit.until("judge")
                causes = [c.label for c in visit.state().judgement.causes]
                self.assertTrue(causes[0].startswith(names[0]), causes)
                self.assertEqual(len(causes), 1)


class Roles(Mixed):
    def test_zero_gas_that_is_air_is_the_span_of_oxygen(self):
        air = ({"gas": "oxygen", "value": "20.95", "unit": "% vol", "uncertainty_percent": "0.2"},)
        visit = MixVisit(zero_parts=air, mixed=MIXED[:2])
        state = visit.until("in_zero")
        labels = {c.id: c.label for c in state.task.asks[0].values}
        self.assertEqual(labels["a_after"], "Set to 0")
        self.assertEqual(labels["c_after"], "Set to 20.95")
        state = visit.until("in_span")
        self.assertEqual({c.id: c.label for c in state.task.asks[0].values}["c_after"], "Set to 0")

    def test_what_the_mixture_lacks_is_said_and_not_set(self):
        visit = MixVisit(mixed=MIXED[:2])
        state = visit.until("in_span")
        said = {r.label: r.value for r in state.task.asks[0].blocks[0].rows}
        self.assertEqual(said["Oxygen"], "not set: no oxygen in this mixture")
        wrong = self.refused(
            visit, "set.refused", "mixed", step="in_span", a="40", b="4", c="0.1", c_after="0"
        )
        self.assertEqual(wrong.field, "data.c_after")

    def test_outside_its_window_it_is_refused_with_the_reason(self):
        weak = (MIXED[0], {**MIXED[1], "value": "0.5"}, MIXED[2])
        visit = MixVisit(mixed=weak)
        said = self.refused(
            visit, "reference.not_adequate", "kit_chosen", role="mixture", asset=gas("C-6", weak)
        )
        self.assertIn("10 % of its range; it is set from 50 to 100 %", said.message)
        state = visit.until("in_span")
        self.assertNotIn("b_after", [c.id for c in state.task.asks[0].values])

    def test_a_mixture_past_the_range_or_with_nothing_in_it(self):
        strong = ({**MIXED[0], "value": "60"}, *MIXED[1:])
        other = ({**MIXED[0], "gas": "methane"},)
        for parts, code in ((strong, "mixture.past_range"), (other, "mixture.nothing_in_it")):
            self.refused(MixVisit(), code, "kit_chosen", role="mixture", asset=gas("C-6", parts))

    def test_two_ranges_are_two_rows_with_limits_of_their_own(self):
        low = {
            **COMPONENTS[1],
            "id": "d",
            "label": "Carbon monoxide, low",
            "upper": "8",
            "limit_percent": "1",
            "set_from": "10",
        }
        visit = MixVisit(facts_=facts([*COMPONENTS, low]))
        cells = visit.person.model.cells
        visit.person.model = replace(
            visit.person.model, cells=(*cells, replace(cells[1], id="d", upper=8.0))
        )
        visit.until("")
        limits = {row[0]: row[5] for row in visit.state().blocks[0].cells}
        self.assertEqual(limits["Carbon monoxide"], "±0.10 % vol")
        self.assertEqual(limits["Carbon monoxide, low"], "±0.08 % vol")

    def test_parts_per_million_and_percent_are_one_value(self):
        ppm = (MIXED[0], {**MIXED[1], "value": "40000", "unit": "ppm"}, MIXED[2])
        visit = MixVisit(mixed=ppm, out={p["gas"]: float(p["value"]) for p in MIXED})
        visit.until("")
        self.assertEqual(self.rows(visit)["Carbon monoxide", "mixture"][0], "4")


class Slips(Mixed):
    def test_frozen_figures_are_a_finished_test(self):
        visit = MixVisit(held=True)
        visit.until("in_zero")
        before = of(visit).ledger.recorded
        same = {
            i: before["process_before", f"shown{s}"][0]
            for i, s in zip("abc", ("", "_b", "_c"), strict=True)
        }
        said = self.refused(visit, "slip.suspected", "mixed", step="in_zero", **same)
        self.assertIn("in hold", said.message)

    def test_a_zero_gas_of_too_low_a_grade_takes_a_reason(self):
        # By hand: 2 % of 50 % vol is 1 % vol; more than a tenth of it would be seen as zero.
        for value, doubted in (("0.2", True), ("0.05", False)):
            left = {"gas": "carbon dioxide", "value": value, "unit": "% vol"}
            zero = {**gas("N-6", ()), "parts": [left]}
            visit = MixVisit(zero_parts=[left])
            chosen = {"role": "zero_gas", "asset": zero}
            if doubted:
                said = self.refused(visit, "reference.not_adequate", "kit_chosen", **chosen)
                self.assertIn("Carbon dioxide 0.2 % vol in it would be taken", said.message)
            visit.push("kit_chosen", **chosen, reason="no better one is here" if doubted else "")

    def test_setting_what_all_cells_share_is_asked_about(self):
        visit = MixVisit(drawn_in=0.06)
        visit.until("in_span")
        said = self.refused(
            visit,
            "slip.suspected",
            "mixed",
            step="in_span",
            a="37.6",
            a_after="40.0",
            b="3.76",
            c="8.78",
        )
        self.assertIn("air drawn into the mixture", said.message)
        visit.push("mixed", step="in_span", a="37.6", b="3.76", c="8.78")

    def test_every_component_is_read(self):
        visit = MixVisit()
        visit.until("in_zero")
        said = self.refused(visit, "value.missing", "mixed", step="in_zero", a="0", b="0")
        self.assertEqual(said.field, "data.c")
        self.refused(visit, "field.unknown", "mixed", step="in_zero", a="0", b="0", c="0", d="1")
        self.refused(visit, "mixture.not_due", "mixed", step="in_span", a="0", b="0", c="0")

    def test_an_automatic_zero_in_between_is_asked_about(self):
        visit = MixVisit(facts_=facts(auto_zero_minutes="120"))
        visit.until("next_zero")
        visit.push("recorded", step="next_zero", field="minutes_to_zero", value="6")
        field = next(s for s in every_step(visit) if s.id == "next_zero").fields[0]
        self.assertIn("in the middle of the reading", field.question)


class Causes(Mixed):
    def test_air_that_is_drawn_in_by_hand(self):
        """Six parts of a hundred are air: 40 → 37.6, 4 → 3.76, 8 → 7.52 + 1.257 = 8.78 % vol."""
        visit = MixVisit(drawn_in=0.06, noise_percent=0.0)
        on = [Command(t=0.0, kind="tell", setting="span", mix=visit.person.bottles["mixture"])]
        seen = [
            float(live(replace(visit.person.model, shown=n), on, 900.0, 1).digital)
            for n in range(3)
        ]
        for found, wanted in zip(seen, (37.6, 3.76, 8.78), strict=True):
            self.assertAlmostEqual(found, wanted, delta=0.051)
        visit.until("judge")
        self.assertEqual(
            [c.label for c in visit.state().judgement.causes], ["Air drawn into the mixture"]
        )

    def test_pressure_moves_the_infrared_cells_alone(self):
        visit = MixVisit(asks=True, pressure_hpa=50.0)
        state = visit.until("judge")
        self.assertEqual([c.label for c in state.judgement.causes], ["Pressure in the cells"])
        self.assertEqual(next(c for c in state.judgement.choices if c.recommended).id, "repeat")

    def of_cells(self, *shows, oxygen=None, apart=()):
        parts = [
            One(
                id=i,
                label=i,
                oxygen=False,
                infrared=True,
                range=r,
                limit=0.02 * r,
                zero_error=0.0,
                value=v,
                shows=s,
                scatter=0.002 * r,
            )
            for i, r, v, s in zip("ab", (50.0, 5.0), (40.0, 4.0), shows, strict=True)
        ]
        if oxygen is not None:
            parts.append(
                One(
                    id="c",
                    label="c",
                    oxygen=True,
                    infrared=False,
                    range=25.0,
                    limit=0.5,
                    zero_error=0.0,
                    value=8.0,
                    shows=oxygen,
                    scatter=0.05,
                )
            )
        return Evidence(parts=tuple(parts), apart=dict(apart))

    def test_without_oxygen_the_overflow_tells(self):
        open_ = self.of_cells(37.6, 3.76)
        self.assertEqual(asks(open_), "overflow")
        self.assertEqual(
            [c.cause for c in causes_of(open_)["a"]], ["air_drawn_in", "cell_pressure"]
        )
        for told, name in ((39.9, "air_drawn_in"), (37.6, "cell_pressure")):
            found = causes_of(self.of_cells(37.6, 3.76, apart={"with_overflow": told}.items()))
            self.assertEqual([c.cause for c in found["a"]], [name])
        found = causes_of(self.of_cells(37.6, 3.76, oxygen=7.6))
        self.assertEqual([c.cause for c in found["a"]], ["cell_pressure"])

    def test_one_cell_alone_is_its_own(self):
        found = causes_of(self.of_cells(40.0, 4.15, oxygen=8.0))
        self.assertEqual(
            {k: [c.cause for c in v] for k, v in found.items()}, {"b": ["mix_span_moved"]}
        )


class Papers(Mixed):
    def test_every_component_in_both_gases_stands_on_it(self):
        visit = MixVisit().cell(1, gain=0.97)
        visit.until("")
        job = of(visit)
        with exact():
            paper = certificate(job, visit.state(), "")
        tables = {t["title"]: t for t in paper["tables"]}
        self.assertEqual(len(tables["Every component"]["rows"]), 6)
        self.assertEqual(
            tables["What one does to another"]["rows"],
            [["Carbon dioxide", "Carbon monoxide", "+0.040 % vol"]],
        )
        runs = [r["title"] for r in paper["extra_runs"]]
        self.assertIn("As left, carbon monoxide", runs)
        said = [line.text for line in history(job.ledger, visit.events)]
        self.assertTrue(any("carbon monoxide 3.88, set to 4.00 % vol" in line for line in said))

    def test_each_part_has_its_own_uncertainty_by_hand(self):
        """4 of 5 %: (80 × 2 % / 2)² + ((80 × 0.5 %)² + 0.2²)/3, in % of range."""
        visit = MixVisit()
        visit.until("span_off")
        with exact():
            found = of(visit).figures("as_found_b").budgets[1]
        u = math.sqrt(0.8**2 + (0.4**2 + 0.2**2) / 3)
        self.assertAlmostEqual(found.standard_uncertainty, u, 2)


class Planted(SimpleTestCase):
    """At n = 200 the aims are held in docs/methods/mixture-faults.md; here the rows."""

    def test_planted_faults_are_named(self):
        found, wrong, good = planted_mixture.count()
        text = planted_mixture.as_text(found, wrong, good)
        self.assertEqual(text, planted_mixture.TABLE.read_text(), "run make tables")
        for name, names in found.items():
            with self.subTest(name):
                right = names["named"] + names["between two"]
                least = 0.95 if LONG else 0.85
                self.assertGreaterEqual(right / planted_mixture.beyond_of(names), least)
        self.assertLessEqual(wrong / good, 0.02)

    def test_the_published_table_holds_the_aims(self):
        """Named first or left between two in 95 %; the wrong remedy first in less than 1 %."""
        text = (DOCS / "mixture-faults.md").read_text()
        rows = [r.split("|") for r in text.splitlines() if r.startswith("| ") and "%" in r]
        self.assertEqual(len(rows), len(planted_mixture.FAULTS))
        for row in rows:
            named, between = (float(Decimal(c.replace("%", "").strip())) for c in row[4:6])
            self.assertGreaterEqual(named + between, 95.0, row[1])
        wrong = text.split("Wrong remedy first: ")[1].split("(")[1].split(" %")[0]
        self.assertLess(float(wrong), 1.0)
