"""What went wrong is said and stays said: out of service, handed over, followed up, voided."""

from __future__ import annotations

from tests.server import works
from tests.server.base import ApiCase
from tests.server.works import event
from verifyloop.plant.models import Change, Instrument, Plan
from verifyloop.work.models import Job

BAD = [(applied, f"{float(read.replace(',', '.')) + 0.9:.2f}") for applied, read in works.GOOD]
LEFT = {"state": "bypass", "to": "Jo of shift B", "tag": "red 12", "told": "planner"}
IMPACT = {"last_good": "check of May", "affected": "steam since June", "told": "shift lead"}


class Service(ApiCase):
    def read(self, values=BAD):
        """Open a job and read its as-found run."""
        job = self.open()
        sent = works.readings(values=values)
        for one in sent:
            one["data"]["kept"] = True
        self.must(self.send(job, *works.prepared(), *sent))
        return job

    def stopped(self):
        job = self.read()
        torn = {"step": "judge", "choice": "stop", "reason": "diaphragm torn"}
        self.must(self.send(job, event("decided", **torn)))
        return job

    def left(self, job):
        """Leave it in bypass with somebody; what is the technician's own comes off."""
        state = self.must(self.send(job, event("left_as", **LEFT)))
        while (step := self.step_of(state))["kind"] == "take_off":
            state = self.must(self.send(job, event("taken_off", step=step["id"])))
        return state

    def step_of(self, state):
        return next(s for s in state["steps"] if s["id"] == state["current_step"])

    def out(self):
        """A failed job, signed, with its bypass left on."""
        job = self.stopped()
        self.left(job)
        self.must(self.send(job, event("impact", **IMPACT)))
        self.must(self.send(job, event("signed"), password=works.PASSWORD))
        return job

    def asked(self, job):
        return [a["kind"] for a in self.state(job)["asked"]]

    def strip(self):
        items = self.must(self.ana.get("/api/v1/safety"))["items"]
        return [(i["tag"], i["kind"], i["label"]) for i in items]


