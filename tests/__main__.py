"""Run all tests: the rules, the server on both databases and, in parts, the browser, side by side.

``python -m tests`` runs everything, ``python -m tests rules server`` what needs no browser.
"""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from tests.process import SEEDED, RealServer

ROOT = Path(__file__).resolve().parents[1]
RUN = (sys.executable, "manage.py", "test", "--noinput")
#: A worker that dies would be waited for without end. [s]
MOST_S = 9000 if os.environ.get("VERIFYLOOP_LONG") else 1800
SEED = "tests.seed"
RULES = ("tests.core", "tests.replay")
#: So many parts at the same time: each leaves a third of a processor.
AT_ONCE = (os.cpu_count() or 2) + 1
#: Parts of the browser, the longest first, each with a server of its own.
PARTS = (
    (
        "tests.browser.test_plant",
        "tests.browser.test_first_day",
        "tests.browser.test_many",
        "tests.browser.test_troubles.Away",
        "tests.browser.test_elsewhere",
        "tests.browser.test_ways_in",
    ),
    (
        "tests.browser.test_troubles.Entries",
        "tests.browser.test_troubles.Parts",
        "tests.browser.test_troubles.Places",
        "tests.browser.test_troubles.WentWrong",
        "tests.browser.test_bench",
        "tests.browser.test_methods",
        "tests.browser.test_files_and_bench",
        "tests.browser.test_python_in_the_browser",
    ),
    (
        "tests.browser.test_families",
        "tests.browser.test_electrodes",
        "tests.browser.test_detectors",
        "tests.browser.test_if_not",
    ),
    (
        "tests.browser.test_hands",
        "tests.browser.test_everywhere",
    ),
    (
        "tests.browser.test_analyzers",
        "tests.browser.test_jobs",
        "tests.browser.test_no_network",
        "tests.browser.test_walks",
    ),
)
CASE = re.compile(r"^class (\w+)\(\w*Case\)", re.M)


def every_test_is_in_a_part() -> None:
    """Refuse to run while a browser test is in no part: a module, or a class of one."""
    there = set()
    for place in (ROOT / "tests/browser").glob("test_*.py"):
        module = f"tests.browser.{place.stem}"
        split = any(name.startswith(f"{module}.") for part in PARTS for name in part)
        classes = {f"{module}.{name}" for name in CASE.findall(place.read_text())}
        there |= classes if split else {module}
    missing = there - {name for part in PARTS for name in part}
    if missing:
        raise SystemExit(f"Put into one of the parts in tests/__main__.py: {sorted(missing)}")


def call(command: Sequence[str], **more: str) -> int:
    """Run a command to its end; one that hangs is killed and has failed."""
    try:
        return subprocess.run(
            command, cwd=ROOT, env={**os.environ, **more}, timeout=MOST_S, check=False
        ).returncode
    except subprocess.TimeoutExpired:
        return 1


def quick(*labels: str) -> int:
    """Run what needs no browser on all processors; what a browser waits for goes first."""
    workers = str(os.cpu_count() or 2)
    command = ["nice", "-n", "10", *RUN, "--parallel", workers, *labels]
    return call(command, VERIFYLOOP_JOURNAL="MEMORY")


def rules() -> int:
    """Run the core's own and the replay: they need no page."""
    return quick(*RULES)


def server() -> int:
    """Run the server's on SQLite."""
    return quick("tests.server", "tests.walks")


def postgres() -> int:
    """Run what is about the store on a PostgreSQL of its own."""
    return call([sys.executable, "-m", "tests.postgres"])


def browser() -> int:
    """Run the parts, some at a time: more of them would only wait for a processor."""
    every_test_is_in_a_part()
    with tempfile.TemporaryDirectory(prefix="verifyloop-parts-") as folder:

        def one(number: int) -> int:
            own = str(Path(folder) / str(number))
            return call([*RUN, *PARTS[number]], VERIFYLOOP_DATA=own, VERIFYLOOP_TEST_MIGRATE="no")

        with ThreadPoolExecutor(AT_ONCE) as pool:
            return max(pool.map(one, range(len(PARTS))))


KINDS = {"browser": browser, "server": server, "postgres": postgres, "rules": rules}
#: They begin with a copy of the works of the tests.
SERVED = {"browser", "server"}


def fill(folder: str) -> None:
    """Fill the works of the tests once; every server of theirs begins with a copy."""
    server = RealServer()
    server.seed(SEED)
    shutil.copy(server.database, Path(folder) / f"{SEED}.sqlite3")
    shutil.copy(server.keys, Path(folder) / f"{SEED}.keys")
    server.close()
    os.environ[SEEDED] = folder


def timed(name: str) -> int:
    """Run one kind of tests, and say how long it took."""
    begun = time.monotonic()
    failed = KINDS[name]()
    print(f"{name}: {time.monotonic() - begun:.0f} s", flush=True)
    return failed


def main(kinds: list[str]) -> int:
    """Run what is asked for, two kinds at a time; return 0 when all of it passes."""
    with tempfile.TemporaryDirectory(prefix="verifyloop-seeded-") as folder:
        if SERVED & set(kinds or KINDS):
            fill(folder)
        with ThreadPoolExecutor(2) as pool:
            return max(pool.map(timed, kinds or KINDS))


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
