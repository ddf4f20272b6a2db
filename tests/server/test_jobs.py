"""The one endpoint that writes: batches, repeats, conflicts, refusals."""

import uuid
from unittest import mock

from django.db import OperationalError

from tests.server import works
from tests.server.base import ApiCase
from tests.server.works import event
from verifyloop.work.models import Event, FrozenError, Job


class Writing(ApiCase):
    def test_a_typed_job_from_opening_to_signature(self):
        job = self.open()
        state = self.must(self.send(job, *works.prepared(), *works.readings()))
        self.assertEqual(state["as_found"]["points"][0]["reading"], "4.00")
        self.assertEqual(state["as_found"]["points"][1]["reading"], "8.01")
        self.assertEqual(state["as_found"]["mark"], "within")
        self.must(self.send(job, *works.returned()))
        done = self.must(self.send(job, event("signed"), password=works.PASSWORD))
        self.assertEqual((done["status"], done["signed_by"]), ("signed", "Ana Test"))
        self.instrument.refresh_from_db()
        self.assertEqual(self.instrument.last_mark_found, "within")
        self.assertIn("180 days after", self.instrument.plan.due_reason)

    def test_the_same_uuid_twice_is_one_event_even_with_a_stale_sequence(self):
        job = self.open()
        note = event("noted", text="windy")
        first = self.must(self.send(job, note, seq=1))
        again = self.must(self.send(job, note, seq=1))
        twice = self.must(self.send(job, note, note, seq=1))
        self.assertEqual({first["seq"], again["seq"], twice["seq"]}, {2})
        self.assertEqual(Event.objects.filter(job__number=job).count(), 2)

    def test_two_people_on_one_job_are_told_and_lose_nothing(self):
        job, ben = self.open(), self.client_of("ben")
        self.must(self.send(job, event("noted", text="from Ana"), seq=1))
        refused = self.must(self.send(job, event("noted", text="from Ben"), seq=1, client=ben), 409)
        self.assertEqual((refused["code"], refused["field"]), ("job.changed", "expected_seq"))
        self.assertIn("Ana Test added an entry", refused["message"])
        self.assertIn("kept", refused["remedy"])
        state = self.must(self.send(job, event("noted", text="from Ben"), seq=2, client=ben))
        self.assertEqual(state["notes"], ["from Ana", "from Ben"])

    def test_a_batch_is_stored_whole_or_not_at_all(self):
        job = self.open()
        answer = self.send(job, event("noted", text="good"), event("noted", text=""))
        self.must(answer, 422)
        self.assertEqual(self.state(job)["seq"], 1)

    def test_an_event_of_another_job_is_refused(self):
        works.instrument("PT-2")
        one, two = self.open(), self.open("PT-2")
        note = event("noted", text="x")
        self.must(self.send(one, note))
        self.assertEqual(self.must(self.send(two, note), 422)["code"], "event.elsewhere")

    def test_bad_input_is_a_clear_4xx_that_names_field_and_remedy(self):
        job = self.open()
        self.must(self.send(job, *works.prepared()))
        good = {"run": "as_found", "point": 0, "applied": "0"}
        cases = [
            (event("reading_taken", **good, reading="abc"), "number.not_a_number", "data.reading"),
            (event("reading_taken", **good, reading="NaN"), "number.not_finite", "data.reading"),
            (
                event("reading_taken", **good, reading="1e309"),
                "number.out_of_range",
                "data.reading",
            ),
            (event("reading_taken", **good, reading=""), "number.missing", "data.reading"),
            (event("reading_taken", **good), "field.missing", "data.reading"),
            (event("reading_taken", **good, reading="1,2,3"), "number.ambiguous", "data.reading"),
            (event("noted", text="x" * 2_000_000), "text.too_long", "data"),
            (event("noted", text="a\x00b"), "text.control_characters", "data.text"),
            (event("confirmed", step="dance", item="x"), "step.unknown", "data.step"),
            (event("confirmed", step="isolate", item="x"), "step.unknown_item", "data.item"),
            (event("dance"), "event.unknown_kind", "kind"),
            (event("noted", source="wishful", text="x"), "event.source", "source"),
            (event("opened"), "job.opened_twice", "kind"),
            (
                event("kit_chosen", role="x", asset={"asset": "fake"}),
                "field.wrong_type",
                "data.asset",
            ),
            (event("signed"), "job.not_ready", "kind"),
        ]
        seq = self.state(job)["seq"]
        for sent, code, field in cases:
            with self.subTest(code=code):
                answer = self.send(job, sent, seq=seq, password=works.PASSWORD)
                said = self.must(answer, 422)
                self.assertEqual((said["code"], said["field"]), (code, field))
                self.assertTrue(said["message"] and said["remedy"])
        self.assertEqual(self.state(job)["seq"], seq)
        comma = event("reading_taken", **{**good, "point": 2, "applied": "2000"}, reading="12,04")
        state = self.must(self.send(job, comma))
        self.assertEqual(state["as_found"]["points"][2]["reading"], "12.04")

    def test_shapes_that_are_no_request(self):
        job = self.open()
        for body in (
            "[]",
            "{",
            '{"expected_seq": 1}',
            '{"expected_seq": "x", "events": []}',
            '{"expected_seq": 1, "events": [{"id": "no-uuid", "kind": "noted"}]}',
            '{"expected_seq": 1, "events": 7}',
            f'{{"expected_seq": 1, "events": [{{"id": "{uuid.uuid4()}", "kind": "noted", "data":'
            ' {"text": NaN}}]}',
        ):
            with self.subTest(body=body):
                answer = self.ana.post(
                    f"/api/v1/jobs/{job}/events", body, content_type="application/json"
                )
                self.assertIn(answer.status_code, (400, 422), answer.content)
                self.assertTrue(answer.json()["message"])

    def test_the_clock_of_a_client_may_not_run_ahead(self):
        job = self.open()
        sent = {**event("noted", text="x"), "at": "2199-01-01T00:00:00Z"}
        self.assertEqual(self.must(self.send(job, sent), 422)["code"], "event.time")

    def test_kit_is_taken_from_the_shelf_and_judged(self):
        job = self.open()
        choose = {"role": "pressure_reference"}
        for asset, status, code in (
            ("R-3", 422, "reference.expired"),
            ("R-2", 422, "reference.not_adequate"),
            ("R-9", 404, "reference.unknown"),
        ):
            said = self.must(self.send(job, event("kit_chosen", asset=asset, **choose)), status)
            self.assertEqual(said["code"], code)
        options = self.must(self.ana.get(f"/api/v1/jobs/{job}/kit?quantity=pressure"))
        self.assertEqual([o["asset"] for o in options], ["R-1", "R-2", "R-3"])
        self.assertEqual([o["usable"] for o in options], [True, True, False])
        self.must(self.send(job, event("kit_chosen", asset="R-2", reason="none better", **choose)))

    def test_a_wrong_password_signs_nothing(self):
        job = self.open()
        self.must(self.send(job, *works.prepared(), *works.readings(), *works.returned()))
        said = self.must(self.send(job, event("signed"), password="guess"), 403)
        self.assertEqual((said["code"], said["field"]), ("password.wrong", "password"))
        self.assertEqual(self.state(job)["status"], "open")

    def test_a_client_cannot_sign_in_the_name_of_another(self):
        job = self.open()
        self.must(self.send(job, *works.prepared(), *works.readings(), *works.returned()))
        forged = event("signed", name="Ben Test", statement="I did nothing")
        state = self.must(self.send(job, forged, password=works.PASSWORD))
        self.assertEqual(state["signed_by"], "Ana Test")

    def test_a_signed_job_only_leads_to_a_following_one(self):
        job = self.signed_job()
        said = self.must(self.send(job, event("noted", text="late")), 422)
        self.assertEqual(said["code"], "job.signed")
        answer = self.ana.post(
            "/api/v1/jobs", {"tag": "PT-1", "follows": job}, content_type="application/json"
        )
        following = self.must(answer)["job"]
        self.assertEqual(self.state(following)["follows"], job)

    def test_opening_twice_gives_the_same_job(self):
        self.assertEqual(self.open(), self.open(client=self.client_of("ben")))
        self.assertEqual(Job.objects.count(), 1)

    def test_numbers_go_on_beyond_five_digits(self):
        first = self.open()
        prefix = first.split("-")[0]
        Job.objects.filter(number=first).update(number=f"{prefix}-99999")
        for wanted in ("100000", "100001"):
            works.instrument(f"PT-{wanted}")
            self.assertEqual(self.open(f"PT-{wanted}"), f"{prefix}-{wanted}")

    def test_events_cannot_be_changed_or_deleted(self):
        self.open()
        stored = Event.objects.get()
        with self.assertRaises(FrozenError):
            stored.save()
        with self.assertRaises(FrozenError):
            stored.delete()

    def test_a_store_that_does_not_answer_is_said_and_not_a_500(self):
        job = self.open()
        with (
            mock.patch(
                "verifyloop.work.storing.put",
                side_effect=OperationalError("database is locked"),
            ),
            self.assertLogs("django.request", "ERROR"),
        ):
            answer = self.send(job, event("noted", text="x"))
        self.assertEqual(self.must(answer, 503)["code"], "storage.busy")


