"""What every family's record must hold, those to come included: ids, runs, steps, parameters."""

from dataclasses import replace

from django.test import SimpleTestCase

import calibration.families  # noqa: F401  # registers them
from calibration.engine.job import parameters
from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.method.family import (
    FAMILIES,
    Family,
    kind_of,
    newest_methods,
    register,
)
from calibration.engine.method.method import STAGES
from calibration.kernel.codec import decode, encode
from calibration.operations import OPERATIONS
from tests.core import detectors, electrodes, families

ORDER = [stage for stage, _ in STAGES]
ENGINE_STEPS = {
    "kit",
    "put_on",
    "take_off",
    "checklist",
    "record",
    "timer",
    "capture",
    "decide",
    "adjust",
    "set",
    "sign",
    "lock_on",
    "lock_off",
}


def unique(ids):
    ids = list(ids)
    return len(ids) == len(set(ids))


class Entries(SimpleTestCase):
    def test_families_on_one_base_share_an_entry_and_no_other_takes_its_name(self):
        (kept,) = {id(f.events["adjusted"]) for f in FAMILIES.values() if "adjusted" in f.events}
        shared = FAMILIES["pressure"].events["adjusted"]
        self.assertEqual(id(shared), kept)
        for taken in ({"adjusted": replace(shared, sets="")}, {"recorded": shared}):
            stranger = Family(id="stranger", methods=(), fits=(), events=taken)
            with self.assertRaises(ValueError):
                register(stranger)
        self.assertNotIn("stranger", FAMILIES)


class EveryMethod(SimpleTestCase):
    def each(self):
        return [(family, m) for family in FAMILIES.values() for m in family.methods]

    def test_ids_are_unique_and_are_no_words_for_people(self):
        self.assertTrue(unique(m.id for m in newest_methods()))
        for _, method in self.each():
            self.assertTrue(unique(s.id for s in method.steps))
            self.assertTrue(unique(r.id for r in method.runs))
            self.assertTrue(unique(p.id for p in method.parameters))
            for one in (*method.steps, *method.runs, *method.parameters):
                self.assertRegex(one.id, r"^[a-z][a-z0-9_]*$")
            for step in method.steps:
                for parts in (step.items, step.fields, step.roles, step.sets):
                    self.assertTrue(unique(part.id for part in parts), step.id)

    def test_a_job_begins_with_its_plan_and_ends_with_its_signature(self):
        for _, method in self.each():
            self.assertEqual(method.steps[0].stage, ORDER[0])
            self.assertLessEqual({s.stage for s in method.steps}, set(ORDER))
            self.assertEqual([s.kind for s in method.steps].count("sign"), 1)
            self.assertEqual(method.steps[-1].kind, "sign")

    def test_every_kind_of_step_is_known(self):
        for family, method in self.each():
            for step in method.steps:
                self.assertIn(step.kind, ENGINE_STEPS | set(family.steps), step.id)

    def test_what_is_put_on_is_taken_off_again(self):
        for _, method in self.each():
            on = [s.id for s in method.steps if s.kind == "put_on"]
            ended = [s.ends for s in method.steps if s.kind == "take_off"]
            self.assertEqual(set(ended) - set(on), set())
            for step in on:
                self.assertIn(step, ended, "nothing ends it")

    def test_runs_are_read_somewhere_and_judged(self):
        for family, method in self.each():
            read = {s.run for s in method.steps if s.kind == "capture"}
            for step in method.steps:
                if step.kind in family.steps:
                    read |= set(family.steps[step.kind].reads(step))
            unread = [r for r in method.runs if r.id not in read]
            # A sensor is replaced, not adjusted: its method has a proof that is never taken.
            if method.sets:
                self.assertEqual(unread, [], method.id)
            self.assertLessEqual({r.role for r in unread}, {"left"}, method.id)
            for spec in method.runs:
                self.assertEqual(kind_of(family, spec).id, spec.kind)
            for step in method.steps:
                if step.kind == "decide":
                    self.assertTrue(step.run in read or step.judges)

    def test_parameters_have_a_default_that_is_allowed(self):
        for _, method in self.each():
            for spec in method.parameters:
                parameters.check(spec, spec.default)
                if spec.kind == "number":
                    self.assertLessEqual(float(spec.least), float(spec.most), spec.id)
            known = {p.id for p in method.parameters}
            for step in method.steps:
                if step.minutes:
                    self.assertIn(step.minutes, known)
                for field in step.fields:
                    if field.most:
                        self.assertIn(field.most, known)

    def test_what_a_step_computes_is_an_operation(self):
        for _, method in self.each():
            for step in method.steps:
                if step.works_out.operation:
                    self.assertIn(step.works_out.operation, OPERATIONS)
                    fields = {f.id for f in step.fields}
                    self.assertLessEqual({field for field, _ in step.works_out.computed}, fields)

    def test_conditions_say_when_the_step_comes(self):
        for _, method in self.each():
            for step in method.steps:
                if step.only_if is not None and not step.only_if.by_plan:
                    self.assertTrue(step.only_if.words, step.id)

    def test_a_family_claims_its_own_instruments_and_no_other(self):
        """Each instrument of the tests belongs to exactly one family, and a method fits it."""
        examples = {
            **{name: facts for name, (facts, _) in families.FAMILIES.items()},
            **{name: facts for name, (facts, _) in detectors.DETECTORS.items()},
        }
        for name in examples:
            visit = self.visit_of(name)
            facts = visit.events[0].content.instrument
            with self.subTest(instrument=name):
                fitting = [f.id for f in FAMILIES.values() if f.claims(facts) and facts.own]
                self.assertLessEqual(len(fitting), 1)
                self.assertEqual(decode(InstrumentFacts, encode(facts), ""), facts)

    def visit_of(self, name):
        if name in detectors.DETECTORS:
            return detectors.GasVisit(name)
        return families.Visit(name)

    def test_electrodes_belong_to_one_family(self):
        facts = electrodes.PhVisit("ph_buffers").events[0].content.instrument
        self.assertEqual([f.id for f in FAMILIES.values() if f.claims(facts)], ["ph"])
