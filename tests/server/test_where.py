"""The page of docs that says whose time a request takes is drawn by a command, as told there."""

import re
import subprocess
import sys
import tempfile
from pathlib import Path

from django.test import SimpleTestCase

from tests.bench_where import BEGIN, DOCS, END
from tests.process import ROOT


class Drawn(SimpleTestCase):
    def test_the_command_draws_the_table_again_and_leaves_the_rest(self):
        with tempfile.TemporaryDirectory() as folder:
            page = Path(folder) / "speed.md"
            page.write_text(DOCS.read_text())
            command = [sys.executable, "-m", "tests.bench_where", str(page)]
            done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True)
            self.assertEqual(done.returncode, 0, done.stderr)
            before, after = (re.split(f"{BEGIN}|{END}", p.read_text()) for p in (DOCS, page))
        self.assertEqual((before[0], before[2]), (after[0], after[2]))
        rows = [line.strip("| ").split(" | ") for line in after[1].splitlines()]
        self.assertEqual(rows[0][1:], ["an entry", "Today", "a live picture"])
        for column in (1, 2, 3):
            self.assertAlmostEqual(sum(int(r[column].strip(" %")) for r in rows[2:]), 100, delta=3)
