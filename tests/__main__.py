"""Run all tests: the core, the replay and the server side by side, then the browser in five parts.

``python -m tests`` runs everything, ``python -m tests core`` what needs no browser.
"""

from __future__ import annotations

import os
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
        "tests.browser.test_methods",
    ),
    (
        "tests.browser.test_troubles",
        "tests.browser.test_python_in_the_browser",
    ),
    (
        "tests.browser.test_bench",
        "tests.browser.test_electrodes",
    ),
    ("tests.browser.test_hands",),
    (
        "tests.browser.test_jobs",
        "tests.browser.test_detectors",
        "tests.browser.test_everywhere",
    ),
)


def every_module_is_in_a_part() -> None:
    """Refuse to run while a browser test is in no part."""
    there = {f"tests.browser.{p.stem}" for p in (ROOT / "tests/browser").glob("test_*.py")}
    missing = there - {module for part in PARTS for module in part}
    if missing:
        raise SystemExit(f"Put into one of the parts in tests/__main__.py: {sorted(missing)}")


def fast() -> int:
    """Run what needs no browser on all processors."""
    workers = str(os.cpu_count() or 2)
    environment = {**os.environ, "VERIFYLOOP_JOURNAL": "MEMORY"}
    command = [*RUN, "--parallel", workers, *FAST]
    return subprocess.run(
        command, cwd=ROOT, env=environment, timeout=MOST_S, check=False
    ).returncode


def browser() -> int:
    """Run all parts at the same time."""
    every_module_is_in_a_part()
    with tempfile.TemporaryDirectory(prefix="verifyloop-parts-") as folder:
        running = []
        for number, part in enumerate(PARTS):
            environment = {**os.environ, "VERIFYLOOP_DATA": str(Path(folder) / str(number))}
            running.append(subprocess.Popen([*RUN, *part], cwd=ROOT, env=environment))
        return max(process.wait() for process in running)


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
        return run(parts)


def run(parts: list[str]) -> int:
    """Run one part after the other; say how long each took."""
    failed = 0
    for name, part in (("core", fast), ("browser", browser)):
        if parts and name not in parts:
            continue
        begun = time.monotonic()
        failed |= part()
        print(f"{name}: {time.monotonic() - begun:.0f} s", flush=True)
    return failed


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
