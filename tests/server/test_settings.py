"""Settings by environment: one table, and each that is missing or wrong stops the start by name."""

from __future__ import annotations

import os
import re
import subprocess
import sys
import tempfile
from pathlib import Path

from django.core.exceptions import ImproperlyConfigured
from django.test import SimpleTestCase

from tests.process import ROOT, RealServer
from verifyloop.environment import SETTINGS, TESTING, Environment

KEY = "k3" * 15 + "-a-long-random-text-of-some-kind"
#: by variable: what it may not be, and what is said beside its name
WRONG = {
    "DATABASE": ("mysql://a@b/c", "postgresql://"),
    "ADDRESS": ("loops.works.example", "https://host/"),
    "WORKERS": ("none", "whole number"),
    "THREADS": ("0", "from 1 to 64"),
    "SECRET_KEY": ("short", "50 random characters"),
    "TIME_ZONE": ("Europe/Nowhere", "no time zone"),
    "LOG": ("xml", "text, json"),
    "PROXIES": ("the proxy", "addresses"),
    "MAIL_PORT": ("smtp", "whole number"),
    "MAIL_TLS": ("perhaps", "yes, no"),
    "OIDC_CLIENT": ("x", "is needed beside"),
    "JOURNAL": ("DELETE", "WAL, MEMORY"),
}


class Table(SimpleTestCase):
    def test_the_page_names_every_setting_and_no_other(self):
        page = (ROOT / "docs/running.md").read_text()
        rows = re.findall(r"^\| `VERIFYLOOP_(\w+)` \| (.*) \| (.*) \|$", page, re.M)
        self.assertEqual(rows, [(s.name, s.default, s.meaning) for s in SETTINGS])

    def test_nothing_else_is_read(self):
        read = set()
        for place in [*(ROOT / "verifyloop").rglob("*.py"), *(ROOT / "deploy").iterdir()]:
            read |= set(re.findall(r"VERIFYLOOP_(\w+)", place.read_text()))
        self.assertEqual(read - {s.name for s in SETTINGS} - TESTING, set())


class Start(SimpleTestCase):
    """Each start is a process of its own, as in service."""

    def setUp(self):
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.folder = Path(place.name)
        (self.folder / "seal.keys").write_text(f"1 {'5e' * 32}\n")

    def check(self, *arguments, **said):
        clean = {k: v for k, v in os.environ.items() if not k.startswith("VERIFYLOOP_")}
        own = {f"VERIFYLOOP_{k}": v for k, v in {"DATA": str(self.folder), **said}.items()}
        return subprocess.run(
            [sys.executable, "manage.py", "check", *arguments],
            cwd=ROOT,
            env={**clean, **{k: v for k, v in own.items() if v}},
            capture_output=True,
            text=True,
            check=False,
        )

    def test_the_check_for_service_finds_nothing(self):
        for path in ("", "loops/"):
            said = self.check(
                "--deploy",
                "--fail-level",
                "WARNING",
                ADDRESS=f"https://loops.works.example/{path}",
                SECRET_KEY=KEY,
            )
            self.assertEqual(said.returncode, 0, said.stderr)
            self.assertIn("no issues", said.stdout)

    def test_a_wrong_one_stops_it_by_its_name(self):
        for name, (value, remedy) in WRONG.items():
            with self.subTest(name):
                said = self.check(**{name: value})
                self.assertNotEqual(said.returncode, 0)
                last = said.stderr.strip().splitlines()[-1]
                self.assertIn("VERIFYLOOP_", last)
                self.assertIn(name.split("_")[0], last)
                self.assertIn(remedy, last)

    def test_a_missing_one_stops_it_by_its_name(self):
        said = self.check(DATA="", ADDRESS="https://loops.works.example/")
        self.assertIn("VERIFYLOOP_DATA: is needed beside VERIFYLOOP_ADDRESS", said.stderr)
        (self.folder / "file").touch()
        said = self.check(DATA=str(self.folder / "file/below"))
        self.assertIn("VERIFYLOOP_DATA:", said.stderr.strip().splitlines()[-1])

    def test_one_that_is_written_wrongly_is_named_with_the_one_that_is_meant(self):
        said = self.check(HOST="x")
        self.assertIn("VERIFYLOOP_HOST: is no setting. VERIFYLOOP_HOSTS?", said.stderr)

    def test_a_password_is_not_shown(self):
        said = self.check(DATABASE="postgres://me:very-secret@h/n")
        self.assertNotIn("very-secret", said.stderr)

    def test_without_the_keys_of_the_seals_it_does_not_serve(self):
        server = RealServer()
        self.addCleanup(server.close)
        said = server.python("-c", "import verifyloop.wsgi")
        self.assertIn("keys of the seals are missing", said.stderr)


class Said(SimpleTestCase):
    def test_every_kind_of_wrong_value_is_refused_in_process_too(self):
        for address in ("https://", "ftp://a/", "https://a/?b", "https://u@a/", "https://a:x/"):
            with self.subTest(address), self.assertRaises(ImproperlyConfigured):
                Environment({"VERIFYLOOP_ADDRESS": address}).address()

    def test_a_path_ends_with_a_slash(self):
        said = Environment({"VERIFYLOOP_ADDRESS": "https://a.example/loops"})
        self.assertEqual(said.address().path, "/loops/")
