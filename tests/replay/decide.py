"""Take over what kept jobs give now, where that is a decision; show it line by line first.

``python -m tests.replay.decide`` only shows: what differs on papers, each line before and now, and
which parts of states. With ``--write`` it is kept in ``today/``, and the lines are written down in
``decided/NUMBER.md``, NUMBER being that of the decision in ``DECISIONS.md``.
"""

from __future__ import annotations

import argparse
import gzip
import re
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from typing import Any

from calibration.engine.job.sealing import canonical
from tests.replay.adapter import changes, flat
from tests.replay.play_again import JOBS, looks, papers, read, refusal
from tests.replay.raw import TODAY, raw_paper, today

DECIDED = Path(__file__).with_name("decided")
#: So many lines of one paper are written out; the others are counted.
MOST_LINES = 40
INDEX = re.compile(r"\.\d+(?=\.|$)")


def given(job: dict[str, Any]) -> dict[str, Any]:
    """Return what a kept job gives now, in the shape in which it is kept."""
    known, raw = (job["method"], job["version"], job["events"]), job.get("raw", False)
    states: list[dict[str, Any]] = []
    before: dict[str, Any] = {}
    for now in looks(*known, raw=raw):
        states.append(changes(before, now))
        before = now
    refused = [
        [after, tried, refusal(*known[:2], job["events"][:after], tried)]
        for after, tried, _ in job["refused"]
    ]
    return {"states": states, "papers": papers(*known, raw=raw), "refused": refused}


def whole(states: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Return states as a whole, from what changed each time."""
    seen, found = {}, []
    for change in states:
        seen = {k: v for k, v in seen.items() if k not in change.get("gone", ())}
        seen |= {k: v for k, v in change.items() if k != "gone"}
        found.append(seen)
    return found


def of_file(place: Path) -> tuple[Path, list[dict[str, Any]], list[str], Counter[str]]:
    """Return a file's jobs as they read now, lines in which papers differ, and parts of states."""
    lines, parts, kept = [], Counter(), []
    before = today(place)
    for job in read(place):
        name, now = job["name"], given(job)
        paper = raw_paper(job["method"], job["version"], job["events"])
        was = before.get(name, {})
        one = {"name": name, "paper": paper}
        if was.get("otherwise"):
            one["otherwise"] = was["otherwise"]
        if any(now[part] != job[part] for part in now):
            one["otherwise"] = now
            for old, new in zip(whole(job["states"]), whole(now["states"]), strict=True):
                differ = {p for p in {*old, *new} if old.get(p) != new.get(p)}
                parts.update({INDEX.sub("", p) for p in differ})
            old = {(after, tried["id"]): said for after, tried, said in job["refused"]}
            for after, tried, said in now["refused"]:
                if old[after, tried["id"]] != said:
                    lines.append(f"- {name}, entry {after} {tried['kind']}: refused {said[:1]}")
        if "paper" in was:
            lines += _lines(name, flat(was["paper"] or {}), flat(paper))
        kept.append(one)
    return place, kept, lines, parts


def _lines(name: str, old: dict[str, Any], new: dict[str, Any]) -> list[str]:
    differ = sorted(p for p in {*old, *new} if old.get(p) != new.get(p))
    said = [f"- {name} `{p[1:]}`: {old.get(p)!r} → {new.get(p)!r}" for p in differ[:MOST_LINES]]
    more = len(differ) - MOST_LINES
    return said + ([f"- {name}: {more} lines more"] if more > 0 else [])


def write(place: Path, kept: list[dict[str, Any]]) -> None:
    """Keep what a file's jobs give now."""
    TODAY.mkdir(exist_ok=True)
    with gzip.GzipFile(TODAY / place.name, "wb", mtime=0) as out:
        for one in kept:
            out.write((canonical(one) + "\n").encode())


def main() -> None:
    """Show what differs, and keep it when asked to."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--write", type=int, help="number of the decision")
    asked.add_argument("methods", nargs="*")
    said = asked.parse_args()
    places = [p for p in sorted(JOBS.iterdir()) if not said.methods or _of(p) in said.methods]
    report = []
    with ProcessPoolExecutor() as pool:
        for place, kept, lines, parts in pool.map(of_file, places):
            if said.write is not None:
                write(place, kept)
            if lines or parts:
                report += [f"## {place.name.removesuffix('.jsonl.gz')}", *lines]
                counted = ", ".join(f"{part} {n}" for part, n in parts.most_common(12))
                report += [f"Parts of states, by how many: {counted}"] if counted else []
    print("\n".join(report) or "Nothing differs.")
    if said.write is not None and report:
        DECIDED.mkdir(exist_ok=True)
        text = f"# Decision {said.write}, line by line\n\n" + "\n".join(report) + "\n"
        (DECIDED / f"{said.write}.md").write_text(text)


def _of(place: Path) -> str:
    return place.name.split(".")[0]


if __name__ == "__main__":
    main()
