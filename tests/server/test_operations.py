"""The computations over the API: every one, its contract, tables, and the site's own data."""

import json
from io import BytesIO

from django.test import Client
from jsonschema import Draft202012Validator
from pypdf import PdfReader

from calibration.operations import catalogue, run
from tests.server.base import ApiCase
from tests.server.document import DOCUMENT
from verifyloop.bench.models import SiteBuffer

TABLE = {
    "operation": "thermocouple.emf",
    "fixed": {"type": "K", "reference_junction_c": "0"},
    "vary": "temperature_c",
    "start": "-20",
    "stop": "100",
    "step": "10",
    "columns": ["emf_mv", "sensitivity_uv_per_c"],
}
BUFFER = {
    "set": "river lab",
    "nominal": "9.22",
    "temperatures_c": ["15", "20", "25", "30"],
    "values": ["9,31", "9.27", "9.22", "9.18"],
    "source": "label, lot 7",
}


class Operations(ApiCase):
    def ask(self, path, payload, client=None):
        return (client or self.ana).post(
            f"/api/v1/operations/{path}", payload, content_type="application/json"
        )

    def test_every_operation_answers_as_the_core_does(self):
        for entry in catalogue():
            said = self.must(self.ask(entry["name"], entry["example"]))
            self.assertEqual(said, json.loads(json.dumps(run(entry["name"], entry["example"]))))

    def test_half_a_character_in_any_text_is_refused_or_read_and_never_fells_it(self):
        """JSON can write one, no file and no answer can hold it."""
        for entry in catalogue():
            for name in entry["input"]["properties"]:
                with self.subTest(operation=entry["name"], field=name):
                    said = self.ask(entry["name"], {**entry["example"], name: "\ud800"})
                    self.assertEqual(said.status_code, 422, said.content[:200])

    def test_every_operation_is_in_the_contract_with_its_schema(self):
        for entry in catalogue():
            call = DOCUMENT["paths"][f"/api/v1/operations/{entry['name']}"]["post"]
            given = call["requestBody"]["content"]["application/json"]
            self.assertEqual(given["schema"], entry["input"])
            Draft202012Validator(given["schema"]).validate(given["example"])
            answer = call["responses"]["200"]["content"]["application/json"]["schema"]
            self.assertIn("how", answer["properties"])

    def test_only_for_people_who_are_signed_in(self):
        stranger = Client(enforce_csrf_checks=True)
        for path in ("loop.supply", "table.make/csv", "loop.supply/bench"):
            self.assertIn(self.ask(path, {}, stranger).status_code, (401, 403))
        self.assertEqual(stranger.get("/api/v1/operations").status_code, 401)
        for who in self.people:
            answer = self.ask(
                "response.step", {"tau_s": 1, "start": 0, "end": 1, "t_s": 1}, self.client_of(who)
            )
            self.assertEqual(answer.status_code, 200)

    def test_bad_input_is_a_problem_with_its_field(self):
        for path, body, code, field in (
            ("loop.supply", '{"supply_v": "x"}', "number.not_a_number", "supply_v"),
            ("loop.supply", '{"supply_v": NaN}', "number.not_finite", "supply_v"),
            ("loop.supply", "{", "json.invalid", "input"),
            ("loop.supply", "[]", "json.not_an_object", "input"),
            ("loop.supply", "[" * 5000, "json.invalid", "input"),
            ("coffee.brew", "{}", "operation.unknown", "name"),
            ("coffee.brew/bench", "{}", "operation.unknown", "name"),
            (
                "run.evaluate/bench",
                '{"input_lower":0,"input_upper":1,"output_lower":4,"output_upper":20,'
                '"tolerance":{"percent_of_span":1},"readings":[{"nominal_percent":0,"applied":0,'
                '"reading":"twelve"}]}',
                "number.not_a_number",
                "readings.0.reading",
            ),
            ("response.step", '{"tau_s":1,"start":0,"end":1e29,"t_s":1e30}', None, None),
            (
                "gas.purge_time",
                '{"dead_volume_l":1e-29,"flow_l_per_min":1e29,"exchanges":1e30}',
                None,
                None,
            ),
        ):
            with self.subTest(path=path, body=body[:60]):
                answer = self.ana.post(
                    f"/api/v1/operations/{path}", body, content_type="application/json"
                )
                if code is None:
                    self.assertEqual(answer.status_code, 200, answer.content)
                    continue
                self.assertEqual(answer.status_code, 422, answer.content)
                said = answer.json()
                self.assertEqual((said["code"], said["field"]), (code, field))

    def test_the_bench_gets_text_picture_and_form(self):
        for entry in catalogue():
            if entry["name"] == "table.make":
                continue
            form = self.must(self.ana.get(f"/api/v1/operations/{entry['name']}/form"))
            self.assertEqual(form["title"], entry["title"])
            self.assertTrue(form["entries"])
            said = self.must(self.ask(f"{entry['name']}/bench", entry["example"]))
            self.assertIn(entry["title"], said["text"])
            self.assertTrue(said["picture"]["alt"])
        self.assertEqual(self.ana.get("/api/v1/operations/table.make/form").status_code, 422)

    def test_finding(self):
        found = self.must(self.ana.get("/api/v1/operations/find?q=K 500"))
        self.assertEqual(found[0]["given"], {"type": "K", "temperature_c": "500"})
        self.assertEqual(self.must(self.ana.get("/api/v1/operations/find?q=")), [])
        self.assertGreater(len(self.must(self.ana.get("/api/v1/operations"))), 40)


