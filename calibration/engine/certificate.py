"""The certificate of a signed job as plain data; papers in every format are made from it."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from calibration.engine.events import InstrumentFacts
from calibration.engine.family import no_sections
from calibration.engine.history import CHOICE_WORDS, in_words
from calibration.engine.job import Job
from calibration.engine.ledger import Ledger
from calibration.engine.view.state import JobState, RunState
from calibration.kernel.codec import encode

VERDICTS = {"within": "within limits", "near": "within limits, past the adjust limit"}
FORMAT = "verify-loop-certificate/4"
CAUTION = (
    "The figures hold for the day and the conditions stated. Whether the instrument may be used "
    "is decided by site procedure, local code and licensed practice."
)


def certificate(core: Job, state: JobState, head: str) -> dict[str, Any]:
    """Return the certificate of a job and its state; ``head`` is the seal of its last event."""
    ledger, facts = core.ledger, core.ledger.facts
    left = state.as_left if state.as_left and state.as_left.taken else state.as_found
    return {
        "format": FORMAT,
        "number": state.job,
        "follows": state.follows,
        "method": {
            "title": state.method,
            "version": state.method_version,
            "sources": ledger.method.sources,
        },
        "instrument": {
            "tag": facts.tag,
            "serial": facts.serial,
            "description": facts.description,
            "area": facts.area,
            "range": state.instrument.range,
            "output": state.instrument.output,
            "tolerance": state.instrument.tolerance,
            "tolerance_source": facts.tolerance_source,
            "input_unit": facts.input_unit,
            "output_unit": facts.output_unit,
            "record": _record(facts),
        },
        "performed": {
            "opened_at": state.opened_at,
            "signed_at": state.signed_at,
            "signed_by": state.signed_by,
            "statement": ledger.signed[0].statement if ledger.signed else "",
            "review": state.review,
        },
        "verdict": {
            "as_found": _verdict(state.as_found),
            "as_left": _verdict(left) if state.outcome.good else state.outcome.words,
            "adjusted": ledger.changes > 0,
            "outcome": encode(state.outcome),
        },
        "references": _references(ledger),
        "environment": _recorded(core, "environment"),
        "settings_found": _recorded(core, "settings"),
        "as_found": _run(state.as_found),
        "as_left": _run(state.as_left or _not_taken(state.as_found)),
        "extra_runs": [
            {"title": run.title, "verdict": _verdict(run), **_run(run)}
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
        "notes": list(state.notes) + _remarks(state),
        "limits": encode(state.limits),
        "chain": {"events": state.seq, "sha256": head},
        "caution": CAUTION,
    }


def _record(facts: InstrumentFacts) -> list[dict[str, str]]:
    """Return what is on record of the instrument and went into its figures."""
    lines = [{"name": s.label or s.name, "value": s.value, "unit": s.unit} for s in facts.settings]
    if facts.sensor:
        lines.insert(0, {"name": "Sensor", "value": facts.sensor, "unit": ""})
    return lines


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
            "calibrated_on": chosen.asset.calibrated_on,
            "due_on": chosen.asset.due_on,
            "reason": chosen.reason,
        }
        for role, chosen in ledger.kit.items()
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
                unit = ledger.facts.input_unit if field.unit == "input" else field.unit
                found.append({"name": field.label, "value": entry[0], "unit": unit})
    return found


def _run(run: RunState) -> dict[str, Any]:
    return {
        "title": run.title,
        "mark": run.mark,
        "input_unit": run.input_unit,
        "output_unit": run.output_unit,
        "indicated_unit": run.indicated_unit,
        "error_unit": run.error_unit,
        "points": [
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
            }
            for p in run.points
            if p.event
        ],
        "characteristics": [
            {"name": c.label, "value": c.value, "unit": c.unit} for c in run.characteristics
        ],
    }


def _not_taken(run: RunState) -> RunState:
    """Return a run of the same kind without readings, where nothing was adjusted."""
    return replace(run, points=(), mark="none", characteristics=())


def _written(ledger: Ledger) -> list[str]:
    """Return changes of settings: re-ranging and damping, which are no calibration."""
    return [in_words(ledger, event) for _, event in ledger.written.values()]


def _adjustments(ledger: Ledger) -> list[str]:
    return [in_words(ledger, event) for _, event in ledger.adjusted]


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
