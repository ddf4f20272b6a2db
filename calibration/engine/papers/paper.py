"""Parts of a certificate that the list of ISO/IEC 17025:2017, 7.8.2 to 7.8.4, asks for."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Any

from calibration.decisions.tolerance import in_words as tolerance_words
from calibration.engine.job import event_words
from calibration.engine.job.events import AssetFacts, Event
from calibration.engine.job.history import choice_words, in_words
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import NOT_HERE, Attempt, Ledger
from calibration.engine.judging.outcome import standing
from calibration.engine.view.axis import PERCENT, Axis
from calibration.engine.view.state import PointState, RunState
from calibration.engine.view.verdict import OUTCOMES
from calibration.kernel.numbers import to_float
from calibration.kernel.rounding import expanded, fixed, trimmed

#: What is counted by its own name among the entries of a person; one, and several.
FIRST = {"reading_taken": ("reading", "readings")}
COUNTED = {
    "written": ("setting written", "settings written"),
    "decided": ("decision", "decisions"),
}
ENDED = {"signed": "signed", "reviewed": "reviewed", "opened": "opened the job"}


def issue(number: int, at: str, *, what: str = "", reason: str = "", late: str = "") -> Any:
    """Return which issue of the paper it is, and what is different from the one before."""
    return {
        "number": number,
        "issued_at": at,
        "replaces": number - 1 if number > 1 else None,
        "what": what,
        "reason": reason or late,
        "late": bool(late),
    }


def people(events: Sequence[Event]) -> list[dict[str, str]]:
    """Return everybody who has an entry in the job, with what they did, in order of coming."""
    by: dict[tuple[str, str, str], Counter[str]] = {}
    for event in events:
        by.setdefault((event.by, event.account, event.role), Counter())[event.kind] += 1
    return [
        {"name": name, "account": account, "role": role, "did": _did(kinds)}
        for (name, account, role), kinds in by.items()
    ]


def _did(kinds: Counter[str]) -> str:
    counts = {**FIRST, **event_words.COUNTED, **COUNTED}
    entries = sum(count for kind, count in kinds.items() if kind not in ENDED)
    counted = [
        f"{kinds[kind]} {words[kinds[kind] > 1]}" for kind, words in counts.items() if kinds[kind]
    ]
    said = [ENDED[kind] for kind in ENDED if kinds[kind]]
    if entries:
        inside = f" ({', '.join(counted)})" if counted else ""
        said.insert(0, f"{entries} {'entry' if entries == 1 else 'entries'}{inside}")
    return ", ".join(said)


def deviations(job: Job) -> list[str]:
    """Return where the work went another way than its procedure, each with the reason given."""
    ledger, method = job.ledger, job.ledger.method
    said = []
    for id, waived in ledger.waived.items():
        step = method.step(id)
        said.append(f"{step.title if step else id}: no wait ({waived.reason}).")
    for lacking, event in ledger.failed.values():
        put_right = (lacking.step, lacking.item) in ledger.confirmed
        then = ", then put right" if put_right else ""
        said.append(f"{in_words(ledger, event)}{then}.")
    for _, event in ledger.untold.values():
        said.append(f"{in_words(ledger, event)}.")
    if ledger.ended is not None:
        said.append(f"{in_words(ledger, ledger.ended[1])}.")
    for number, attempt in enumerate(ledger.attempts, 1):
        words = event_words.CHOICE_WORDS[attempt.decided.choice]
        measured = _measured_then(job.at_attempt(number), attempt)
        said.append(f"Outside at first; {words} ({attempt.decided.reason}).{measured}")
    for name, chosen in ledger.used:
        if chosen.reason:
            warning = _warning(job, name, chosen.asset)
            if warning:
                said.append(f"{chosen.asset.asset} used in spite of: {warning} ({chosen.reason}).")
    for id, (content, _) in ledger.decided.items():
        step = method.step(id)
        own = step is not None and step.kind not in ("decide", "checklist")
        if step is not None and (own or content.choice == NOT_HERE) and content.reason:
            words = choice_words(method, content)
            said.append(f"{step.title}: {words} ({content.reason}).")
    for again, _, count in ledger.dropped:
        readings = "one reading" if count == 1 else f"{count} readings"
        said.append(
            f"{method.run(again.run).title}: begun again after {readings} ({again.reason})."
        )
    for run, out in ledger.left_out.items():
        for point, left in sorted(out.items()):
            if point not in ledger.readings[run]:
                at = trimmed(job.figures(run).plan[point].nominal_percent)
                said.append(f"{method.run(run).title}: no reading at {at} % ({left.reason}).")
    kept = [
        spec.title
        for spec in method.runs
        for taken in ledger.readings[spec.id].values()
        if taken.content.kept
    ]
    for title, count in Counter(kept).items():
        values = "one value" if count == 1 else f"{count} values"
        said.append(f"{title}: {values} kept when asked whether it was a slip.")
    return said


def _measured_then(job: Job, attempt: Attempt) -> str:
    """Return what was written down for a test alone that was taken again; it is asked anew."""
    said = [
        f"{field.label}: {attempt.recorded[step.id, field.id][0]} {field.unit}".strip()
        for step in job.ledger.method.steps
        if step.kind == "record"
        for field in job.fields(step)
        if (step.id, field.id) in attempt.recorded
    ]
    return f" Before that, {'; '.join(said)}." if said else ""


def _warning(job: Job, name: str, asset: AssetFacts) -> str:
    """Return the warning that a reference was chosen in spite of, in its own words."""
    role = next((r for s in job.ledger.method.steps for r in s.roles if r.id == name), None)
    own = job.family.assets.get(role.quantity) if role is not None else None
    if role is None or own is None:
        return job.warning_for(asset).why_not.rstrip(".")
    return own.words(job, role, asset)[2].rstrip(".")


def runs_said(job: Job) -> list[dict[str, Any]]:
    """Return how each run ended that says how the instrument was left, or was found."""
    counts = {spec.id for spec, _ in standing(job)}
    return [
        {
            "run": spec.id,
            "title": spec.title,
            "role": spec.role,
            "mark": job.figures(spec.id).mark,
            "stands": spec.id in counts,
            "tolerance": _tolerance(job, spec.id),
        }
        for spec in job.ledger.method.runs
        if job.figures(spec.id).order
    ]


def _tolerance(job: Job, run: str) -> str:
    facts = job.figures(run).facts
    return tolerance_words(facts.tolerance, facts.input_unit, facts.output_unit)


def traced(ledger: Ledger) -> str:
    """Return by what the results are traceable; it claims no more than the records say."""
    used = [c.asset for _, c in ledger.used]
    if not used:
        return "No reference was chosen: the results are not traceable."
    named = [a for a in used if a.certificate and a.issued_by]
    missing = [a.asset for a in used if a not in named]
    said = (
        "The results are traceable to the International System of Units through the "
        "certificates of the references listed."
    )
    if not missing:
        return said
    return (
        f"Traceability is not shown for {', '.join(missing)}: no issuing laboratory on record."
        if not named
        else f"{said} It is not shown for {', '.join(missing)}: no issuing laboratory on record."
    )


def what_follows(ledger: Ledger) -> dict[str, Any]:
    """Return how it was left that was not put back, how far it may be used, what to look into."""
    impact, limited = ledger.impact, ledger.limited
    return {
        "left": [in_words(ledger, ledger.left_as[1])] if ledger.left_as else [],
        "limited": [in_words(ledger, limited[1])] if limited else [],
        "last_good": impact[0].last_good if impact else "",
        "affected": impact[0].affected if impact else "",
        "told": impact[0].told if impact else "",
    }


def points(job: Job, run: RunState) -> list[dict[str, Any]]:
    """Return the points of a run that were read, as text and as numbers, each with its U and k."""
    figures = job.figures(run.id)
    return [
        {
            "nominal_percent": p.label.lstrip("▲▼ "),
            "direction": p.direction,
            "cycle": p.cycle,
            "applied": p.applied,
            "ideal": p.ideal,
            "reading": p.reading,
            "digital": p.digital,
            "indicated": p.indicated,
            "error_percent": p.error,
            "error": p.error_text,
            "limit_percent": p.limit,
            "mark": p.mark,
            "source": p.source,
            "taken_early": p.early,
            "at_percent": round(p.input_percent, 4),
            "error_exact": p.error_percent,
            "limit_exact": p.limit_percent,
            **({"counts_as": p.counts_as} if p.counts_as else {}),
            **_certainty(figures, p),
            **_in_unit(figures, p, run.axis),
        }
        for p in run.points
        if p.event
    ]


def _in_unit(figures: Any, p: PointState, axis: Axis) -> dict[str, str]:
    """Return limit and U in the unit in which the errors of the run are said; none in % of span."""
    if axis.unit == PERCENT:
        return {}
    if not p.error:
        return {"limit": "", "uncertainty": ""}
    place = figures.order.index(p.index)
    u = figures.budgets[place].expanded_uncertainty
    return {
        "limit": trimmed(fixed(figures.result.points[place].limit, 4)),
        "uncertainty": expanded(u * axis.per_percent) if u > 0 else "none",
    }


def _certainty(figures: Any, p: PointState) -> dict[str, Any]:
    """Return uncertainty and decision of one point, and its values as numbers."""
    place = figures.order.index(p.index)
    content, budget = figures.taken[p.index].content, figures.budgets[place]
    judged, known = p.mark != "none", budget.expanded_uncertainty > 0
    numbers = {
        "applied": content.applied,
        "reading": content.reading,
        "digital": content.digital,
        "indicated": content.indicated,
        "ideal": figures.result.points[place].ideal,
    }
    # What was answered by yes or no is no number.
    answered = not p.error
    return {
        "uncertainty_percent": expanded(budget.expanded_uncertainty) if known else "none",
        "k": f"{budget.k:.2f}" if known else "",
        "decision": OUTCOMES[figures.decisions[place].outcome] if judged else "not judged",
        "probability_outside": p.outside_probability if judged else "",
        "numbers": {
            **{name: None if v is None or answered else to_float(v) for name, v in numbers.items()},
            "error_percent": None if answered else p.error_percent,
            "limit_percent": None if answered else p.limit_percent,
            "uncertainty_percent": budget.expanded_uncertainty if known else None,
            "k": budget.k if known else None,
        },
    }
