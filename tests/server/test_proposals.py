"""A plate that differs from the record: gone on with for a reason, and a planner decides."""

from tests.server import works
from tests.server.base import ApiCase
from tests.server.works import event
from verifyloop.plant.models import Change, Instrument, Proposal


class Found(ApiCase):
    def setUp(self):
        super().setUp()
        self.pia = self.client_of("pia")

    def signed_with(self, serial):
        """A job that is signed in spite of another serial number on the plate."""
        job = self.open()
        for one in works.prepared():
            data = one["data"]
            if data.get("field") == "serial" and serial != data["value"]:
                self.must(self.send(job, event("recorded", **{**data, "value": serial})))
                accept = {"step": data["step"], "choice": "accept", "reason": "module replaced"}
                self.must(self.send(job, event("decided", **accept)))
            else:
                self.must(self.send(job, one))
        self.must(self.send(job, *works.readings(), *works.returned()))
        self.must(self.send(job, event("signed"), password=works.PASSWORD))
        return job

    def decide(self, take, reason="delivery note 12", client=None, **more):
        found = Proposal.objects.get()
        path = f"/api/v1/instruments/PT-1/proposals/{found.pk}"
        body = {"take": take, "reason": reason}
        return (client or self.pia).post(path, body, content_type="application/json")

    def test_it_goes_to_the_planner_with_job_and_reason(self):
        job = self.signed_with("S-78")
        page = self.must(self.ana.get("/api/v1/instruments/PT-1"))
        said = page["proposals"][0]
        self.assertEqual((said["before"], said["after"], said["job"]), ("S-77", "S-78", job))
        self.assertEqual(said["reason"], "module replaced")
        self.assertEqual(self.must(self.pia.get("/api/v1/today"))["proposals"], ["PT-1"])
        self.assertEqual(Instrument.objects.get(tag="PT-1").serial, "S-77", "not by itself")

    def test_taken_over_it_is_on_record_with_who_and_why(self):
        self.signed_with("S-78")
        page = self.must(self.decide(True))
        self.assertEqual((page["serial"], page["proposals"]), ("S-78", []))
        change = Change.objects.get(field="Serial number on the plate")
        self.assertEqual((change.before, change.after), ("S-77", "S-78"))
        self.assertIn("delivery note 12", change.reason)
        job = self.open()
        self.assertEqual(self.state(job)["instrument"]["serial"], "S-78")

    def in_picture(self):
        page = self.must(self.ana.get("/api/v1/instruments/PT-1"))
        return [(p["in_picture"], p["new_sensor"]) for p in page["past"]]

    def test_another_device_begins_a_new_picture_of_the_drift_unless_it_was_a_slip(self):
        self.signed_with("S-77")
        self.signed_with("S-78")
        self.assertEqual(self.in_picture(), [(True, True), (False, False)])
        self.must(self.decide(False, "typing slip"))
        self.assertEqual(self.in_picture(), [(True, False), (True, False)])

    def test_left_it_stays_and_is_decided(self):
        self.signed_with("S-78")
        page = self.must(self.decide(False, "typing slip"))
        self.assertEqual((page["serial"], page["proposals"]), ("S-77", []))
        self.assertEqual(Proposal.objects.get().why, "typing slip")
        self.assertEqual(self.must(self.pia.get("/api/v1/today"))["proposals"], [])

    def test_only_a_planner_decides_once_and_says_why(self):
        self.signed_with("S-78")
        self.assertEqual(self.decide(True, client=self.ana).status_code, 403)
        self.assertEqual(self.must(self.decide(True, " "), 422)["code"], "reason.missing")
        self.must(self.decide(True))
        self.assertEqual(self.must(self.decide(False), 422)["code"], "proposal.none")

    def test_what_is_as_on_record_proposes_nothing(self):
        self.signed_job()
        self.assertFalse(Proposal.objects.exists())
