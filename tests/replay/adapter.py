"""The state of a job in the shape in which the kept jobs were recorded.

What has moved since is put back where it was; what reads differently on purpose is written down
in DECISIONS.md.
"""

from __future__ import annotations

import copy
import re
from dataclasses import replace
from typing import Any

from calibration.engine.job.job import Job
from calibration.engine.papers.certificate import VERDICTS
from calibration.engine.view.run_view import run_state
from calibration.engine.view.state import JobState, RunState
from calibration.engine.view.verdict import decided
from calibration.families.gas.facts import channels
from calibration.families.gas.gases import gases_of, shows
from calibration.families.gas.view import gas_lines, gas_state
from calibration.families.gas.words import GasRun
from calibration.kernel.codec import encode
from calibration.kernel.numbers import exact
from calibration.kernel.rounding import show
from tests.replay.then import whole_then

#: Floats are compared to so many digits: another machine's mathematics may differ in the last one.
DIGITS = 12
#: What a statement of several steps at once said of each of its entries.
SENT = ("step", "item", "field", "value", "role", "flow")
#: Families that came after the blocks: their jobs are recorded in the shape of today.
SINCE = (
    "ph",
    "trace_oxygen_analyzers",
    "mixture_analyzers",
    "chromatographs",
    "mass_flow_meters",
    "load_cell_vessels",
    "load_cell_indicators",
    "belt_scales",
    "magnetic_flow_meters",
)
#: What papers say since they follow the list of ISO/IEC 17025.
SINCE_PAPER = (
    "covers",
    "title",
    "what_follows",
    "issue",
    "site",
    "traceability",
    "rules",
    "only_in_full",
)
CERTAINTY = ("uncertainty_percent", "k", "decision", "probability_outside", "numbers")


def recorded_shape(job: Job, state: JobState) -> dict[str, Any]:
    """Return a job's state as plain values in the recorded shape."""
    found = whole_then(job, state)
    for name in (
        "outcome",
        "asked",
        "follow_up",
        "clocks",
        "may_void",
        "mishaps",
        "by_turns",
        "bench",
    ):
        del found[name]
    for on in found["on"]:
        del on["account"]
    for step in found["steps"]:
        for entry in step["fields"]:
            del entry["often"], entry["choices"], entry["usual"]
        for item in step["items"]:
            del item["failed"]
        for role in step["roles"]:
            del role["instead"], role["without"]
        del step["may_go_without"], step["refused"], step["often"], step["if_not"]
        if step["kind"] == "kit" and step["status"] != "skipped":
            step["summary"] = each_role(job)
    for choice in found["judgement"]["choices"]:
        del choice["often"], choice["form"]
    if found["task"]:
        del found["task"]["file"]
    without_tables(found)
    for run in (found["as_found"], found["as_left"], *found["extra_runs"]):
        if run is not None:
            run["characteristics"], run["fit_text"] = with_what_did_not_exist(run)
            del run["zero"], run["span"], run["axis"]
    found["judgement"]["text"] = re.sub(
        r"Largest error \S+ \S+ \((\S+ % of span)\)\.", r"Largest error \1.", said(found)
    )
    if job.family.id in SINCE:
        in_percent(job, found)
        return found
    for name in ("task", "blocks"):
        del found[name]
    figures = job.figures(found["judgement"]["run"])
    if figures.decisions:
        before = decided(job, found["judgement"]["run"], figures)
        found["judgement"] |= _without(before, "known")
    with exact():
        detector = bool(channels(job.ledger.facts))
        found["gas"] = encode(gas_state(job)) if detector else None
        found["gas_lines"] = encode(gas_lines(job)) if detector else []
        if state.as_left is None:
            found["as_left"] = _without(encode(_without_readings(job)), "zero", "span", "axis")
    for run in (found["as_found"], found["as_left"], *found["extra_runs"]):
        for name in ("role", "pictured", "columns"):
            del run[name]
    for step in found["steps"]:
        del step["leaves"]
    del found["adjustment"]["columns"]
    receiver_without_number(found)
    if found["together"]:
        found["together"]["events"] = [
            {"kind": e["kind"], **{name: e["data"].get(name, "") for name in SENT}}
            for e in found["together"]["events"]
        ]
    in_percent(job, found)
    return found