class Reading(ApiCase):
    def test_history_strip_and_explanation(self):
        job = self.open()
        self.must(self.send(job, *works.prepared(), *works.readings()))
        reading = self.state(job)["as_found"]["points"][3]["event"]
        self.must(self.send(job, event("retracted", event=reading, reason="wrong point")))
        lines = self.must(self.ana.get(f"/api/v1/jobs/{job}/history"))
        self.assertEqual([x["retracted"] for x in lines if x["id"] == reading], ["wrong point"])
        self.assertEqual(self.state(job)["as_found"]["current"], 3)
        strip = self.must(self.ana.get(f"/api/v1/jobs/{job}/strip?run=as_found&point=2"))
        self.assertEqual([s["id"] for s in strip], ["applied", "output", "whole"])
        self.must(self.ana.get(f"/api/v1/jobs/{job}/strip?run=as_found&point=3"), 422)
        figure = "as_found.points.2.error"
        said = self.must(self.ana.get(f"/api/v1/jobs/{job}/explain?figure={figure}"))
        self.assertIn("12.01", said["worked"])
        self.must(self.ana.get(f"/api/v1/jobs/{job}/explain?figure=x"), 422)

    def test_what_does_not_exist_is_a_404_with_a_way_on(self):
        for path in (
            "/api/v1/jobs/J99-1",
            "/api/v1/jobs/J99-1/history",
            "/api/v1/instruments/XX",
            "/api/v1/rigs/J99-1/frame",
            "/api/v1/records/J99-1/certificate.pdf",
        ):
            said = self.must(self.ana.get(path), 404)
            self.assertTrue(said["remedy"], path)


