"""A state as it was kept before every step asked by a task.

What a step asks for stood in the step, that of a family beside it; it is put back from what the
engine says now, so that it is still compared word by word.
"""

from __future__ import annotations

from typing import Any

import orjson

from calibration.engine.admission.admit_incidents import may_go_without
from calibration.engine.job.history import setback_in_words
from calibration.engine.job.job import Job
from calibration.engine.job.kit import role_quantity
from calibration.engine.judging.repairing import refused_since
from calibration.engine.method.conditions import trimming
from calibration.engine.method.method import KitRole, SetItem, Step
from calibration.engine.view.combined_steps import together
from calibration.engine.view.computed import computed
from calibration.engine.view.forms import LINE
from calibration.engine.view.state import JobState
from calibration.engine.view.step_asks import detail_of, line_of, value_of
from calibration.families.shared.loop import ask, progress
from calibration.families.shared.loop.trims import HOP_WORDS, way
from calibration.kernel.codec import encode
from calibration.kernel.numbers import exact

COLUMN = ("id", "label", "unit", "required", "row", "tap")
FIELD = ("id", "label", "unit", "number", "required", "value", "expected", "hint", "choices")
FIELD += ("usual", "question", "often")
FORM = ("kind", "title", "why", "choices", "fields", "choice", "data", "button", "beside")
SENT = ("kind", "data")


def only(value: Any, names: tuple[str, ...]) -> dict[str, Any]:
    """Return some of the parts of a value."""
    plain = encode(value)
    return {name: plain[name] for name in names}


def whole_then(job: Job, state: JobState) -> dict[str, Any]:
    """Return a whole state as it was kept."""
    found: dict[str, Any] = orjson.loads(orjson.dumps(state, default=encode))
    del found["tasks"]
    for limit in found["limits"]:
        del limit["said"]
    with exact():
        found["action"] = action_then(job, state)
        found["task"], found["together"] = task_then(job), together_then(job)
        steps = zip(job.ledger.method.steps, found["steps"], strict=True)
        found["steps"] = [step_then(job, step, now) for step, now in steps]
        found["adjustment"] = adjustment_then(job)
    for part in (found["as_found"], found["as_left"], *found["extra_runs"], found["adjustment"]):
        if part is not None:
            part["columns"] = [only(column, COLUMN) for column in part["columns"]]
    step = job.current
    if step is not None and (step.kind == "checklist" or step.together is not None):
        found["mishaps"].insert(0, encode(LINE))
    for name in ("asked", "mishaps"):
        found[name] = [_form(form) for form in found[name]]
    plain: dict[str, Any] = orjson.loads(orjson.dumps(found, default=encode))
    return plain


def _form(form: dict[str, Any]) -> dict[str, Any]:
    kept = only(form, FORM)
    kept["choices"] = [only(c, ("id", "label")) for c in kept["choices"]]
    kept["fields"] = [only(f, ("id", "label", "hint", "required", "often")) for f in kept["fields"]]
    return kept


def step_then(job: Job, step: Step, found: dict[str, Any]) -> dict[str, Any]:
    """Return a step with what it asks for, as it was kept."""
    ledger, now = job.ledger, found["status"] == "now"
    started = ledger.timers.get(step.id)
    end = job.timer_end(step) if step.kind == "timer" else None
    on = ledger.put_on.get(step.id) or ledger.taken_off.get(step.id)
    refused = [c for c, _ in refused_since(ledger) if c.step == step.id]
    return {
        **found,
        "instruction": step.instruction,
        "why": step.why,
        "caution": job.family.shape.caution(job, step),
        "items": [_item(job, step, item) for item in step.items],
        "fields": [only(value_of(job, step, field), FIELD) for field in job.fields(step)],
        "roles": [role_then(job, role) for role in job.roles(step)],
        "sets": [set_then(job, step, item) for item in step.sets],
        "computed": computed(job, step),
        "order": step.order,
        "may_wait": step.kind == "record" and now and job.may_wait(step),
        # That nothing is to be bypassed can be said since.
        "if_not": step.if_not if now and step.kind != "put_on" else "",
        "may_go_without": now and may_go_without(job, step),
        "refused": [setback_in_words(ledger.method, c) for c in refused],
        "often": step.often if step.kind == "timer" else (),
        "leaves": step.leaves,
        "timer_started_at": started.at if started else "",
        "timer_ends_at": end.isoformat() if end else "",
        "timer_minutes": job.settings.parameter(step.minutes).value if step.minutes else "",
        "event": on.id if on else "",
    }


