"""The core's part of make bench: every operation in CPython and in the browser's Python."""

from __future__ import annotations

import json
import os
import time
from typing import Any

#: Runs unchanged in both: medians in milliseconds of every example, and of a full run.
MEASURE = """
import json, statistics, time
from calibration.operations import catalogue, run

def median(name, payload, rounds):
    took = []
    for _ in range(rounds):
        start = time.perf_counter()
        run(name, payload)
        took.append(1000 * (time.perf_counter() - start))
    return statistics.median(took)

ups = [(p, "up") for p in range(0, 101, 10)]
stops = ups + [(p, "down") for p, _ in reversed(ups)]
FULL = {
    "input_lower": "0", "input_upper": "4000", "output_lower": "4", "output_upper": "20",
    "tolerance": {"percent_of_span": "0.25"},
    "readings": [
        {
            "nominal_percent": str(p),
            "applied": str(40 * p + (7 * n) % 5),
            "reading": str(round(4 + 0.16 * p + 0.0004 * p + 0.003 * ((5 * n) % 7 - 3), 4)),
            "direction": way,
        }
        for n, (p, way) in enumerate(stops)
    ],
}
said = {e["name"]: median(e["name"], e["example"], ROUNDS) for e in catalogue()}
said["run.evaluate, 11 points up and down"] = median("run.evaluate", FULL, ROUNDS)
json.dumps(said)
"""
LAST = "json.dumps(said)\n"
AIMS = {
    "decision.risk": 5.0,
    "thermocouple.temperature": 5.0,
    "run.evaluate, 11 points up and down": 2.0,
}


def here(rounds: int = 60) -> dict[str, float]:
    """Return medians in this interpreter. [ms]"""
    space: dict[str, Any] = {"ROUNDS": rounds}
    exec(MEASURE.removesuffix(LAST), space)
    return space["said"]  # type: ignore[no-any-return]


def in_the_browser(rounds: int = 40) -> dict[str, float]:
    """Return medians in the browser's Python, served from our own files. [ms]"""
    os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")
    from playwright.sync_api import sync_playwright

    from tests.browser.base import ARGUMENTS, CHROMIUM
    from tests.browser.test_python_in_the_browser import START
    from tests.process import RealServer

    server = RealServer()
    try:
        server.manage("migrate", "-v", "0")
        server.start()
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
            page = browser.new_page()
            page.goto(server.address)
            page.evaluate(START)
            script = f"ROUNDS = {rounds}\n{MEASURE}"
            page.evaluate("m => window.worker.postMessage(m)", {"id": "bench", "script": script})
            end = time.monotonic() + 240
            while time.monotonic() < end:
                said = page.evaluate("() => window.answers.bench ?? window.answers.failed ?? null")
                if said:
                    browser.close()
                    return json.loads(said["said"])  # type: ignore[no-any-return]
                page.wait_for_timeout(500)
    finally:
        server.close()
    raise TimeoutError("the browser's Python gave no figures")


def rows() -> list[tuple[str, str, str, str, str]]:
    """Return a line for each operation: name, both medians, their ratio, the aim."""
    cpython, browser = here(), in_the_browser()
    return [
        (
            name,
            f"{took:.2f} ms",
            f"{browser[name]:.2f} ms",
            f"{browser[name] / took:.1f}",
            f"≤ {AIMS.get(name, 1.0):g} ms",
        )
        for name, took in sorted(cpython.items(), key=lambda item: -item[1])
    ]


def show() -> None:
    """Print the table."""
    print("\n| operation | CPython, median | browser, median | ratio (≤ 6) | aim in CPython |")
    print("|---|---|---|---|---|")
    for row in rows():
        print("| " + " | ".join(row) + " |")
