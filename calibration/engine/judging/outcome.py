"""What a job came to: one outcome, from all its runs and what was decided about them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from calibration.engine.job.ledger import STOP
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import Method, RunSpec
from calibration.engine.view.outcome_view import Outcome

WORDS = {
    "": "not known yet",
    "within": "within limits",
    "adjusted": "within limits after adjusting",
    "limited": "limited use: outside limits, kept in service",
    "failed": "failed, out of service",
    "stopped": "stopped, not judged",
}
#: Limited use of what is not outside: by what is not so, or by what was not tested.
NOT_SO = "limited use: not all is as it should be"
PART_UNTESTED = "limited use: not all of it was tested"
AFTER_REPAIR = {
    False: "within limits after repair",
    True: "within limits after repair and adjusting",
}
#: Outcomes after which the instrument was left as it should be.
GOOD = ("within", "adjusted")
OPEN = Outcome(id="", words=WORDS[""], why="", good=False)


def standing(job: Reads) -> Iterator[tuple[RunSpec, RunFigures]]:
    """Yield every run with readings that says how the instrument was left.

    A run taken before adjusting no longer does, once its channel was read again after it; every
    other one counts, whatever it was taken for.
    """
    method = job.ledger.method
    again = {r.channel for r in method.runs_of("left") if job.figures(r.id).order}
    for spec in method.runs:
        figures = job.figures(spec.id)
        over = (spec.before or spec.role == "found") and spec.channel in again
        if figures.order and not over and not overtaken(job, spec.id):
            yield spec, figures


def put_right_at_check(job: Reads) -> int:
    """Return when something was set or put right at a check, by its entry; 0 where nothing was.

    What was read before says nothing of how the instrument is left any more.
    """
    method, last = job.ledger.method, 0
    for content, event in job.ledger.repaired:
        step = method.step(content.step)
        if step is not None and step.judges == "check":
            last = event.seq
    return last


def overtaken(job: Reads, run: str) -> bool:
    """Tell whether a run was read before something was put right at a check."""
    since = put_right_at_check(job)
    if not since:
        return False
    taken = job.ledger.readings[run].values()
    return 0 < max((t.event.seq for t in taken), default=0) < since


def outcome(job: Reads) -> Outcome:
    """Return what a job came to, from when it is to be signed on; before that it is open.

    Outside and stopped is failed; outside and kept in service is limited use, with the reason
    that was given. Nothing is within that was not judged. What a paper was issued with stays.
    """
    if job.ledger.issued:
        return Outcome(**job.ledger.issued[-1][0].paper["verdict"]["outcome"])
    if job.ledger.signed is None and (job.current is None or job.current.kind != "sign"):
        return OPEN
    found = _worked_out(job)
    reasons = "; ".join(a.decided.reason for a in job.ledger.attempts)
    said = f"The test was repeated: {reasons}." if reasons else ""
    missing = sum(
        point not in job.ledger.readings[run]
        for run, points in job.ledger.left_out.items()
        for point in points
    )
    if missing:
        said += f" Not read, as it could not be reached: {missing} of the points."
    why = found.why if not found.why or found.why.endswith(".") else f"{found.why}."
    return replace(found, why=f"{why} {said}".strip() if said else found.why)


def _worked_out(job: Reads) -> Outcome:
    runs = list(standing(job))
    bad = ", ".join(dict.fromkeys(s.title.lower() for s, f in runs if f.mark == "outside"))
    reasons = {
        content.choice: content.reason
        for step, (content, _) in job.ledger.decided.items()
        if (found := job.ledger.method.step(step)) is not None and found.kind == "decide"
    }
    lines = [f"{c.said or c.item} ({c.what})" for c in job.ledger.lacking.values()]
    lacking = "; ".join((*lines, *job.lacks))
    said = f"Outside limits: {bad}." if bad else ""
    said += f" Not so: {lacking}." if lacking else ""
    untested = "; ".join(job.untested)
    said += f" Not tested: {untested}." if untested else ""
    ended = job.ledger.ended
    if ended is not None or STOP in reasons:
        why = ended[0].reason if ended is not None else reasons[STOP]
        by_person = ended is not None and ended[0].state == "failed"
        failed = (bad and not job.test_in_doubt) or lacking or by_person
        kept = job.ledger.left_as is not None and job.ledger.left_as[0].state == "in_service"
        id = ("limited" if kept and not by_person else "failed") if failed else "stopped"
        said += " The test itself is in doubt." if bad and job.test_in_doubt else ""
        return _of(job, id, f"{said} {why[:1].upper()}{why[1:]}")
    if lacking and job.ledger.method.lacks == "failed":
        return _of(job, "failed", said)
    if bad or lacking or untested:
        reason = next((r for r in reasons.values() if r), "")
        limited = _of(job, "limited", f"{said} {reason} {_limit(job)}")
        if bad or "limited" in job.ledger.method.outcomes:
            return limited
        return replace(limited, words=NOT_SO if lacking else PART_UNTESTED)
    if all(f.mark == "none" for _, f in runs):
        return _of(job, "stopped", "No reading could be judged.")
    return _of(job, "adjusted" if job.ledger.changes else "within", "")


def words_of(method: Method, id: str) -> str:
    """Return what an outcome is called in a method."""
    return method.outcomes.get(id, WORDS[id])


def _limit(job: Reads) -> str:
    """Return how far it may be used, where that was asked."""
    if job.ledger.limited is None:
        return ""
    content = job.ledger.limited[0]
    until = f", until {content.until}" if content.until else ""
    return f"Limited to: {content.limit}{until}."


def _of(job: Reads, id: str, why: str) -> Outcome:
    why = " ".join(why.split())
    why = why[:1].upper() + why[1:]
    words = words_of(job.ledger.method, id)
    if id == "adjusted" and job.ledger.repaired:
        words = AFTER_REPAIR[job.ledger.set_times > 0]
    return Outcome(id=id, words=words, why=why, good=id in GOOD)  # type: ignore[arg-type]
