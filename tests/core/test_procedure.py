"""A job as a fold over its events."""

from dataclasses import replace
from datetime import timedelta

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from calibration.engine.admission.retracting import retractable
from calibration.engine.job.events import make_event
from calibration.engine.job.fold import history, to_close
from calibration.engine.job.ledger import build
from calibration.engine.job.sealing import seal
from calibration.engine.judging.explain import explain
from calibration.kernel.codec import encode
from calibration.kernel.errors import InputError
from tests.core.asking import adjustment, every_step
from tests.core.play import METHOD, START, Play, asset


class Whole(SimpleTestCase):
    def test_a_job_from_plan_to_signature(self):
        play = Play(output_zero_percent=0.48, output_span_percent=0.86).prepare().run("as_found")
        found = play.state()
        self.assertEqual(found.as_found.mark, "outside")
        self.assertEqual(found.judgement.hop, "output")
        self.assertIn("trim the output", found.judgement.advice)
        self.assertEqual({c.label for c in found.judgement.causes}, {"Zero shift", "Span error"})
        advised = [c.id for c in found.judgement.choices if c.recommended]
        self.assertEqual(advised, ["adjust"])
        play.push("decided", step="judge", choice="adjust")
        self.assertIn("meter reads 4.000 mA", adjustment(play).target)
        play.adjust().run("as_left")
        self.assertEqual(play.state().as_left.mark, "within")
        play.give_back()
        done = play.state()
        self.assertEqual((done.status, done.signed_by, done.to_close), ("signed", "Ana", ()))
        self.assertEqual(done.on, ())

    def test_each_hop_gets_its_own_remedy_and_comes_right(self):
        for faults, hop, words in (
            ({"sensor_zero_percent": 0.9}, "sensor", "trim the sensor"),
            ({"output_span_percent": 0.9}, "output", "trim the output"),
            ({"receiver_span_percent": 4.0}, "receiver", "scaling of the receiver"),
        ):
            play = Play(**faults).prepare().run("as_found")
            self.assertIn(words, play.state().judgement.advice, faults)
            play.push("decided", step="judge", choice="adjust")
            self.assertEqual(adjustment(play).hop, hop)
            play.adjust().run("as_left")
            self.assertEqual(play.state().as_left.mark, "within", faults)

    def test_a_good_instrument_is_left_alone(self):
        play = Play().prepare().run("as_found")
        state = play.state()
        self.assertEqual([c.id for c in state.judgement.choices if c.recommended], ["leave"])
        with self.assertRaises(InputError) as caught:
            play.push("decided", step="judge", choice="adjust")
        self.assertEqual(caught.exception.code, "reason.missing")
        play.push("decided", step="judge", choice="leave")
        play.give_back()
        self.assertEqual(play.state().status, "signed")

    def test_within_but_past_the_adjust_limit_says_so(self):
        play = Play(output_zero_percent=0.42).prepare().run("as_found")
        state = play.state()
        self.assertEqual(state.as_found.mark, "near")
        self.assertIn("past the adjust limit of 70 %", state.judgement.text)
        self.assertEqual([c.id for c in state.judgement.choices if c.recommended], ["adjust"])

    def test_the_other_school_trims_always(self):
        school = {"school": {"value": "always", "source": "site rule"}}
        play = Play(parameters=school).prepare().run("as_found")
        self.assertEqual(
            [c.id for c in play.state().judgement.choices if c.recommended], ["adjust"]
        )

    def test_hysteresis_is_not_adjusted_away(self):
        play = Play(hysteresis_percent=1.5).prepare().run("as_found")
        state = play.state()
        self.assertEqual(state.judgement.causes[0].cause, "hysteresis")
        self.assertEqual([c.id for c in state.judgement.choices if c.recommended], ["stop"])
        play.push("decided", step="judge", choice="stop", reason="to be replaced")
        play.give_back()
        self.assertEqual(play.state().status, "signed")

    def test_an_as_left_run_that_fails_leads_back_to_adjusting(self):
        play = Play(output_span_percent=2.0).prepare().run("as_found")
        play.push("decided", step="judge", choice="adjust")
        values = play.see("0")
        play.push("adjusted", hop="output", end="zero", action="trim", **values)
        play.push("decided", step="adjust", choice="enough", reason="device refuses")
        play.run("as_left")
        self.assertEqual(play.state().current_step, "left_judge")
        play.push("decided", step="left_judge", choice="adjust")
        self.assertEqual(play.state().current_step, "adjust")
        self.assertEqual(play.state().as_left.taken, 0)
        play.adjust().run("as_left").give_back()
        self.assertEqual(play.state().as_left.mark, "within")

    def test_a_guarded_rule_keeps_clear_of_the_limit(self):
        rule = {"decision_rule": {"value": "guarded", "source": "site rule"}}
        loose = {"adjust_share": {"value": "100", "source": "site rule"}}
        for parameters, mark in ((loose, "within"), ({**rule, **loose}, "near")):
            play = Play(parameters=parameters, output_zero_percent=0.47, noise_percent=0.0)
            self.assertEqual(play.prepare().run("as_found").state().as_found.mark, mark)