def adjustment_then(job: Job) -> dict[str, Any]:
    """Return the adjustment to make now, as it was kept."""
    adjusting = next((s for s in job.ledger.method.steps if s.kind == ask.KIND), None)
    due = adjusting is not None and job.statuses[adjusting.id] != "skipped" and trimming(job)
    none = {"done": False, "hop": "", "hop_label": "", "end": "", "action": "none", "title": ""}
    none |= {"apply": "", "apply_value": "", "order": "apply", "stands_for": "", "target": ""}
    none |= {"rig_hop": "", "aim": "", "direction": "", "fields": (), "columns": ()}
    none |= {"passes_left": "", "advice": "", "history": ask.history(job) if due else ()}
    now = ask.adjustment(job)
    if now is None:
        return {**none, "done": due and progress.now(job).done}
    screws = way(job.ledger.method).screws
    return {
        **none,
        **{name: value for name, value in encode(now).items() if name in none},
        "hop_label": f"{now.end} screw" if screws else HOP_WORDS[now.hop],
        "action": "check" if now.check else "trim",
        "rig_hop": now.rig_hop,
        "fields": [c.id for c in now.columns if c.id != "before"],
    }


def _item(job: Job, step: Step, item: Any) -> dict[str, Any]:
    event = job.ledger.confirmed.get((step.id, item.id))
    kept = only(line_of(job, step, item), ("id", "label", "done", "failed"))
    return {**kept, "event": event.id if event is not None else ""}


def role_then(job: Job, role: KitRole) -> dict[str, Any]:
    """Return a reference of a step, as it was kept."""
    chosen = job.ledger.kit.get(role.id)
    detail, ratio, warning = detail_of(job, role) if chosen is not None else ("", "", "")
    return {
        "id": role.id,
        "label": role.label,
        "quantity": role_quantity(job.facts_found, role),
        "chosen": chosen.asset.asset if chosen is not None else "",
        "detail": detail,
        "ratio": ratio,
        "warning": warning,
        "instead": role.instead,
        "without": chosen is None and role.id in job.ledger.without,
    }


def set_then(job: Job, step: Step, item: SetItem) -> dict[str, Any]:
    """Return a setting of a step, as it was kept."""
    entry = job.ledger.written.get((step.id, item.id))
    return {
        "id": item.id,
        "label": item.label,
        "unit": job.family.shape.unit(job, item),
        "found": job.found_setting(item.id),
        "to_write": job.to_write(step, item) or "",
        "read_back": entry[0].read_back if entry else "",
        "done": job.written(step, item),
    }


def action_then(job: Job, state: JobState) -> dict[str, Any]:
    """Return the heading of what is to be done, as it was kept."""
    kept = only(state.task, ("step", "kicker", "title", "why", "caution", "then"))
    return {**kept, "can_waive": job.current is not None and job.current.kind == "timer"}


def task_then(job: Job) -> dict[str, Any] | None:
    """Return what the present step asked for in the way of its family; none elsewhere."""
    own, step = job.family.task(job), job.current
    # What is adjusted of a transmitter was asked in the engine's way.
    if own is None or (step is not None and step.kind == ask.KIND):
        return None
    # What is typed where a cylinder is only opened or shut was said by nobody.
    unsaid = own.way == "state" and job.current is not None and bool(own.end or job.current.run)
    unsaid = unsaid and job.family.id == "gas_detectors"
    sends = own.sends
    data = sends.data if sends is not None else {}
    return {
        "way": {"state": "send"}.get(own.way, own.way),
        "label": own.button,
        "typed": own.typed or ("" if unsaid else own.button),
        "in_round": own.in_round,
        "blocks": own.blocks,
        "kind": sends.kind if sends is not None else "",
        "run": data.get("run", ""),
        "point": data.get("point", -1),
        "columns": [only(value, COLUMN) for value in own.values],
        "events": [only(e, SENT) for e in own.also],
        "others": [
            {"label": o.label, "events": [only(e, SENT) for e in o.events], "live": o.live}
            for o in own.others
        ],
        "refusal": own.refusal,
        "early": list(own.early),
        "channel": own.channel,
        "minutes": own.minutes or "1",
        "end": own.end,
        "target": own.target,
        "by_hand": own.by == ("person",),
        "file": own.file,
    }


def together_then(job: Job) -> dict[str, Any] | None:
    """Return the steps that one tap stated, as they were kept."""
    stated, step = together(job), job.current
    if stated is None or step is None:
        return None
    named = dict.fromkeys(str(e.data["step"]) for e in stated.also)
    orders = [job.step(name).order for name in named]
    assert step.together is not None
    return {
        "heading": step.together.heading,
        "title": step.together.title,
        "lines": [line.label for line in stated.lines],
        "events": [only(e, SENT) for e in stated.also],
        "orders": [order for order in orders if order],
    }