class Rigs(ApiCase):
    def setUp(self):
        super().setUp()
        self.rig = works.rig(self.instrument, pace=1.0, output_zero_percent=0.6)

    def command(self, **order):
        return self.ana.post("/api/v1/rigs/PT-1/commands", order, content_type="application/json")

    def test_values_come_from_the_rig_not_from_the_client(self):
        job = self.open()
        self.must(self.send(job, *works.prepared()))
        lie = event("reading_taken", source="simulated", run="as_found", point=0, sample_at=20,
                    applied="0", reading="4.000")  # fmt: skip
        point = self.must(self.send(job, lie))["as_found"]["points"][0]
        self.assertAlmostEqual(float(point["reading"]), 4.096, delta=0.005)
        self.assertEqual(point["source"], "simulated")
        future = event("reading_taken", source="simulated", run="as_found", point=1, sample_at=9999)
        self.assertEqual(self.must(self.send(job, future), 422)["code"], "reading.no_such_moment")

    def test_an_unsteady_value_needs_a_reason(self):
        job = self.open()
        self.must(self.send(job, *works.prepared()))
        self.must(self.command(kind="apply", value=1000))
        self.rig.refresh_from_db()
        soon = self.rig.commands[-1]["t"] + 1.0
        take = {"run": "as_found", "point": 1, "sample_at": soon}
        said = self.must(self.send(job, event("reading_taken", source="simulated", **take)), 422)
        self.assertEqual(said["code"], "reading.not_steady")
        early = {**take, "early_reason": "process noise", "kept": True}
        state = self.must(self.send(job, event("reading_taken", source="simulated", **early)))
        self.assertEqual(state["as_found"]["points"][1]["early"], "process noise")

    def test_commands_are_checked(self):
        self.assertEqual(
            self.must(self.command(kind="apply", value=9000), 422)["code"], "rig.range"
        )
        self.assertEqual(
            self.must(self.command(kind="trim", hop="output", end="span"), 422)["code"],
            "trim.out_of_range",
        )
        self.must(self.command(kind="explode"), 422)
        answer = self.client_of("pia").post(
            "/api/v1/rigs/PT-1/commands", {"kind": "apply"}, content_type="application/json"
        )
        self.must(answer, 403)

    def test_the_live_picture_is_asked_for_and_holds_no_connection(self):
        job = self.open()
        said = self.must(self.ana.get(f"/api/v1/rigs/{job}/frame"))
        self.assertTrue(said["steady"])
        self.assertIsNone(said["beside"])

    def test_a_moment_before_the_newest_command_does_not_count(self):
        job = self.open()
        self.must(self.send(job, *works.prepared()))
        self.must(self.command(kind="apply", value=0))
        take = {"run": "as_found", "point": 0, "sample_at": 20}
        said = self.must(self.send(job, event("reading_taken", source="simulated", **take)), 422)
        self.assertEqual(said["code"], "reading.not_steady")
