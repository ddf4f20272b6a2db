"""The benchmark's plant: 10,000 instruments and 30,000 results from before, by lists over HTTP."""

from __future__ import annotations

import csv
import io
import json
import time
from collections.abc import Iterator
from datetime import date, timedelta
from typing import Any

INSTRUMENTS, YEARS = 10_000, 3


def lists(today: date) -> Iterator[tuple[str, bytes]]:
    """Yield the lists of a large plant: each instrument due within a year, checked each year."""
    # The product is looked at once the benchmark has said where its data are.
    from tests.server.first_list import first_list

    rows = list(csv.reader(io.StringIO(first_list(INSTRUMENTS, str(today)).decode("utf-8-sig"))))
    due, tag = rows[0].index("next_due"), rows[0].index("tag")
    results = [["tag", "day", "report", "by", "found_error", "left_error", "limit"]]
    for n, row in enumerate(rows[1:]):
        row[due] = str(today + timedelta(days=n % 365))
        for year in range(YEARS):
            day = str(today - timedelta(days=100 + 365 * year + n % 200))
            left = "0.05" if n % 5 == 0 else ""
            error = str((n % 7 - 3) / 10)
            results.append([row[tag], day, f"P-{n}-{year}", "Jo", error, left, "0.5"])
    yield "instruments", _csv(rows)
    yield "results", _csv(results)


def _csv(rows: list[list[str]]) -> bytes:
    out = io.StringIO()
    csv.writer(out).writerows(rows)
    return out.getvalue().encode()


def bring_along(visitor: Any, today: date) -> list[tuple[str, str, str, str]]:
    """Bring both lists in as a planner does; return how long each look and each storing took."""
    found = []
    for kind, content in lists(today):
        mark = ""
        for doing, aim in (("looked at", "none set"), ("stored", "≤ 60 s")):
            start = time.perf_counter()
            said = _send(visitor, kind, content, mark)
            took = time.perf_counter() - start
            steps, last = [x for x in said if "doing" in x], said[-1]
            assert last["sums"].get("refused", 0) == 0, last
            assert last["kept"] == bool(mark) and len(steps) > 10
            mark = last["mark"]
            rows = last["sums"]["new"]
            what = f"{rows} {kind} by a list: {doing}, {len(steps)} times told how far"
            found.append((what, f"{took:.1f} s", "", aim))
    return found


def _send(visitor: Any, kind: str, content: bytes, mark: str) -> list[dict[str, Any]]:
    edge = "a-line-that-is-in-no-list"
    parts = [
        f'--{edge}\r\nContent-Disposition: form-data; name="accept"\r\n\r\n{mark}\r\n'.encode(),
        f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="list.csv"\r\n'
        f"Content-Type: text/csv\r\n\r\n".encode(),
        content,
        f"\r\n--{edge}--\r\n".encode(),
    ]
    shape = f"multipart/form-data; boundary={edge}"
    said = visitor.raw("POST", f"/api/v1/lists/{kind}", b"".join(parts), shape)
    return [json.loads(line) for line in said.splitlines()]
