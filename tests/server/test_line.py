"""The waiting line before SQLite: one at a time, in order, and nobody waits for the dead."""

from __future__ import annotations

import errno
import signal
import subprocess
import sys
import tempfile
import threading
import time
from pathlib import Path
from unittest import mock

from django.test import SimpleTestCase

from tests.process import ROOT
from verifyloop.sqlite.line import Line, line_of

#: Another process: takes its turn, says so, and has it until it is told to leave or dies.
OTHER = """
import sys
sys.path.insert(0, {root!r})
from verifyloop.sqlite.line import Line
line = Line({path!r})
for told in sys.stdin:
    if told == "in\\n":
        print("in", line.enter(30), flush=True)
    else:
        line.leave()
        print("out", flush=True)
"""


class Lines(SimpleTestCase):
    def setUp(self):
        self.folder = self.enterContext(tempfile.TemporaryDirectory())
        self.path = str(Path(self.folder) / "data-line")
        self.line = Line(self.path)

    def other(self):
        process = subprocess.Popen(
            [sys.executable, "-c", OTHER.format(root=str(ROOT), path=self.path)],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            text=True,
        )
        self.addCleanup(process.communicate)
        self.addCleanup(process.kill)
        return process

    def tell(self, process, what):
        process.stdin.write(f"{what}\n")
        process.stdin.flush()

    def heard(self, process):
        return process.stdout.readline().strip()

    def test_threads_are_let_in_one_at_a_time(self):
        inside, most, begin = [], [], threading.Barrier(8)

        def write():
            begin.wait()
            for _ in range(20):
                self.assertTrue(self.line.enter(30))
                inside.append(1)
                most.append(len(inside))
                inside.pop()
                self.line.leave()

        threads = [threading.Thread(target=write) for _ in range(8)]
        for one in threads:
            one.start()
        for one in threads:
            one.join()
        self.assertEqual((set(most), len(most)), ({1}, 160))

    def test_a_thread_is_told_that_its_turn_did_not_come(self):
        self.assertTrue(self.line.enter(1))
        begun = time.monotonic()
        self.assertFalse(self.line.enter(0.05))
        self.assertLess(time.monotonic() - begun, 5)
        self.line.leave()
        self.assertTrue(self.line.enter(1))
        self.line.leave()

    def test_another_process_comes_between_the_threads_of_this_one(self):
        """Who leaves and comes back at once stands behind the process that waits at the door."""
        other = self.other()
        self.line.enter(1)
        self.tell(other, "in")
        # It stands at the door once that place is taken.
        while not self.taken_at_the_door():
            time.sleep(0.01)
        self.line.leave()
        again = threading.Thread(target=self.line.enter, args=(30,))
        again.start()
        self.assertEqual(self.heard(other), "in True")
        self.assertTrue(again.is_alive())
        self.tell(other, "out")
        self.assertEqual(self.heard(other), "out")
        again.join(30)
        self.assertFalse(again.is_alive())
        self.line.leave()

    def taken_at_the_door(self):
        asked = (
            "import fcntl, sys\n"
            "with open(sys.argv[1], 'r+') as place:\n"
            "    try:\n"
            "        fcntl.lockf(place, fcntl.LOCK_EX | fcntl.LOCK_NB, 1, 0)\n"
            "    except OSError:\n"
            "        sys.exit(1)\n"
        )
        return subprocess.run([sys.executable, "-c", asked, self.path], check=False).returncode == 1

    def test_a_process_that_is_killed_leaves(self):
        other = self.other()
        self.tell(other, "in")
        self.assertEqual(self.heard(other), "in True")
        other.send_signal(signal.SIGKILL)
        self.assertTrue(self.line.enter(30))
        self.line.leave()

    def test_without_a_place_for_its_file_the_store_looks_after_itself(self):
        line = Line(str(Path(self.folder) / "none" / "data-line"))
        self.assertTrue(line.enter(1))
        self.assertFalse(line.enter(0.01))
        line.leave()

    def test_on_a_disk_without_locks_the_store_looks_after_itself(self):
        refused = OSError(errno.ENOLCK, "No locks available")
        with mock.patch("verifyloop.sqlite.line.fcntl.lockf", side_effect=refused):
            for _ in range(2):
                self.assertTrue(self.line.enter(1))
                self.assertFalse(self.line.enter(0.01))
                self.line.leave()

    def test_who_is_interrupted_while_waiting_keeps_nobody_out(self):
        with mock.patch.object(self.line, "_wait_for_others", side_effect=KeyboardInterrupt):
            self.assertRaises(KeyboardInterrupt, self.line.enter, 1)
        self.assertTrue(self.line.enter(1))
        self.line.leave()

    def test_one_file_has_one_line(self):
        place = Path(self.folder) / "data.sqlite3"
        self.assertIs(
            line_of(str(place)), line_of(f"{self.folder}/../{place.parent.name}/{place.name}")
        )