def each_role(job: Job) -> str:
    """Return the references chosen, one a role; one that serves several is named once now."""
    return ", ".join(chosen.asset.asset for chosen in job.ledger.kit.values())


def without_tables(found: dict[str, Any]) -> None:
    """Take away what is said since several values can be read at once."""
    task = found["task"]
    runs = (found["as_found"], found["as_left"] or {}, *found["extra_runs"])
    for part in (*runs, found["adjustment"], task or {}):
        for column in part.get("columns", ()):
            del column["row"], column["tap"]
    del found["adjustment"]["order"], found["adjustment"]["stands_for"]
    if task:
        del task["by_hand"]
        for other in task["others"]:
            del other["live"]


def receiver_without_number(found: dict[str, Any]) -> None:
    """Say of a receiver what was said before its number was: decision 8."""
    adjustment = found["adjustment"]
    for place, name in ((adjustment, "target"), (adjustment, "title"), (found["action"], "title")):
        place[name] = re.sub(
            r"shows \S+ \S+ at \S+ \S+, and what the current means at any other, within",
            "shows what the current means, within",
            place[name],
        )


def said(found: dict[str, Any]) -> str:
    """Return the verdict in words."""
    text: str = found["judgement"]["text"]
    return text


def in_percent(job: Job, found: dict[str, Any]) -> None:
    """Say errors as they were said before they came in the unit of the trade."""
    for run in (found["as_found"], found["as_left"], *found["extra_runs"]):
        if run is None:
            continue
        worst = re.search(r"([^\s(]+ %) of span", run["worst"])
        run["worst"] = worst[1] if worst else ""
        if job.kind_of(job.ledger.method.run(run["id"])).id == "gas":
            run["error_unit"] = "%"
            for point in run["points"]:
                point["error_text"] = point["error"]
    if found.get("gas_lines"):
        with exact():
            for line, of_new in zip(found["gas_lines"], _of_new_then(job), strict=True):
                line["of_new"] = of_new


def _of_new_then(job: Job) -> list[str]:
    """Return what was said of each gas: not net of zero, and better once the span was set."""
    said = []
    for spec in job.ledger.method.runs:
        if not isinstance(spec, GasRun) or spec.channel >= len(channels(job.ledger.facts)):
            continue
        c, figures = channels(job.ledger.facts)[spec.channel], job.figures(spec.id)
        gases = gases_of(job.settings, spec)
        for i in figures.order:
            content = figures.taken[i].content
            text = ""
            if content.applied and gases[i] != "air":
                percent = 100 * shows(figures.facts, content) / content.applied
                text = f"{show(percent * c.base_percent / 100, 0)} % of new"
            said.append(text)
    return said


#: What a run was said to have whether it did or not, in this order; of several cycles the last.
SAID = (
    ("zero_shift", "Zero shift"),
    ("span_error", "Span error"),
    ("hysteresis", "Hysteresis"),
    ("nonlinearity_independent", "Linearity"),
    ("repeatability", "Repeatability"),
)


def with_what_did_not_exist(run: dict[str, Any]) -> tuple[list[dict[str, str]], str]:
    """Return the characteristics of a run as they were said before a figure could be none."""
    if run["taken"] < 2:
        return run["characteristics"], run["fit_text"]
    zero, span = (show(run[f"fit_{end}"], 2, sign=True) for end in ("zero", "span"))
    fit = f"best fit: zero {zero} %, span {span} %"
    if not run["characteristics"] and not run["pictured"]:
        return [], fit
    drawn = {"zero_shift": zero, "span_error": span}
    have = {c["id"]: c for c in run["characteristics"]}
    cycles = max(p["cycle"] for p in run["points"])
    said = [
        have.get(id)
        or {
            "id": id,
            "label": label,
            "value": drawn.get(id, "0.00"),
            "unit": "% of span",
            "figure": f"{run['id']}.summary.{id}",
        }
        for id, label in SAID
        if id != "repeatability" or cycles > 1
    ]
    return said, fit


