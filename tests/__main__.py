"""Run all tests: the core, the replay, the server and, in parts, the browser, side by side.

``python -m tests`` runs everything, ``python -m tests core`` what needs no browser.
"""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from tests.process import SEEDED, RealServer

ROOT = Path(__file__).resolve().parents[1]
RUN = (sys.executable, "manage.py", "test", "--noinput")
#: A worker that dies would be waited for without end. [s]
MOST_S = 9000 if os.environ.get("VERIFYLOOP_LONG") else 1800
SEED = "tests.seed"
FAST = ("tests.core", "tests.replay", "tests.server")
#: Each part about as long as the others, with a server of its own. Five, as they mostly wait.
PARTS = (
    (
        "tests.browser.test_families",
        "tests.browser.test_electrodes",
        "tests.browser.test_detectors",
    ),
    ("tests.browser.test_troubles.Away",),
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
    ("tests.browser.test_analyzers", "tests.browser.test_jobs"),
    ("tests.browser.test_plant", "tests.browser.test_first_day", "tests.browser.test_many"),
    ("tests.browser.test_hands", "tests.browser.test_everywhere"),
    ("tests.browser.test_elsewhere",),
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


def fast() -> list[subprocess.Popen[bytes]]:
    """Start what needs no browser on all processors; what a browser waits for goes first."""
    workers = str(os.cpu_count() or 2)
    environment = {**os.environ, "VERIFYLOOP_JOURNAL": "MEMORY"}
    command = ["nice", "-n", "10", *RUN, "--parallel", workers, *FAST]
    return [subprocess.Popen(command, cwd=ROOT, env=environment)]


def store() -> list[subprocess.Popen[bytes]]:
    """Start what is about the store on a PostgreSQL of its own."""
    return [subprocess.Popen([sys.executable, "-m", "tests.postgres"], cwd=ROOT)]


def browser(folder: str) -> list[subprocess.Popen[bytes]]:
    """Start all parts at the same time."""
    every_test_is_in_a_part()
    running = []
    for number, part in enumerate(PARTS):
        own = {"VERIFYLOOP_DATA": str(Path(folder) / str(number)), "VERIFYLOOP_TEST_MIGRATE": "no"}
        environment = {**os.environ, **own}
        running.append(subprocess.Popen([*RUN, *part], cwd=ROOT, env=environment))
    return running


def fill(folder: str) -> None:
    """Fill the works of the tests once; every server of theirs begins with a copy."""
    server = RealServer()
    server.seed(SEED)
    shutil.copy(server.database, Path(folder) / f"{SEED}.sqlite3")
    shutil.copy(server.keys, Path(folder) / f"{SEED}.keys")
    server.close()
    os.environ[SEEDED] = folder


def main(parts: list[str]) -> int:
    """Return 0 when every part that was asked for passes."""
    with tempfile.TemporaryDirectory(prefix="verifyloop-seeded-") as folder:
        fill(folder)
        return run(parts, folder)


def run(parts: list[str], folder: str) -> int:
    """Run what is asked for side by side: a browser mostly waits. Say how long each took."""
    begun = time.monotonic()
    running: dict[subprocess.Popen[bytes], str] = {}
    if not parts or "browser" in parts:
        running |= dict.fromkeys(browser(folder), "browser")
    if not parts or "core" in parts:
        running |= dict.fromkeys(fast(), "core")
    if not parts or "postgres" in parts:
        running |= dict.fromkeys(store(), "postgres")
    failed = 0
    for process, name in running.items():
        try:
            failed |= process.wait(timeout=MOST_S)
        finally:
            process.kill()
        print(f"{name}: {time.monotonic() - begun:.0f} s", flush=True)
    return failed


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