class OutOfService(Service):
    def test_after_stop_what_is_true_is_asked_and_never_put_it_back(self):
        job = self.stopped()
        self.assertEqual(self.asked(job), ["left_as"])
        said = self.must(self.send(job, event("signed"), password=works.PASSWORD), 422)
        self.assertEqual(said["code"], "job.not_ready")
        state = self.must(self.send(job, event("left_as", **LEFT)))
        self.assertEqual(self.step_of(state)["title"], "Take the references off")
        state = self.must(self.send(job, event("taken_off", step=state["current_step"])))
        self.assertEqual(self.step_of(state)["kind"], "sign")
        self.assertEqual({o["by"] for o in state["on"]}, {"Jo of shift B"})
        self.assertEqual(self.asked(job), ["impact"])

    def test_every_answer_is_needed_but_a_tag(self):
        job = self.stopped()
        for missing in ("to", "told"):
            said = self.must(self.send(job, event("left_as", **{**LEFT, missing: " "})), 422)
            self.assertEqual((said["code"], said["field"]), ("answer.missing", f"data.{missing}"))
        self.must(self.send(job, event("left_as", **{**LEFT, "tag": ""})))

    def test_a_decision_taken_back_takes_what_hung_on_it_along(self):
        """Stopped and handed over, then the decision taken back: its bypass has to come off."""
        job = self.stopped()
        state = self.left(job)
        self.assertEqual(self.step_of(state)["kind"], "sign")
        decided = next(e for e in self.must(self.ana.get(f"/api/v1/jobs/{job}/history"))
                       if e["text"].startswith("Decision:"))  # fmt: skip
        taken = event("retracted", event=decided["id"], reason="wrong button")
        state = self.must(self.send(job, taken))
        self.assertEqual(self.step_of(state)["id"], "judge")
        self.assertEqual({o["by"] for o in state["on"]}, {"Ana Test"})
        self.assertTrue([line for line in state["to_close"] if "still on" in line])

    def test_put_back_all_the_same_goes_through_every_step_of_it(self):
        job = self.stopped()
        back = {"state": "in_service", "told": "planner"}
        state = self.must(self.send(job, event("left_as", **back)))
        current = self.step_of(state)
        self.assertEqual(current["stage"], "return")
        self.assertNotEqual(current["kind"], "sign")

    def test_it_stays_on_today_on_the_strip_and_in_the_list_with_who_has_it(self):
        job = self.out()
        self.assertEqual(Instrument.objects.get().out_of_service["to"], "Jo of shift B")
        strip = self.strip()
        self.assertEqual([s[:2] for s in strip], [("PT-1", "out")])
        self.assertIn("with Jo of shift B", strip[0][2])
        self.assertIn("bypass", strip[0][2].lower())
        page = self.must(self.ana.get("/api/v1/instruments/PT-1"))
        self.assertIn("tag red 12", page["out_of_service"])
        self.assertIsNone(Plan.objects.get().next_due)
        paper = self.must(self.ana.get(f"/api/v1/records/{job}/certificate.json"))
        self.assertIn("in bypass, with Jo of shift B", " ".join(paper["what_follows"]["left"]))

    def test_a_planner_brings_it_back_with_a_reason_and_it_is_due(self):
        self.out()
        pia = self.client_of("pia")
        path, kind = "/api/v1/instruments/PT-1/back", {"content_type": "application/json"}
        self.must(self.ana.post(path, {"reason": "repaired"}, **kind), 403)
        said = self.must(pia.post(path, {"reason": " "}, **kind), 422)
        self.assertEqual(said["code"], "reason.missing")
        page = self.must(pia.post(path, {"reason": "new diaphragm"}, **kind))
        self.assertEqual((page["out_of_service"], self.strip()), ("", []))
        self.assertIn("new diaphragm", page["due_reason"])
        self.assertEqual(Change.objects.get(field="service").after, "in service")
        self.assertEqual(
            self.must(pia.post(path, {"reason": "x"}, **kind), 422)["code"], "service.in"
        )

    def test_a_later_good_job_brings_it_back(self):
        self.out()
        self.signed_job()
        self.assertIsNone(Instrument.objects.get().out_of_service)
        self.assertEqual(self.strip(), [])

    def test_limited_use_says_with_what_limit(self):
        job = self.read()
        keep = {"step": "judge", "choice": "leave", "reason": "needed for the batch"}
        self.must(self.send(job, event("decided", **keep), *works.returned()[1:]))
        self.assertEqual(self.asked(job), ["limited", "impact"])
        self.must(self.send(job, event("limited", limit="up to 60 %", until="May stop")))
        self.must(self.send(job, event("impact", **IMPACT)))
        why = self.state(job)["outcome"]["why"]
        self.assertIn("Limited to: up to 60 %, until May stop.", why)

    def test_what_is_not_asked_is_refused(self):
        job = self.read(values=works.GOOD)
        for kind, data in (("left_as", LEFT), ("limited", {"limit": "x"}), ("impact", IMPACT)):
            said = self.must(self.send(job, event(kind, **data)), 422)
            self.assertEqual(said["code"], "answer.not_asked")


class FollowedUp(Service):
    def test_what_an_error_may_have_affected_is_a_list_to_work_off(self):
        job = self.out()
        found = self.must(self.ana.get("/api/v1/records", {"mark": "follow_up"}))["records"]
        self.assertEqual([(r["job"], r["follow_up"]) for r in found], [(job, "open")])
        done = event("followed_up", what="steam balance looked through: nothing")
        self.must(self.send(job, done), 403)
        pia = self.client_of("pia")
        said = self.must(self.send(job, event("followed_up", what=" "), client=pia), 422)
        self.assertEqual(said["code"], "reason.missing")
        self.must(self.send(job, done, client=pia))
        self.assertEqual(
            self.must(self.ana.get("/api/v1/records", {"mark": "follow_up"}))["total"], 0
        )
        paper = self.must(self.ana.get(f"/api/v1/records/{job}/certificate.json"))
        self.assertEqual(paper["what_follows"]["affected"], "steam since June")
        again = self.must(self.send(job, event("followed_up", what="x"), client=pia), 422)
        self.assertEqual(again["code"], "followup.none")

    def test_the_last_good_check_is_offered(self):
        first = self.signed_job()
        day = Job.objects.get(number=first).signed_at.date()
        job = self.stopped()
        self.left(job)
        field = self.state(job)["asked"][0]["fields"][0]
        self.assertEqual(field["often"][0], f"check of {day}")

    def test_who_followed_it_up_may_review(self):
        job = self.out()
        rea = self.client_of("rea")
        self.must(self.send(job, event("followed_up", what="nothing"), client=rea))
        said = event("reviewed", outcome="accepted", comment="")
        self.must(self.send(job, said, client=rea, password=works.PASSWORD))


