"""Set up by form alone: every kind of instrument, every wrong entry beside its field."""

from __future__ import annotations

from calibration.engine.method.family import FAMILIES
from calibration.setup.forms import family_of_method, templates
from tests.server import works
from tests.server.setting_up import JSON, SetUp
from verifyloop.plant.models import Area, Change, Instrument, Site
from verifyloop.work.models import Job


class EveryKind(SetUp):
    def test_each_is_set_up_by_its_form_and_a_job_opens_on_it(self):
        for number, template in enumerate(templates()):
            with self.subTest(template.id):
                form, tag = self.form(template.id), f"X-{number}"
                record = self.typed(form, tag)
                found = self.check(form, record)
                self.assertEqual(found["wrong"], [])
                self.assertIn(template.method, [m["id"] for m in found["methods"]])
                self.assertTrue(found["asks"]["rows"])
                self.must(self.add(form, record))
                self.assertEqual(Instrument.objects.get(tag=tag).plan.method, template.method)
                job = self.open(tag)
                self.assertEqual(Job.objects.get(number=job).method, template.method)

    def test_every_family_has_a_template_or_shares_the_facts_of_one_that_has(self):
        with_one = {family_of_method(t.method).id for t in templates()}
        lacking = {f.id for f in FAMILIES.values() if not f.templates}
        self.assertEqual(lacking, set(FAMILIES) - with_one)
        self.assertEqual(lacking, set())

    def test_what_was_stored_is_what_the_form_shows(self):
        for number, template in enumerate(templates()):
            with self.subTest(template.id):
                tag = f"X-{number}"
                form = self.form(template.id)
                record = self.typed(form, tag)
                self.must(self.add(form, record))
                shown = self.must(self.pia.get(f"/api/v1/setup/instruments/{tag}"))
                again = {
                    "record": shown["record"],
                    "version": shown["version"],
                    "reason": "nothing changes",
                }
                address = f"/api/v1/setup/instruments/{tag}"
                self.must(self.pia.put(address, again, content_type=JSON))
                after = self.must(self.pia.get(address))
                self.assertEqual(after["record"], shown["record"])
                self.assertEqual(after["version"], shown["version"])
                self.assertEqual(Change.objects.filter(instrument__tag=tag).count(), 1)

    def test_a_copy_begins_with_everything_but_tag_and_serial(self):
        form = self.must(self.pia.get("/api/v1/setup/new", {"like": "PT-1"}))
        record = form["record"]
        self.assertEqual((record["tag"], record["serial"]), ("", ""))
        self.assertEqual((record["input_upper"], record["smart"]), ("4000", True))
        record |= {"tag": "PT-2", "serial": "S-2", "next_due": self.due}
        self.must(self.add(form, record))
        self.assertEqual(Instrument.objects.get(tag="PT-2").description, "Drum pressure")


class Wrong(SetUp):
    def test_each_wrong_entry_says_so_beside_its_field(self):
        form = self.form("pressure")
        right = self.typed(form)
        self.assertEqual(self.check(form, right)["wrong"], [])
        for field, change in (
            ("tag", {"tag": ""}),
            ("tag", {"tag": "PT-1"}),
            ("tag", {"tag": "x" * 41}),
            ("area", {"area": "The moon"}),
            ("input_upper", {"input_upper": "ten"}),
            ("input_upper", {"input_upper": "0"}),
            ("input_upper", {"input_upper": "-10"}),
            ("output_upper", {"output_upper": "4"}),
            ("input_unit", {"input_unit": "Bar"}),
            ("characteristic", {"characteristic": "curly"}),
            ("tolerance.percent_of_span", {"tolerance": {"percent_of_span": "-1"}}),
            ("tolerance.percent_of_span", {"tolerance": {}}),
            ("indicated_upper", {"indicated_lower": "0"}),
            ("loop_role", {"loop_role": "maybe"}),
            ("method", {"method": "ph_buffers"}),
            ("next_due", {"next_due": "tomorrow"}),
            ("next_due", {"next_due": "2019-01-01"}),
            ("colour", {"colour": "red"}),
            ("caution", {"caution": "x" * 241}),
        ):
            with self.subTest(field=field, change=change):
                record = {**right, **change}
                wrong = self.check(form, record)["wrong"]
                self.assertEqual([w["field"] for w in wrong], [field])
                refused = self.add(form, record)
                self.assertEqual((refused.status_code, refused.json()["field"]), (422, field))
        self.assertFalse(Instrument.objects.filter(tag="X-1").exists())

    def test_all_that_is_missing_is_said_at_once(self):
        form = self.form("belt_scale")
        wrong = self.check(form, form["record"])["wrong"]
        fields = {w["field"] for w in wrong}
        self.assertLessEqual({"tag", "serial", "area", "own.belt_length_m"}, fields)
        self.assertEqual({w["code"] for w in wrong}, {"field.missing"})

    def test_a_family_refuses_its_own_facts_beside_them(self):
        form = self.form("gas_toxic")
        record = self.typed(form)
        record["own"]["channels"][0]["principle"] = "magic"
        wrong = self.check(form, record)["wrong"]
        self.assertEqual([w["field"] for w in wrong], ["own.channels.0.principle"])

    def test_the_shelf_is_asked(self):
        form = self.form("pressure")
        record = self.typed(form) | {"input_unit": "kPa", "input_upper": "4000"}
        lines = self.check(form, record)["lines"]
        best = next(x for x in lines if "R-1" in x["text"])
        self.assertEqual(best["mark"], "within")
        self.assertIn("limit to uncertainty", best["aside"])
        form = self.form("belt_scale")
        lines = self.check(form, self.typed(form))["lines"]
        self.assertTrue(any(x["mark"] == "outside" and "none" in x["aside"] for x in lines), lines)

    def test_a_serial_number_of_another_is_asked_about(self):
        form = self.form("pressure")
        lines = self.check(form, self.typed(form) | {"serial": "S-77"})["lines"]
        self.assertIn(
            ("near", "Serial number of PT-1 too"), [(x["mark"], x["text"]) for x in lines]
        )


