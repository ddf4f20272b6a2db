"""Looking at many jobs: by several processes, saying how far it is."""

from __future__ import annotations

import multiprocessing
import os
import time
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from functools import partial

from django.db import connections, transaction

from verifyloop.records.verify import check_key, differs_today
from verifyloop.records.verify.finding import Finding

#: Jobs that a process looks at before it says so; fewer than this are looked at by one.
CHUNK, FEW = 50, 400
#: How often somebody is told how far it is. [s]
TELL_S = 2.0


@dataclass
class Looked:
    """What came of some jobs: what does not fit, and whose paper would be written otherwise."""

    keys: Sequence[int]
    findings: list[Finding]
    differ: list[str]


def look(keys: Sequence[int], *, quick: bool) -> Looked:
    """Look at some jobs, one after the other."""
    findings = [one for key in keys for one in check_key(key, quick=quick)]
    differ = [] if quick or findings else [said for key in keys if (said := differs_today(key))]
    return Looked(keys, findings, differ)


def look_at(
    keys: Sequence[int], *, quick: bool, tell: Callable[[int, int, float], None]
) -> Iterator[Looked]:
    """Yield what comes of many jobs, in their order.

    ``tell``: is told now and then how many are done, of how many, and how long it will take. [s]
    """
    chunks = [keys[n : n + CHUNK] for n in range(0, len(keys), CHUNK)]
    begun = told = time.monotonic()
    done = 0
    for looked in _several(partial(look, quick=quick), chunks, len(keys)):
        done += len(looked.keys)
        yield looked
        if (now := time.monotonic()) - told >= TELL_S:
            told = now
            tell(done, len(keys), (now - begun) / done * (len(keys) - done))


def _several(
    work: Callable[[Sequence[int]], Looked], chunks: Sequence[Sequence[int]], count: int
) -> Iterator[Looked]:
    processes = os.cpu_count() or 1
    if count < FEW or processes < 2 or transaction.get_connection().in_atomic_block:
        yield from map(work, chunks)
        return
    # A process of its own opens its own connection.
    connections.close_all()
    fork = multiprocessing.get_context("fork")
    with ProcessPoolExecutor(processes, mp_context=fork) as pool:
        yield from pool.map(work, chunks)
