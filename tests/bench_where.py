"""Where an entry, Today and a live picture spend their time, written into docs/speed.md.

    python -m tests.bench_where [PAGE]

Profiled in this process on a small plant, so it says shares, not milliseconds: a call of a small
function costs more under a profiler than without one.
"""

from __future__ import annotations

import cProfile
import json
import os
import pstats
import re
import sys
import tempfile
from collections import defaultdict
from collections.abc import Callable
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
DOCS = ROOT / "docs" / "speed.md"
BEGIN, END = "<!-- where -->\n", "<!-- /where -->\n"
ROUNDS = 40
#: The first that a path holds says whose time it is.
WHOSE = (
    ("the core: rules and figures", "/calibration/"),
    ("asking the store", "/django/db/"),
    ("asking the store", "/verifyloop/sqlite/"),
    ("headers, address, body, answer", "/site-packages/"),
    ("headers, address, body, answer", "/verifyloop/edge/"),
    ("what is ours around the core", "/verifyloop/"),
)
#: Built in: by their own names.
BUILT_IN = (("asking the store", "SQLite"), ("asking the store", "sqlite3"))
OTHER = "Python itself"


def whose(path: str, name: str) -> str:
    """Return whose time a function is."""
    known = BUILT_IN if path == "~" else WHOSE
    text = name if path == "~" else path
    return next((title for title, part in known if part in text), OTHER)


def shares(work: Callable[[int], object]) -> dict[str, float]:
    """Return which share of the time is whose, the largest first."""
    for n in range(3):
        work(n)
    profile = cProfile.Profile()
    profile.enable()
    for n in range(3, ROUNDS + 3):
        work(n)
    profile.disable()
    took: defaultdict[str, float] = defaultdict(float)
    stats = pstats.Stats(profile).stats  # type: ignore[attr-defined]
    for (path, _, name), (_, _, own, _, _) in stats.items():
        took[whose(path, name)] += own
    total = sum(took.values())
    return {k: v / total for k, v in sorted(took.items(), key=lambda one: -one[1])}


def asked() -> dict[str, Callable[[int], object]]:
    """Make a plant of a few; return what is asked of it, by name."""
    from django.test import Client

    from tests.server import works
    from verifyloop.accounts.models import User

    works.people()
    works.shelf()
    for n in range(200):
        works.instrument(f"PT-{n:04d}")
    works.rig(works.instrument("RIG-1"), pace=1.0)
    client = Client()
    client.force_login(User.objects.get(username="ana"))

    def post(path: str, body: dict[str, object]) -> dict[str, object]:
        said = client.post(f"/api/v1/{path}", body, content_type="application/json")
        assert said.status_code == 200, said.content
        return dict(said.json())

    job = post("jobs", {"tag": "PT-0001"})["job"]
    first = {"expected_seq": 1, "events": works.prepared()}
    held = [post(f"jobs/{job}/events", first)["seq"]]
    rigged = post("jobs", {"tag": "RIG-1"})["job"]

    def append(n: int) -> None:
        applied, reading = works.GOOD[n % 9]
        data = {"run": "as_found", "point": n % 9, "applied": applied, "kept": True}
        one = works.event("reading_taken", reading=f"{reading}{n}", **data)
        said = post(f"jobs/{job}/events", {"expected_seq": held[0], "events": [one]})
        held[0] = said["seq"]

    return {
        "an entry": append,
        "Today": lambda n: client.get("/api/v1/today"),
        "a live picture": lambda n: client.get(f"/api/v1/rigs/{rigged}/frame"),
    }


def table(found: dict[str, dict[str, float]]) -> str:
    """Return the shares as a table, a row for each whose time it is."""
    names = list(next(iter(found.values())))
    names += [n for one in found.values() for n in one if n not in names]
    lines = ["| whose time | " + " | ".join(found) + " |", "|---" * (len(found) + 1) + "|"]
    for name in dict.fromkeys(names):
        cells = [f"{100 * one.get(name, 0):.0f} %" for one in found.values()]
        lines.append(f"| {name} | " + " | ".join(cells) + " |")
    return "\n".join(lines) + "\n"


def main(docs: Path = DOCS) -> None:
    """Profile, and write the table into the page."""
    with tempfile.TemporaryDirectory() as folder:
        os.environ["VERIFYLOOP_DATA"] = folder
        os.environ["DJANGO_SETTINGS_MODULE"] = "verifyloop.settings"
        import django

        django.setup()
        from django.conf import settings
        from django.core.management import call_command

        settings.ALLOWED_HOSTS = ["*"]
        call_command("migrate", verbosity=0)
        found = {name: shares(work) for name, work in asked().items()}
    page = docs.read_text()
    pattern = re.escape(BEGIN) + ".*?" + re.escape(END)
    docs.write_text(re.sub(pattern, lambda _: BEGIN + table(found) + END, page, flags=re.DOTALL))
    print(json.dumps(found, indent=1))


if __name__ == "__main__":
    main(*map(Path, sys.argv[1:]))