class Timers(SimpleTestCase):
    def test_a_wait_runs_out_by_the_clock_alone(self):
        play = Play().prepare(warm=False)
        play.push("timer_started", step="warm_up")
        started = play.events[-1].when
        running = play.state(now=started + timedelta(minutes=14, seconds=59))
        self.assertEqual((running.current_step, len(running.timers)), ("warm_up", 1))
        over = play.state(now=started + timedelta(minutes=15))
        self.assertEqual((over.current_step, over.timers), ("as_found", ()))


class Refused(SimpleTestCase):
    def refused(self, play, code, kind, /, **data):
        with self.assertRaises(InputError) as caught:
            play.push(kind, **data)
        self.assertEqual(caught.exception.code, code)
        self.assertTrue(caught.exception.field and caught.exception.message)
        self.assertTrue(caught.exception.remedy)
        return caught.exception

    def test_order_and_unknown_things(self):
        play = Play()
        self.refused(play, "step.unknown", "confirmed", step="dance", item="x")
        self.refused(play, "step.wrong_kind", "confirmed", step="kit", item="x")
        said = self.refused(play, "step.blocked", "put_on", step="connect")
        self.assertIn("Choose the references", said.remedy)
        self.refused(play, "event.unknown_kind", "teleported")
        self.refused(play, "field.missing", "confirmed", step="isolate")
        play.prepare()
        self.refused(play, "step.unknown_item", "confirmed", step="isolate", item="x")
        self.refused(play, "step.unknown_field", "recorded", step="ambient", field="x", value="1")
        self.refused(play, "value.missing", "recorded", step="ambient", field="humidity", value=" ")
        self.refused(
            play, "number.not_a_number", "recorded", step="ambient", field="humidity", value="wet"
        )
        self.refused(play, "step.not_needed", "adjusted", hop="output", end="zero",
                     action="trim", applied="0", reading="4")  # fmt: skip
        self.refused(play, "note.empty", "noted", text="  ")
        self.refused(play, "text.too_long", "noted", text="x" * 4001)

    def test_references(self):
        play = Play()
        choose = {"role": "pressure_reference"}
        self.refused(
            play, "reference.expired", "kit_chosen", asset=asset(due="2026-05-03"), **choose
        )
        self.refused(
            play, "reference.withdrawn", "kit_chosen", asset=asset(withdrawn="reads high"), **choose
        )
        poor = asset(percent="0.5")
        said = self.refused(play, "reference.not_adequate", "kit_chosen", asset=poor, **choose)
        self.assertIn("below 4 to 1", said.message)
        small = asset()
        small["spec"] = {**small["spec"], "full_scale": "1000"}
        self.refused(play, "reference.range", "kit_chosen", asset=small, **choose)
        self.refused(
            play, "reference.wrong_quantity", "kit_chosen", asset=asset("M", "current"), **choose
        )
        self.refused(play, "kit.unknown_role", "kit_chosen", role="thermometer", asset=asset())
        play.push("kit_chosen", asset=poor, reason="no other on site", **choose)
        self.assertIn("no other on site", every_step(play)[0].roles[0].warning)
        # The day of the due date itself still counts.
        play.push("kit_chosen", asset=asset(due="2026-05-04"), **choose)

    def test_a_wrong_serial_stops_the_job_until_it_is_settled(self):
        play = Play()
        play.push("kit_chosen", role="pressure_reference", asset=asset())
        play.push("kit_chosen", role="milliampere_meter", asset=asset("M", "current", "0.01"))
        play.push("recorded", step="operator", field="operator", value="Jo")
        play.push("put_on", step="bypass")
        for item in ("closed", "vented", "zero"):
            play.push("confirmed", step="isolate", item=item)
        play.push("recorded", step="identity", field="serial", value="S-78")
        step = next(s for s in every_step(play) if s.id == "identity")
        self.assertEqual(step.status, "now")
        self.assertIn("S-77", step.fields[0].question)
        self.refused(play, "reason.missing", "decided", step="identity", choice="accept")
        play.push("decided", step="identity", choice="accept", reason="device replaced")
        self.assertEqual(play.state().current_step, "settings")

    def test_slips_are_asked_about_and_can_be_kept(self):
        play = Play().prepare()
        base = {"run": "as_found", "point": 2, "applied": "2000.1"}
        said = self.refused(play, "slip.suspected", "reading_taken", reading="1.204", **base)
        self.assertEqual((said.field, said.suggestion), ("data.reading", "12.04"))
        swapped = {**base, "applied": "12.01", "reading": "2000.1"}
        self.refused(play, "slip.suspected", "reading_taken", **swapped)
        play.push("reading_taken", reading="1.204", kept=True, **base)
        self.assertEqual(play.state().as_found.points[2].reading, "1.204")

    def test_readings_that_cannot_be(self):
        play = Play().prepare()
        reading = {"run": "as_found", "applied": "0", "reading": "4"}
        self.refused(play, "reading.unknown_point", "reading_taken", point=9, **reading)
        self.refused(play, "reading.unknown_point", "reading_taken", point=-1, **reading)
        left = {**reading, "run": "as_left"}
        self.refused(play, "step.not_needed", "reading_taken", point=0, **left)

    def test_it_cannot_be_closed_while_something_is_on(self):
        play = Play().prepare().run("as_found")
        play.push("decided", step="judge", choice="leave")
        said = self.refused(play, "job.not_ready", "signed", name="Ana", statement="x")
        self.assertIn("Loop in manual or bypass is still on", said.message)
        self.assertIn("Reference connected is still on", said.message)
        self.assertEqual(len([t for t in to_close(play.job()) if "still on" in t]), 2)

    def test_after_the_signature_only_a_review_by_somebody_else(self):
        play = Play().prepare().run("as_found")
        play.push("decided", step="judge", choice="leave")
        play.give_back()
        self.refused(play, "job.signed", "noted", text="late")
        first = play.events[3].id
        self.refused(play, "job.signed", "retracted", event=first, reason="x")
        self.refused(play, "review.own_work", "reviewed", name="Ana", outcome="accepted")
        play.push("reviewed", by="Rea", name="Rea", outcome="accepted")
        self.assertEqual(play.state().review, "accepted by Rea")

    def test_what_may_not_be_taken_back(self):
        play = Play(output_span_percent=0.9).prepare().run("as_found")
        reading = play.events[-1].id
        self.refused(play, "reason.missing", "retracted", event=reading, reason=" ")
        self.refused(play, "retract.unknown", "retracted", event="nowhere", reason="x")
        bypass = next(e for e in play.events if e.kind == "put_on").id
        self.refused(play, "retract.refused", "retracted", event=bypass, reason="x")
        play.push("decided", step="judge", choice="adjust")
        play.adjust()
        said = self.refused(play, "retract.refused", "retracted", event=reading, reason="x")
        self.assertIn("adjusted since", said.message)