class Tables(ApiCase):
    def ask(self, kind, **changes):
        return self.ana.post(
            f"/api/v1/operations/table.make/{kind}",
            {**TABLE, **changes},
            content_type="application/json",
        )

    def test_on_the_screen_as_csv_and_as_pdf(self):
        shown = self.must(self.ask("shown"))
        self.assertEqual(len(shown["rows"]), 13)
        csv = self.ask("csv")
        lines = csv.content.decode().splitlines()
        self.assertEqual(lines[0], "Measuring junction [°C],Emf [mV],Sensitivity there [µV/°C]")
        # NIST Monograph 175, type K: −0.778 mV at −20 °C and 4.096 mV at 100 °C.
        self.assertTrue(lines[1].startswith("-20,-0.778,"))
        self.assertTrue(lines[-1].startswith("100,4.096,"))
        self.assertIn("thermocouple.emf.csv", csv["Content-Disposition"])
        text = PdfReader(BytesIO(self.ask("pdf").content)).pages[0].extract_text()
        for word in ("Emf of a thermocouple", "4.096", "NIST Monograph 175"):
            self.assertIn(word, text)

    def test_a_long_table_takes_several_pages(self):
        pdf = self.ask("pdf", stop="1372", step="1", columns=["emf_mv"]).content
        self.assertGreater(len(PdfReader(BytesIO(pdf)).pages), 3)

    def test_what_it_refuses(self):
        for kind in ("shown", "csv", "pdf"):
            answer = self.ask(kind, stop="9000", step="100")
            self.assertEqual(answer.status_code, 422)
            self.assertEqual(answer.json()["code"], "temperature.out_of_range")


class SiteBuffers(ApiCase):
    def save(self, who, **changes):
        return self.client_of(who).post(
            "/api/v1/bench/buffers", {**BUFFER, **changes}, content_type="application/json"
        )

    def person(self, role):
        return next(name for name, user in self.people.items() if user.role == role)

    def test_a_planner_adds_one_and_calculators_use_it(self):
        self.must(self.save(self.person("planner")))
        said = self.must(
            self.ana.post(
                "/api/v1/operations/ph.buffer",
                {"set": "river lab", "nominal": "9.22", "temperature_c": 20},
                content_type="application/json",
            )
        )
        self.assertEqual((said["ph"], said["source"]), (9.27, "label, lot 7"))
        tables = self.must(self.ana.get("/api/v1/bench/tables"))
        self.assertEqual(tables["buffers"][0]["set"], "river lab")
        self.assertFalse(tables["may_edit"])

    def test_the_newest_table_counts_and_the_old_one_stays_on_record(self):
        planner = self.person("planner")
        self.must(self.save(planner))
        again = self.must(self.save(planner, values=["9.30", "9.26", "9.21", "9.17"]))
        own = [b for b in again["buffers"] if b["by"]]
        self.assertEqual([b["values"][2] for b in own], ["9.21"])
        self.assertEqual(SiteBuffer.objects.count(), 2)

    def test_who_may_not(self):
        for role in ("technician", "reviewer"):
            answer = self.save(self.person(role))
            self.assertEqual(answer.status_code, 403)

    def test_what_is_refused(self):
        planner = self.person("planner")
        for changes, code in (
            ({"set": "technical"}, "buffer.set"),
            ({"set": " "}, "buffer.set"),
            ({"set": "x" * 41}, "buffer.set"),
            ({"nominal": ""}, "buffer.nominal"),
            ({"source": ""}, "buffer.source"),
            ({"values": ["9", "9"]}, "buffer.table"),
            ({"values": ["9", "9", "9", "acid"]}, "number.not_a_number"),
            ({"temperatures_c": ["25"], "values": ["9"]}, "temperatures_c.too_few"),
            ({"temperatures_c": ["30", "25", "20", "15"]}, "buffer.table"),
        ):
            answer = self.save(planner, **changes)
            self.assertEqual(answer.status_code, 422, changes)
            self.assertEqual(answer.json()["code"], code)