class Changed(SetUp):
    address = "/api/v1/setup/instruments/PT-1"

    def put(self, client=None, **more):
        form = self.must(self.pia.get(self.address))
        changes = more.pop("record", {})
        sent = {"version": form["version"], "reason": "new data sheet", **more}
        sent["record"] = {**form["record"], **changes}
        return (client or self.pia).put(self.address, sent, content_type=JSON)

    def test_each_field_that_changes_is_noted_with_why(self):
        self.must(self.put(record={"input_upper": "4500", "smart": False}))
        noted = {(c.field, c.before, c.after, c.reason, c.by) for c in Change.objects.all()}
        self.assertEqual(
            noted,
            {
                ("input upper", "4000", "4500", "new data sheet", "Pia Test"),
                ("smart", "yes", "no", "new data sheet", "Pia Test"),
            },
        )
        shown = self.must(self.pia.get("/api/v1/instruments/PT-1"))
        self.assertIn("0 to 4500 kPa", shown["range"])

    def test_the_last_write_does_not_win_unnoticed(self):
        old = self.must(self.pia.get(self.address))["version"]
        self.must(self.put(record={"maker": "Elsewhere"}))
        said = self.put(record={"maker": "Nowhere"}, version=old)
        self.assertEqual((said.status_code, said.json()["code"]), (409, "version.old"))
        self.assertEqual(Instrument.objects.get(tag="PT-1").maker, "Elsewhere")

    def test_a_change_takes_a_reason_and_a_planner(self):
        said = self.put(record={"maker": "Elsewhere"}, reason=" ")
        self.assertEqual((said.status_code, said.json()["field"]), (422, "reason"))
        for name in ("ana", "rea"):
            refused = self.put(client=self.client_of(name), record={"maker": "Elsewhere"})
            self.assertEqual(refused.status_code, 403)

    def test_a_running_job_keeps_what_was_on_record(self):
        job = self.open()
        self.must(self.put(record={"input_upper": "4500"}))
        self.assertIn("4000", self.state(job)["instrument"]["range"])

    def test_areas_are_added_renamed_and_put_in_order(self):
        add = self.pia.post("/api/v1/setup/areas", {"name": "Pump house"}, content_type=JSON)
        self.assertEqual([a["name"] for a in self.must(add)], ["Boiler house", "Pump house"])
        again = self.pia.post("/api/v1/setup/areas", {"name": "pump house"}, content_type=JSON)
        self.assertEqual(again.json()["code"], "area.taken")
        names = ["Pump house", "Boiler house"]
        sent = {"names": names, "before": names[::-1]}
        moved = self.must(self.pia.put("/api/v1/setup/areas", sent, content_type=JSON))
        self.assertEqual([a["name"] for a in moved], names)
        self.assertEqual(
            self.pia.put("/api/v1/setup/areas", sent, content_type=JSON).status_code, 409
        )
        sent = {"name": "Pump house", "to": "Pumps"}
        self.must(self.pia.post("/api/v1/setup/areas/rename", sent, content_type=JSON))
        self.assertTrue(Area.objects.filter(name="Pumps").exists())
        refused = self.ana.post("/api/v1/setup/areas", {"name": "Mine"}, content_type=JSON)
        self.assertEqual(refused.status_code, 403)

    def test_the_units_that_the_site_prefers(self):
        Site.objects.create(name="Works", units={"pressure": "kPa", "temperature": "°F"})
        record = self.form("pressure")["record"]
        self.assertEqual((record["input_unit"], record["input_upper"]), ("kPa", ""))


class Pages(SetUp):
    def test_every_instrument_is_on_a_page(self):
        for n in range(130):
            works.instrument(f"Z-{n:03}", serial=str(n))
        seen = []
        for page in (1, 2, 3, 4):
            said = self.must(self.pia.get("/api/v1/instruments", {"page": page}))
            self.assertEqual((said["total"], said["pages"], said["page"]), (131, 4, page))
            seen += [i["tag"] for i in said["found"]]
        self.assertEqual(len(set(seen)), 131)
        beyond = self.must(self.pia.get("/api/v1/instruments", {"page": 99}))
        self.assertEqual(beyond["page"], 4)