def comparable(state):
    """Return a state without what a retraction itself adds: its number and the undo pointer."""
    return encode(replace(state, seq=0, last_undoable=""))


class Properties(SimpleTestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.play = Play(output_zero_percent=0.6).prepare().run("as_found", points=6)
        cls.play.push("noted", text="windy")
        cls.expected = cls.play.state()

    @settings(max_examples=40, deadline=None)
    @given(st.randoms(use_true_random=False))
    def test_order_of_arrival_does_not_matter(self, random):
        mixed = list(self.play.events)
        random.shuffle(mixed)
        self.assertEqual(self.play.state(mixed), self.expected)

    @settings(max_examples=40, deadline=None)
    @given(st.lists(st.integers(0, 20), max_size=12))
    def test_the_same_event_twice_is_one_event(self, again):
        events = self.play.events + [self.play.events[i] for i in again]
        self.assertEqual(self.play.state(events), self.expected)

    @settings(max_examples=40, deadline=None)
    @given(st.data())
    def test_a_retracted_event_is_as_if_it_had_not_been(self, data):
        ledger = build(METHOD, self.play.events)
        able = [e for e in self.play.events if not retractable(ledger, e)]
        gone = data.draw(st.sampled_from(able))
        taken_back = make_event(
            id="back",
            seq=len(self.play.events) + 1,
            kind="retracted",
            at=self.play.now.isoformat(),
            by="Ana",
            role="technician",
            source="typed",
            data={"event": gone.id, "reason": "test"},
        )
        with_it = self.play.state([*self.play.events, taken_back])
        without = self.play.state([e for e in self.play.events if e.id != gone.id])
        self.assertEqual(comparable(with_it), comparable(without))
        lines = history(build(METHOD, [*self.play.events, taken_back]), self.play.events)
        self.assertEqual([x.id for x in lines if x.retracted], [gone.id])

    def test_a_job_needs_its_opening(self):
        with self.assertRaises(InputError):
            self.play.state(self.play.events[1:])

    def test_the_seal_depends_on_every_byte_and_on_what_was_before(self):
        seals = {seal("", "a"), seal("", "b"), seal("x", "a"), seal("x", "b")}
        self.assertEqual(len(seals), 4)
        self.assertTrue(all(len(s) == 64 for s in seals))

    def test_an_event_needs_a_time_with_its_zone(self):
        for at in ("yesterday", START.replace(tzinfo=None).isoformat()):
            with self.assertRaises(InputError):
                make_event(id="1", seq=1, kind="noted", at=at, by="A", role="t", source="typed",
                           data={"text": "x"})  # fmt: skip


class Explained(SimpleTestCase):
    def test_every_figure_of_a_point_and_a_run_opens(self):
        play = Play(output_zero_percent=0.48).prepare().run("as_found")
        job = play.job()
        point = "as_found.points.3."
        names = [point + n for n in ("error", "ideal", "chance", "digital", "output", "whole")]
        names += [c.figure for c in play.state().as_found.characteristics]
        names += [s.figure for s in play.state().as_found.stations]
        for name in names:
            said = explain(job, name)
            self.assertTrue(said.formula and said.worked and said.source and said.result, name)
        for name in ("", "as_found.points.99.error", "as_left.points.0.error", "as_found.x.y"):
            with self.assertRaises(InputError):
                explain(job, name)

    def test_the_worked_line_holds_the_numbers(self):
        play = Play().prepare()
        play.push("reading_taken", run="as_found", point=0, applied="0", reading="4.00")
        said = explain(play.job(), "as_found.points.0.error")
        self.assertIn("100 × (4.00 − 4.0000) / (20 − 4)", said.worked)
        self.assertIn("±0.5 % of span is 0.0800 mA", said.limit)
        self.assertEqual(play.state().as_found.points[0].reading, "4.00")
