"""Keeps the worker of background tasks running: ``python -m verifyloop.background``.

The server starts it and it ends with the server, however that ends. A worker that died is
started again, later each time.
"""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
FIRST, LONGEST, LOOK = 1.0, 60.0, 0.5


def main() -> None:
    """Watch over the worker until the server is gone."""
    server, wait = os.getppid(), FIRST
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    while True:
        worker = subprocess.Popen([sys.executable, "manage.py", "worker"], cwd=ROOT)
        begun = time.monotonic()
        try:
            while worker.poll() is None:
                time.sleep(LOOK)
                if os.getppid() != server:
                    return
        finally:
            worker.terminate()
            try:
                worker.wait(20)
            except subprocess.TimeoutExpired:
                worker.kill()
        wait = FIRST if time.monotonic() - begun > LONGEST else min(LONGEST, 2 * wait)
        print(f"The worker of background tasks ended; it begins again in {wait:.0f} s.", flush=True)
        time.sleep(wait)


if __name__ == "__main__":
    main()