class Redo(Service):
    def test_to_be_done_again_is_due_at_once_with_why(self):
        job = self.signed_job()
        later = Plan.objects.get().next_due
        said = event("reviewed", outcome="redo", comment="wrong module")
        rea = self.client_of("rea")
        self.must(self.send(job, said, client=rea, password=works.PASSWORD))
        plan = Plan.objects.get()
        self.assertLess(plan.next_due, later)
        self.assertIn("to be done again, says Rea Test: wrong module", plan.due_reason)
        today = self.must(self.ana.get("/api/v1/today"))
        self.assertEqual([d["tag"] for a in today["areas"] for d in a["due"]], ["PT-1"])

    def test_not_where_it_was_done_again_already(self):
        old, new = self.signed_job(), self.signed_job()
        self.assertNotEqual(old, new)
        later = Plan.objects.get().next_due
        said = event("reviewed", outcome="redo", comment="wrong module")
        self.must(self.send(old, said, client=self.client_of("rea"), password=works.PASSWORD))
        self.assertEqual(Plan.objects.get().next_due, later)


class Voided(Service):
    def void(self, job, reason="wrong tag", **more):
        return self.send(job, event("voided", reason=reason), **more)

    def test_a_job_opened_by_mistake_ends_without_an_invented_reason(self):
        job = self.open()
        self.assertEqual(self.must(self.send(job, event("voided")))["status"], "voided")
        history = self.must(self.ana.get(f"/api/v1/jobs/{job}/history"))
        self.assertIn("Voided: opened by mistake", history[0]["text"])
        paper = self.ana.get(f"/api/v1/records/{job}/certificate.pdf")
        self.assertEqual(paper.status_code, 422)

    def test_a_reason_may_be_said_all_the_same(self):
        job = self.open()
        self.assertEqual(self.must(self.void(job))["status"], "voided")
        self.assertEqual(
            self.must(self.send(job, event("noted", text="x")), 422)["code"], "job.voided"
        )
        self.assertNotEqual(self.open(), job, "the instrument is free again")
        self.assertEqual(self.must(self.ana.get("/api/v1/records"))["total"], 0)
        self.assertIn(
            "Voided: wrong tag", self.must(self.ana.get(f"/api/v1/jobs/{job}/history"))[0]["text"]
        )

    def test_not_while_something_is_on_and_not_once_measured(self):
        job = self.open()
        self.must(self.send(job, *works.prepared()))
        self.assertEqual(self.must(self.void(job), 422)["code"], "void.something_on")
        self.must(self.send(job, *works.readings()))
        self.assertIn(
            self.must(self.void(job), 422)["code"], ("void.something_on", "void.measured")
        )

    def test_it_is_offered_only_while_it_would_be_taken(self):
        job = self.open()
        self.assertTrue(self.state(job)["may_void"])
        self.must(self.send(job, *works.prepared()))
        self.assertFalse(self.state(job)["may_void"])

    def test_nobody_signs_or_reviews_it(self):
        job = self.open()
        self.must(self.void(job))
        self.must(self.send(job, event("signed"), password=works.PASSWORD), 422)


class Shift(Service):
    def test_the_next_person_takes_over_by_name_what_is_on(self):
        job = self.open()
        self.must(self.send(job, *works.prepared()))
        on = [o["step"] for o in self.state(job)["on"]]
        self.assertTrue(on)
        said = self.must(self.send(job, event("taken_over", on=on)), 422)
        self.assertEqual(said["code"], "takeover.own")
        ben = self.client_of("ben")
        state = self.must(self.send(job, event("taken_over", on=on), client=ben))
        self.assertEqual({o["by"] for o in state["on"]}, {"Ben Test"})
        said = self.must(self.send(job, event("taken_over", on=["nothing"]), client=ben), 422)
        self.assertEqual(said["code"], "takeover.nothing_on")
