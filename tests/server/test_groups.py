"""Sensors in blocks: their runs go on by themselves, whoever looks and whenever."""

from datetime import timedelta
from unittest import mock

from django.db import transaction
from django.utils import timezone

from calibration.families.temperature.methods import BARE
from tests.server import families
from tests.server.base import ApiCase
from tests.server.works import event
from verifyloop.work import groups
from verifyloop.work.block_autorun import catch_up
from verifyloop.work.models import Event, Job


class Blocks(ApiCase):
    def setUp(self):
        super().setUp()
        families.shelf()
        self.jobs = {}
        for n, block in enumerate(("HEAT-1", "HEAT-1", "HEAT-2", "HEAT-2")):
            tag = f"TE-{n}"
            one = families.instrument(tag, "pt100_sensor")
            families.rig(one, "pt100_sensor", offset_c=0.05 * n)
            self.jobs[tag] = self.prepare(tag, block)

    def prepare(self, tag, block):
        job = self.open(tag)
        n = block[-1]
        kit = (("probe", f"TEMP-{n}"), ("block", block), ("meter", f"RESI-{n}"))
        self.must(
            self.send(
                job,
                event("recorded", step="how_read", field="read_as", value=BARE),
                *(event("kit_chosen", role=role, asset=asset) for role, asset in kit),
                event("recorded", step="operator", field="operator", value="Jo"),
                event("put_on", step="bypass"),
                *(event("confirmed", step="isolate", item=i) for i in ("well", "cool", "tagged")),
                event("recorded", step="identity", field="serial", value="S-77"),
                event("put_on", step="connect"),
                event("recorded", step="junction", field="temperature", value="23"),
                event("timer_waived", step="warm_up", reason="on since morning"),
            )
        )
        return job

    def put_in(self, *tags):
        for tag in tags:
            job = self.jobs[tag]
            block = self.state(job)["block"]
            self.must(self.send(job, event("placed", run="as_found", block=block)))

    def later(self, minutes):
        """What anybody sees some minutes of the rigs later; they run two hundred times faster."""
        now = timezone.now() + timedelta(minutes=minutes / 200)
        with mock.patch("django.utils.timezone.now", return_value=now):
            return {tag: self.state(job) for tag, job in self.jobs.items()}

    def test_four_sensors_in_two_blocks_are_read_by_themselves(self):
        self.put_in(*self.jobs)
        halfway = self.later(25)
        taken = [s["as_found"]["taken"] for s in halfway.values()]
        self.assertTrue(0 < sum(taken) < 12, taken)
        done = self.later(120)
        for n, state in enumerate(done.values()):
            self.assertEqual(state["as_found"]["taken"], 3)
            self.assertEqual(state["current_step"], "judge")
            first = state["as_found"]["points"][1]
            self.assertEqual(first["source"], "simulated")
            # 0.05 °C of drift for each, 0.379 ohm by degree, on 75.856 ohm of span.
            self.assertAlmostEqual(first["error_percent"], 0.05 * n * 0.379 / 0.75856, delta=0.02)

    def test_they_are_stored_once_and_in_order_however_often_one_looks(self):
        self.put_in("TE-0", "TE-1")
        for minutes in (20, 40, 40, 90, 90):
            self.later(minutes)
        for tag in ("TE-0", "TE-1"):
            events = Event.objects.filter(job__number=self.jobs[tag], kind="reading_taken")
            self.assertEqual(events.count(), 3)
            times = [e.at for e in events.order_by("seq")]
            self.assertEqual(times, sorted(times))

    def test_nothing_is_worked_out_while_nothing_is_due(self):
        self.put_in(*self.jobs)
        begin = timezone.now()
        catch_up(begin)
        soon = begin + timedelta(seconds=1 / 200)
        with self.assertNumQueries(1):
            catch_up(soon)
        catch_up(begin + timedelta(minutes=25 / 200))
        self.assertTrue(Event.objects.filter(kind="reading_taken").exists())

    def test_who_is_put_in_later_is_seen_at_once(self):
        self.put_in("TE-0")
        begin = timezone.now()
        catch_up(begin)
        self.put_in("TE-2")
        catch_up(begin + timedelta(minutes=120 / 200))
        for tag in ("TE-0", "TE-2"):
            self.assertEqual(self.state(self.jobs[tag])["as_found"]["taken"], 3)

    def test_a_clock_that_goes_back_is_no_reason_to_wait(self):
        self.put_in("TE-0")
        catch_up(timezone.now() + timedelta(seconds=2 / 200))
        state = self.state(self.jobs["TE-0"])
        self.assertEqual(state["in_block"], "HEAT-1")

    def test_a_restart_loses_nothing(self):
        """Nothing of a group lives in the memory of the server: asked once, late, all is there."""
        self.put_in(*self.jobs)
        catch_up(timezone.now() + timedelta(minutes=120 / 200))
        for job in self.jobs.values():
            self.assertEqual(self.state(job)["as_found"]["taken"], 3)
        self.assertFalse(Job.objects.exclude(in_block="").exists())

    def test_who_looks_after_a_long_weekend_finds_all_of_it(self):
        self.put_in(*self.jobs)
        catch_up(timezone.now() + timedelta(days=4))
        for job in self.jobs.values():
            self.assertEqual(self.state(job)["as_found"]["taken"], 3)

    def test_a_reading_taken_back_is_taken_again(self):
        self.put_in("TE-0")
        taken = self.later(18)["TE-0"]["as_found"]["points"][0]
        self.assertTrue(taken["event"])
        back = event("retracted", event=taken["event"], reason="door was open")
        now = timezone.now() + timedelta(minutes=19 / 200)
        with mock.patch("django.utils.timezone.now", return_value=now):
            self.must(self.send(self.jobs["TE-0"], back))
        done = self.later(150)["TE-0"]
        self.assertEqual(done["as_found"]["taken"], 3)
        self.assertNotEqual(done["as_found"]["points"][0]["event"], taken["event"])

    def test_a_sensor_goes_only_into_the_block_that_was_chosen(self):
        job = self.jobs["TE-0"]
        other = event("placed", run="as_found", block="HEAT-2")
        refused = self.must(self.send(job, other), 422)
        self.assertEqual((refused["code"], refused["field"]), ("block.not_chosen", "data.block"))
        self.put_in("TE-0")
        again = event("placed", run="as_found", block="HEAT-1")
        self.assertEqual(self.must(self.send(job, again), 422)["code"], "block.placed")

    def test_the_screen_is_told_what_each_block_does(self):
        self.put_in(*self.jobs)
        frame = self.client_of("ana").get(f"/api/v1/rigs/{self.jobs['TE-0']}/frame").json()
        group = frame["group"]
        self.assertEqual([b["block"] for b in group["blocks"]], ["HEAT-1", "HEAT-2"])
        self.assertIn("cooling to 0.0 °C", group["blocks"][0]["doing"])
        self.assertEqual(group["blocks"][0]["waiting"], ["TE-0", "TE-1"])
        self.assertIn(group["next"], self.jobs)

    def test_what_is_kept_of_a_group_is_what_is_read_anew(self):
        """Put in one by one, read by themselves, another entry: never an old group."""

        def seen():
            frames = {}
            with mock.patch("django.utils.timezone.now", return_value=timezone.now()):
                for tag, job in self.jobs.items():
                    path = f"/api/v1/rigs/{job}/frame"
                    kept = self.must(self.ana.get(path))["group"]
                    groups._kept = None
                    frames[tag] = self.must(self.ana.get(path))["group"]
                    self.assertEqual(kept, frames[tag])
            return frames

        self.assertEqual(set(seen().values()), {None})
        for n, tag in enumerate(self.jobs):
            self.put_in(tag)
            inside = [f for f in seen().values() if f]
            self.assertEqual(len(inside), n + 1)
        kept = groups._kept
        self.assertEqual(len(kept.members), 4)
        self.assertIs(groups._at_hand(timezone.now()), kept)
        self.later(30)
        seen()
        job = self.jobs["TE-1"]
        self.must(self.send(job, event("noted", text="seen")))
        self.assertIsNot(groups._at_hand(timezone.now()), kept)
        with transaction.atomic():
            moved = Job.objects.get(number=self.jobs["TE-0"])
            moved.in_block, moved.head = "", "another"
            moved.save(update_fields=["in_block", "head"])
            groups._at_hand(timezone.now())
            transaction.set_rollback(True)
        seen()
        seen()
