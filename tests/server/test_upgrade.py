"""From the version before, with its data, and back: as docs/running.md says."""

from __future__ import annotations

import gzip
import json
import re
import sqlite3
import tempfile
import urllib.request
from pathlib import Path

from django.test import SimpleTestCase

from tests.databases import on_sqlite
from tests.process import ROOT, RealServer
from tests.server.test_at_once import Person, note
from verifyloop import VERSION

OLD = Path(__file__).parent / "old"
SIGNED, OPEN = "J26-00001", "J26-00002"
#: A secret address that somebody's calendar asked under the version before.
CALENDAR = "/api/calendar/S8nZRtCbT6fPoZoRFc1CcJQioimt1b_O.ics"
TABLES = ("work_event", "register_entry", "plant_instrument", "kit_reference", "accounts_user")


@on_sqlite
class Upgrade(SimpleTestCase):
    """One server that was put from the version before to this one, for all of them."""

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        place = tempfile.TemporaryDirectory()
        cls.addClassCleanup(place.cleanup)
        cls.server = cls.of_before()
        cls.copy = Path(cls.manage("backup", place.name).split(":")[0])
        cls.manage("migrate", "-v", "0")
        cls.verified = cls.manage("verify_records")
        cls.server.start()

    @classmethod
    def of_before(cls) -> RealServer:
        """Return a server whose data are those of the version before."""
        server = RealServer()
        cls.addClassCleanup(server.close)
        server.database.write_bytes(gzip.decompress((OLD / "before.sqlite3.gz").read_bytes()))
        server.keys.write_bytes((OLD / "before.keys").read_bytes())
        return server

    @classmethod
    def manage(cls, *arguments):
        said = cls.server.manage(*arguments)
        if said.returncode:
            raise AssertionError(said.stdout + said.stderr)
        return said.stdout

    def test_every_record_is_as_it_was(self):
        self.assertIn("every record is as it was written", self.verified)

    def test_work_goes_on_where_it_was(self):
        ana = Person(self.server.address)
        ana.sign_in()
        self.assertEqual(ana.call(f"jobs/{SIGNED}")["status"], "signed")
        self.assertTrue(ana.call(f"records/{SIGNED}/seal")["intact"])
        seq = ana.call(f"jobs/{OPEN}")["seq"]
        said = ana.call(
            f"jobs/{OPEN}/events", {"expected_seq": seq, "events": [note("after the upgrade")]}
        )
        self.assertEqual(said["notes"], ["after the upgrade"])

    def test_addresses_that_others_know_lead_on(self):
        with urllib.request.urlopen(self.server.address + CALENDAR, timeout=30) as answer:
            self.assertIn("/api/v1/calendar/", answer.url)
            self.assertIn(b"BEGIN:VCALENDAR", answer.read())

    def test_back_by_restore(self):
        """The copy that was made before is what the version before reads: tables and rows."""
        with (
            sqlite3.connect(self.copy / "data.sqlite3") as copy,
            sqlite3.connect(self.of_before().database) as before,
        ):
            for table in ("django_migrations", *TABLES):
                question = f"SELECT * FROM {table} ORDER BY id"
                rows = [store.execute(question).fetchall() for store in (copy, before)]
                self.assertEqual(rows[0], rows[1], table)
                self.assertGreater(len(rows[0]), 2)


class Version(SimpleTestCase):
    def test_it_is_the_same_everywhere_and_in_the_changelog(self):
        web = json.loads((ROOT / "web/package.json").read_text())
        newest = re.search(r"^## (\S+)", (ROOT / "CHANGELOG.md").read_text(), re.M)[1]
        self.assertEqual((web["version"], newest), (VERSION, VERSION))

    def test_every_part_that_is_shipped_is_named_with_its_licence(self):
        text = (ROOT / "web/dist/licences.txt").read_text()
        pinned = re.findall(r"^([\w.-]+)\S*==(\S+)", (ROOT / "requirements.txt").read_text(), re.M)
        self.assertGreater(len(pinned), 30)
        for name, version in pinned:
            self.assertRegex(text, rf"(?im)^{re.escape(name)} {re.escape(version)}: \S")
        for name in ("react-dom", "react-router", "@headlessui/react", "jsqr", "d3-scale"):
            self.assertIn(f"## {name} - ", text)
        # The bill of materials of the release (CycloneDX) names the same ones; see docs/running.md.
        for name, file in (("server", pinned), ("interface", [])):
            said = json.loads((ROOT / f"docs/sbom/{name}.json").read_text())
            self.assertEqual(said["bomFormat"], "CycloneDX")
            parts = {(one["name"].lower(), one.get("version")) for one in said["components"]}
            self.assertLessEqual({(n.lower(), v) for n, v in file}, parts)
            self.assertGreater(len(parts), 10)
        # Each is pinned with the sums of its files, and installed with them.
        for file in ("requirements.txt", "requirements-dev.txt", "requirements-sbom.txt"):
            said = (ROOT / file).read_text()
            self.assertEqual(
                len(re.findall(r"^\S+==", said, re.M)),
                len(re.findall(r"^\S+==[^\n]*\\\n\s+--hash=sha256:", said, re.M)),
                file,
            )
        for name in ("atkinson-hyperlegible-mono", "pyodide: MPL-2.0", "CPython"):
            self.assertIn(name, text)
