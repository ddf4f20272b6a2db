"""Calculators of the Bench that a chromatograph's steps lead to."""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.view.bench_links import link
from calibration.engine.view.blocks import BenchLink
from calibration.families.chromatograph.injections import taken, to_compare, to_time
from calibration.families.chromatograph.words import Injection


def bench(job: Reads) -> tuple[BenchLink, ...]:
    """Return the comparison of the last two injections, and the retention of the last."""
    step = job.current
    if not isinstance(step, Injection) and (step is None or step.kind != "decide"):
        return ()
    seen = taken(job.ledger)
    places = sorted(seen)
    found = []
    if len(places) > 1:
        first, second = (seen[place] for place in places[-2:])
        asked = to_compare(job.ledger, job.settings, first, second)
        found.append(link("injections.compare", "Do these two agree?", asked))
    if places and (times := to_time(job.ledger, seen[places[-1]])).peaks:
        found.append(link("retention.check", "Are the peaks where they belong?", times))
    return tuple(found)
