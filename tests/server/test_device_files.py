"""A file of a device through the API: kept with the job, its columns asked for once."""

import base64
from unittest import mock

from tests.server import gcs
from tests.server.base import ApiCase
from tests.server.test_tampering import verified
from tests.server.walker import RigWalk
from tests.server.works import event
from verifyloop.plant.models import FileColumns
from verifyloop.work.enrich import shown_together
from verifyloop.work.folding import core_job, events_of
from verifyloop.work.models import DeviceFile, Job

PLACES = {
    "component": {"header": "Gas"},
    "shows": {"header": "Conc (ppm)", "unit": "ppm"},
    "at": {"header": "RT (min)", "unit": "min"},
}


class Files(ApiCase):
    def setUp(self):
        super().setUp()
        gcs.shelf()
        gcs.rig(gcs.device("X-1"))
        self.walk = RigWalk(self, "X-1", gcs.TOLD)
        self.walk.walk("inject_1")

    def file(self):
        with self.walk.at():
            answer = self.ana.get(f"/api/v1/jobs/{self.walk.job}/file")
        self.assertEqual(answer.status_code, 200)
        self.assertIn("attachment", answer["Content-Disposition"])
        return answer.content

    def read(self, content, name="run.csv", client=None, job="", **more):
        body = {"name": name, "content": base64.b64encode(content).decode(), **more}
        with self.walk.at():
            return (client or self.ana).post(
                f"/api/v1/jobs/{job or self.walk.job}/file", body, content_type="application/json"
            )

    def enter(self, found, step="inject_1", **typed):
        data = {"step": step, **found["values"], **typed, "read_from": {"digest": found["digest"]}}
        return self.walk.post(self.walk.looked()["seq"], event("injected", **data))

    def refused(self, answer, code, status=422):
        self.assertEqual(answer.status_code, status, answer.content)
        self.assertEqual(answer.json()["code"], code)
        self.assertTrue(answer.json()["remedy"])
        return answer.json()

    def test_columns_are_asked_once_and_the_values_are_those_of_the_device(self):
        asked = self.must(self.read(self.file()))
        self.assertTrue(asked["asks"])
        self.assertEqual({c["id"]: c["header"] for c in asked["columns"]}["shows"], "Conc (ppm)")
        self.assertFalse(DeviceFile.objects.exists())
        found = self.must(self.read(self.file(), columns=PLACES))
        self.assertFalse(found["asks"])
        self.assertEqual(FileColumns.objects.get().by, "Ana Test")
        job = Job.objects.get(number=self.walk.job)
        shown = shown_together(job, core_job(job, events_of(job), self.walk.now), self.walk.now)
        self.assertEqual(len(shown), len(gcs.PEAKS))
        for one in shown:
            self.assertEqual(found["values"][one.id].replace(",", "."), one.value)
        again = self.must(self.read(self.file()))
        self.assertFalse(again["asks"])
        self.assertEqual(FileColumns.objects.count(), 1)

    def test_history_names_the_file_and_the_file_is_kept(self):
        content = self.file()
        found = self.must(self.read(content, columns=PLACES))
        self.must(self.enter(found))
        with self.walk.at():
            said = self.must(self.ana.get(f"/api/v1/jobs/{self.walk.job}/history"))
        self.assertIn(f"read from run.csv, SHA-256 {found['digest'][:12]}", said[0]["text"])
        self.assertEqual(bytes(DeviceFile.objects.get().content), content)
        self.assertTrue(verified()[1])
        DeviceFile.objects.update(content=b"other")
        said, clean = verified()
        self.assertFalse(clean)
        self.assertIn("run.csv is not the file that was read", said)
        DeviceFile.objects.all().delete()
        self.assertIn("is gone", verified()[0])

    def test_nobody_says_that_values_are_of_a_file_that_was_not_read(self):
        found = self.must(self.read(self.file(), columns=PLACES))
        self.refused(self.enter({**found, "digest": "0" * 64}), "file.unknown")
        self.must(self.enter(found, read_from={"digest": found["digest"], "values": {"a": "9"}}))
        self.walk.looked()
        self.walk.walk("inject_2")
        self.refused(self.enter(found, step="inject_2"), "file.unknown")
        self.refused(self.read(bytes(DeviceFile.objects.get().content)), "file.read_before")

    def test_a_file_of_another_job_is_refused(self):
        content = self.file()
        self.must(self.enter(self.must(self.read(content, columns=PLACES))))
        gcs.rig(gcs.device("X-2"))
        other = RigWalk(self, "X-2", gcs.TOLD)
        other.walk("inject_1")
        answer = self.read(content, job=other.job, columns=PLACES)
        self.assertIn(self.walk.job, self.refused(answer, "file.read_before")["message"])

    def test_what_is_wrong_names_column_or_file(self):
        self.refused(self.read(b""), "file.empty")
        self.refused(self.read(b"x" * 1_000_001), "file.too_long")
        wrong = {**PLACES, "shows": {"header": "Area", "unit": "ppm"}}
        said = self.refused(self.read(self.file(), columns=wrong), "file.column")
        self.assertEqual(said["field"], "mapping.shows")
        device = self.file().replace(b"S-77", b"S-78")
        self.refused(self.read(device, columns=PLACES), "file.other_device")
        body = {"name": "x", "content": "no base64 !"}
        with self.walk.at():
            answer = self.ana.post(
                f"/api/v1/jobs/{self.walk.job}/file", body, content_type="application/json"
            )
        self.refused(answer, "file.damaged")
        self.refused(self.read(self.file(), client=self.client_of("rea")), "role.not_allowed", 403)
        self.assertFalse(DeviceFile.objects.exists())

    def test_not_any_number_of_files_is_kept(self):
        content = self.file()
        self.must(self.read(content, columns=PLACES))
        with mock.patch("verifyloop.work.device_files.MOST_FILES", 2):
            self.must(self.read(content + b"\n"))
            self.refused(self.read(content + b"\n\n"), "file.too_many")
            self.must(self.read(content))
        self.assertEqual(DeviceFile.objects.count(), 2)

    def test_a_file_with_other_columns_is_asked_about_anew(self):
        self.must(self.read(self.file(), columns=PLACES))
        other = self.file().replace(b"Conc", b"Amount")
        self.assertTrue(self.must(self.read(other))["asks"])

    def test_utf_16_and_windows_files_are_read(self):
        text = self.file().decode()
        for content in (text.encode("utf-16"), ("\ufeff" + text).encode()):
            self.assertTrue(self.must(self.read(content, columns=PLACES))["values"])

    def test_none_is_read_or_written_at_another_step(self):
        self.must(self.enter(self.must(self.read(self.file(), columns=PLACES))))
        self.refused(self.read(b"a;b\n1;2\n"), "file.not_read_here")
        with self.walk.at():
            answer = self.ana.get(f"/api/v1/jobs/{self.walk.job}/file")
        self.refused(answer, "file.none", 404)
