"""What ``make test`` does in a small way and ``make long`` in full.

The tables of docs/methods come from the full counts. The small counts have rows of their own in
tests/core/rows, so that a change of the rules is seen within minutes.
"""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import current_process, get_context
from pathlib import Path
from typing import Any
from unittest import skipUnless

LONG = bool(os.environ.get("VERIFYLOOP_LONG"))
ROWS = Path(__file__).parent / "core" / "rows"
DOCS = Path(__file__).resolve().parents[1] / "docs" / "methods"


def several(full: int, small: int) -> int:
    """Return how many of something are tried."""
    return full if LONG else small


def in_long(test: Any) -> Any:
    """Keep a test for the long run: what it walks is walked by others in another way as well."""
    return skipUnless(LONG, "in make long")(test)


def table(name: str) -> Path:
    """Return the file that holds what is counted, in full or in small."""
    return (DOCS if LONG else ROWS) / name


def spread(work: Callable[..., Any], *tasks: Iterable[Any], chunk: int = 25) -> list[Any]:
    """Do many tasks; the full count over all processors, where this is not one of many already."""
    if not LONG or current_process().daemon:
        return list(map(work, *tasks))
    with ProcessPoolExecutor(mp_context=get_context("spawn")) as pool:
        return list(pool.map(work, *tasks, chunksize=chunk))