def recorded_paper(job: Job, state: JobState, paper: dict[str, Any]) -> dict[str, Any]:
    """Return a certificate as it was before jobs had outcomes: as left was what was read last."""
    left = state.as_left if state.as_left and state.as_left.taken else state.as_found
    words = {mark: said for mark, said in VERDICTS.items() if mark != "none"}
    verdict = {
        "as_found": words.get(state.as_found.mark, "outside limits"),
        "as_left": words.get(left.mark, "outside limits"),
        "adjusted": paper["verdict"]["adjusted"],
    }
    found = {name: said for name, said in paper.items() if name not in SINCE_PAPER}
    gas, answers = state.as_found.order == "gas", paper["gas"]["answers"]
    if gas:
        with exact():
            then = _of_new_then(job)
        answers = [{**a, "of_new": said} for a, said in zip(answers, then, strict=True)]
    return {
        **found,
        "format": "verify-loop-certificate/3",
        "verdict": verdict,
        "method": _without(paper["method"], "deviations"),
        "instrument": _without(paper["instrument"], "maker", "model", "condition"),
        "performed": {
            **_without(paper["performed"], "account", "people"),
            "review": state.review,
        },
        "references": [_without(r, "issued_by") for r in paper["references"]],
        "as_found": _old_run(paper["as_found"], state.as_found, gas),
        "as_left": _old_run(paper["as_left"], state.as_left, gas),
        "gas": {**paper["gas"], "answers": answers},
        "extra_runs": [
            {**_old_run(run, seen, gas), "verdict": words.get(run["mark"], "outside limits")}
            for run, seen in zip(
                paper["extra_runs"], (r for r in state.extra_runs if r.taken), strict=True
            )
        ],
        "chain": {"events": paper["chain"]["events"], "sha256": paper["chain"]["seal"]},
    }


def _without(said: dict[str, Any], *names: str) -> dict[str, Any]:
    return {name: value for name, value in said.items() if name not in names}


def _old_run(run: dict[str, Any], seen: RunState | None, gas: bool) -> dict[str, Any]:
    if gas:
        points = [{**p, "error": p["error_percent"]} for p in run["points"]]
        run = {**run, "error_unit": "%", "points": points}
    said: list[dict[str, str]] = []
    if seen is not None and seen.taken:
        said = with_what_did_not_exist(encode(seen))[0]
    return {
        **run,
        "points": [_without(p, *CERTAINTY) for p in run["points"]],
        "characteristics": [
            {"name": c["label"], "value": c["value"], "unit": c["unit"]} for c in said
        ],
    }


def _without_readings(job: Job) -> Any:
    """Return the as-left run that a method without one was shown with: empty."""
    method = job.ledger.method
    left = replace(method.runs[0], id="as_left", role="left")
    ledger = copy.copy(job.ledger)
    ledger.method = replace(method, runs=(*method.runs, left))
    other = Job(ledger, job.now)
    return run_state(other, "as_left", other.figures("as_left"))


def flat(value: Any) -> dict[str, Any]:
    """Return nested values as one flat mapping, path to leaf; empty lists are leaves."""
    found: dict[str, Any] = {}
    _into(found, value, "")
    return found


def _into(found: dict[str, Any], value: Any, path: str) -> None:
    inside = value.items() if value.__class__ is dict else enumerate(value)
    for name, inner in inside:
        kind, at = inner.__class__, f"{path}.{name}"
        if inner and (kind is dict or kind is list):
            _into(found, inner, at)
        else:
            found[at] = float(f"{inner:.{DIGITS}g}") if kind is float else inner


def changes(before: dict[str, Any], after: dict[str, Any]) -> dict[str, Any]:
    """Return what is new or different; a path that is gone is listed under ``gone``."""
    new = {k: v for k, v in after.items() if k not in before or before[k] != v}
    gone = sorted(k for k in before if k not in after)
    return {**new, **({"gone": gone} if gone else {})}
