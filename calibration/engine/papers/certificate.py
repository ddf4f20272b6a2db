"""The certificate of a signed job as plain data; papers in every format are made from it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from calibration.engine.job.clocks import jumps
from calibration.engine.job.event_words import CHOICE_WORDS
from calibration.engine.job.events import Event, InstrumentFacts
from calibration.engine.job.history import in_words
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import Ledger
from calibration.engine.judging.covering import covers, serials
from calibration.engine.judging.outcome import overtaken, standing
from calibration.engine.method.family import no_sections
from calibration.engine.papers.paper import (
    deviations,
    issue,
    people,
    points,
    runs_said,
    traced,
    what_follows,
)
from calibration.engine.view.state import JobState, RunState
from calibration.kernel.codec import encode

VERDICTS = {
    "within": "within limits",
    "near": "within limits, past the adjust limit",
    "none": "not judged",
}
FORMAT = "verify-loop-certificate/5"
CAUTION = (
    "The figures hold for the day and the conditions stated. Whether the instrument may be used "
    "is decided by site procedure, local code and licensed practice."
)
ONLY_IN_FULL = "This certificate may be copied only in full, unless the laboratory agrees."


@dataclass(frozen=True, kw_only=True)
class Beside:
    """What a paper says that is not in the job: the laboratory, and where it stands."""

    site: Mapping[str, str]
    #: last line of the register before it, and that line's seal
    register: tuple[int, str] = (0, "")
    rules: str = ""
    issued_at: str = ""
    #: why it is issued later than it was signed
    late: str = ""
    #: every entry of the job, for who did what
    events: Sequence[Event] = ()


NOWHERE = Beside(site={})


def certificate(core: Job, state: JobState, head: str, beside: Beside = NOWHERE) -> dict[str, Any]:
    """Return the certificate of a job and its state; ``head`` is the seal before its own."""
    ledger, facts = core.ledger, core.ledger.facts
    left = state.as_left if state.as_left and state.as_left.taken else state.as_found
    return {
        "format": FORMAT,
        "title": ledger.method.paper,
        "number": state.job,
        "follows": state.follows,
        **({"work_order": ledger.opened.work_order} if ledger.opened.work_order else {}),
        "issue": issue(1, beside.issued_at, late=beside.late),
        "site": dict(beside.site),
        "method": {
            "title": state.method,
            "version": state.method_version,
            "sources": ledger.method.sources,
            "deviations": [*deviations(core), *jumps(beside.events)],
        },
        "instrument": {
            "tag": facts.tag,
            "serial": facts.serial,
            **({"serials": list(whose)} if (whose := serials(core)) else {}),
            "maker": facts.maker,
            "model": facts.model,
            "description": facts.description,
            "area": facts.area,
            "range": state.instrument.range,
            "output": state.instrument.output,
            "tolerance": state.instrument.tolerance,
            "tolerance_source": facts.tolerance_source,
            "input_unit": facts.input_unit,
            "output_unit": facts.output_unit,
            "record": _record(facts),
            "condition": _condition(ledger),
        },
        "performed": {
            "opened_at": state.opened_at,
            "signed_at": state.signed_at,
            "signed_by": state.signed_by,
            "account": ledger.signed[1].account if ledger.signed else "",
            "statement": ledger.signed[0].statement if ledger.signed else "",
            **_of_account(ledger),
            "people": people(beside.events),
        },
        "verdict": {
            "as_found": _verdict(state.as_found),
            "as_left": _left_as(core, left) if state.outcome.good else state.outcome.words,
            "adjusted": ledger.set_times > 0,
            "outcome": encode(state.outcome),
            "runs": runs_said(core),
        },
        "covers": list(covers(core)),
        "references": _references(ledger),
        "traceability": traced(ledger),
        "environment": _recorded(core, "environment"),
        "settings_found": _recorded(core, "settings"),
        "as_found": _run(core, state.as_found),
        "as_left": _run(core, state.as_left or _not_taken(state.as_found)),
        "extra_runs": [
            {"title": run.title, "verdict": _verdict(run), **_run(core, run)}
            for run in state.extra_runs
            if run.taken
        ],
        **no_sections(),
        **core.family.sections(core),
        "settings_written": _written(ledger),
        "adjustments": _adjustments(ledger),
        "judgement": {
            "causes": _causes(state),
            "decisions": _decisions(ledger),
            "rule": state.judgement.rule,
            "uncertainty": state.judgement.uncertainty,
            "accuracy_ratio": state.judgement.ratio,
            "probability_outside": state.judgement.probability_outside,
            "adjusting": state.instrument.school,
        },
        "what_follows": what_follows(ledger),
        "notes": list(state.notes) + _remarks(state),
        "limits": [{n: v for n, v in vars(p).items() if n != "said"} for p in state.limits],
        "rules": beside.rules,
        "chain": {
            "events": state.seq,
            "seal": head,
            "register_line": beside.register[0],
            "register_seal": beside.register[1],
        },
        "caution": CAUTION,
        "only_in_full": ONLY_IN_FULL,
    }


def _left_as(core: Job, left: RunState) -> str:
    """Return how it is left; a run that was overtaken by a setting at a check says so."""
    if not overtaken(core, left.id):
        return _verdict(left)
    checks = [spec.title.lower() for spec, _ in standing(core)]
    return f"within limits by {', '.join(checks)}; what was read before it was put right is over"


def _record(facts: InstrumentFacts) -> list[dict[str, str]]:
    """Return what is on record of the instrument and went into its figures."""
    lines = [{"name": s.label or s.name, "value": s.value, "unit": s.unit} for s in facts.settings]
    if facts.sensor:
        lines.insert(0, {"name": "Sensor", "value": facts.sensor, "unit": ""})
    return lines


def _condition(ledger: Ledger) -> str:
    """Return the condition it was received in, where a step asked for it."""
    found = (v for (_, field), (v, _) in ledger.recorded.items() if field == "condition")
    return next(found, "")


def _verdict(run: RunState) -> str:
    return VERDICTS.get(run.mark, "outside limits")


def _references(ledger: Ledger) -> list[dict[str, str]]:
    return [
        {
            "role": next(
                (r.label for s in ledger.method.steps for r in s.roles if r.id == role), role
            ),
            "asset": chosen.asset.asset,
            "description": chosen.asset.description,
            "serial": chosen.asset.serial,
            "certificate": chosen.asset.certificate,
            "issued_by": chosen.asset.issued_by,
            "calibrated_on": chosen.asset.calibrated_on,
            "due_on": chosen.asset.due_on,
            "reason": chosen.reason,
        }
        for role, chosen in ledger.used
    ]


def _causes(state: JobState) -> list[str]:
    """Return what was named as found; of a detector, for each of its gases."""
    runs = (state.as_found, *(r for r in state.extra_runs if r.role == "found"))
    return list(dict.fromkeys(c for run in runs for c in run.causes))


def _recorded(core: Job, part: str) -> list[dict[str, str]]:
    """Return what was written down in the steps of one part."""
    ledger = core.ledger
    found = []
    for step in ledger.method.steps:
        if step.kind != "record" or step.part != part:
            continue
        for field in core.fields(step):
            entry = ledger.recorded.get((step.id, field.id))
            if entry:
                unit = core.family.shape.unit(core, field)
                found.append({"name": field.label, "value": entry[0], "unit": unit})
    return found


def _run(core: Job, run: RunState) -> dict[str, Any]:
    return {
        "title": run.title,
        "mark": run.mark,
        "input_unit": run.input_unit,
        "output_unit": run.output_unit,
        "indicated_unit": run.indicated_unit,
        "error_unit": run.error_unit,
        "points": points(core, run),
        "characteristics": [
            {"name": c.label, "value": c.value, "unit": c.unit} for c in run.characteristics
        ],
    }


def _not_taken(run: RunState) -> RunState:
    """Return a run of the same kind without readings, where nothing was adjusted."""
    return replace(run, points=(), mark="none", characteristics=())


def _written(ledger: Ledger) -> list[str]:
    """Return changes of settings: re-ranging and damping, which are no calibration."""
    return [in_words(ledger, event) for _, event in (*ledger.rewritten, *ledger.written.values())]


def _adjustments(ledger: Ledger) -> list[str]:
    """Return what was set, refused by the device and put right, in order of time."""
    events = [*ledger.moves, *(e for _, e in (*ledger.refused, *ledger.repaired))]
    return [in_words(ledger, event) for event in sorted(events, key=lambda e: e.seq)]


def _decisions(ledger: Ledger) -> list[str]:
    found = []
    for step_id, (content, _) in ledger.decided.items():
        step = ledger.method.step(step_id)
        words = CHOICE_WORDS.get(content.choice, content.choice)
        reason = f": {content.reason}" if content.reason else ""
        found.append(f"{step.title if step else step_id}: {words}{reason}")
    return found


def _remarks(state: JobState) -> list[str]:
    early = [
        f"{run.title}, {p.label}: taken before steady, {p.early}"
        for run in state.runs
        for p in run.points
        if p.early
    ]
    return early


def _of_account(ledger: Ledger) -> dict[str, str]:
    """Return what a reader must know of the account that signed, where there is something."""
    said = ledger.signed[0].account_note if ledger.signed else ""
    return {"account_note": said} if said else {}
