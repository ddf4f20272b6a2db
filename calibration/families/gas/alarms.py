"""Every alarm of a detector: it came, it did not come, or nobody looked.

What was found stays, whatever is put right afterwards. Nothing is within limits while an alarm
does not come; that nobody looked is said on the paper.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from calibration.engine.job.ledger import Ledger
from calibration.engine.job.reads import Reads
from calibration.engine.method.conditions import trimming
from calibration.engine.method.method import Condition, Field, Method, ParameterSpec, Step
from calibration.families.gas.facts import channels
from calibration.families.shared import limits
from calibration.kernel.rounding import trimmed

SEEN, AGAIN = "alarms_seen", "alarms_again"
CAME, NOT, UNSEEN = "came", "did not come", "not looked at"
#: Sites in which an alarm that nobody looked at limits the use, and an output that was not read.
MUST_SEE = limits.yes_or_no("alarms_must", "Alarms must be seen at each visit", "no")
MUST_OUTPUT = limits.yes_or_no("output_must", "Output of a trip must be read at each visit", "no")
PARAMETERS: tuple[ParameterSpec, ...] = (MUST_SEE, MUST_OUTPUT)


@dataclass(frozen=True)
class Point:
    """One set point of a channel."""

    id: str
    label: str


def points(ledger: Ledger) -> tuple[Point, ...]:
    """Return the set points on record; one for the detector where there is none on record."""
    found = []
    for c in channels(ledger.facts):
        for n, value in enumerate((c.alarm, c.alarm_2, c.alarm_3), 1):
            if value is not None:
                way = ", falling" if value < c.rest else ""
                text = f"Alarm {n}, {c.gas} {trimmed(value)} {c.unit}{way}"
                found.append(Point(f"{c.id}{n}", text))
    return tuple(found) or (Point("any", "Its alarms (no set point on record)"),)


def _not(job: Reads, step: Step) -> bool:
    return any(answer(job.ledger, SEEN, p) == NOT for p in points(job.ledger))


SEEN_STEP = Step(
    id=SEEN,
    stage="left",
    kind="record",
    title="Did its alarms come?",
    instruction="Say of each alarm whether it came with the gas, and where it was seen.",
    why="A detector that reads right and does not warn guards nobody.",
    caution="In calibration mode it is held: leave that mode before you say that one did not come.",
    part="",
)
AGAIN_STEP = Step(
    id=AGAIN,
    stage="left",
    kind="record",
    title="The alarm that did not come",
    instruction="Say what was put right, and whether it came then. It stays on the paper.",
    why="What was found dead is told, whatever was done about it.",
    part="",
    only_if=Condition(_not, "only if an alarm did not come"),
)


def fields(ledger: Ledger, step: Step) -> tuple[Field, ...]:
    """Return what is told of each alarm."""
    found: list[Field] = []
    for p in points(ledger):
        if step.id == SEEN:
            found += [
                Field(id=p.id, label=p.label, choices=(CAME, NOT, UNSEEN)),
                Field(
                    id=f"{p.id}_where", label=f"{p.label}: came at, seen where", required=False,
                    hint="value; horn, lamp, relay, control room",
                ),
            ]  # fmt: skip
        elif answer(ledger, SEEN, p) == NOT:
            found += [
                Field(id=f"{p.id}_then", label=f"{p.label}, afterwards", choices=(CAME, NOT)),
                Field(id=f"{p.id}_done", label="What was done", required=False, hint="relay, wire"),
            ]
    return tuple(found)


def answer(ledger: Ledger, step: str, point: Point) -> str:
    """Return what was told of an alarm; empty while nothing was."""
    name = point.id if step == SEEN else f"{point.id}_then"
    return ledger.recorded.get((step, name), ("", None))[0]


def said(job: Reads) -> Iterator[str]:
    """Yield what the paper says of each alarm; nothing where the method did not ask."""
    ledger = job.ledger
    if ledger.method.step(SEEN) is None:
        return
    for p in points(ledger):
        first = answer(ledger, SEEN, p)
        where = ledger.recorded.get((SEEN, f"{p.id}_where"), ("", None))[0]
        if not first:
            yield f"{p.label}: not looked at."
        elif first == NOT:
            then, done = answer(ledger, AGAIN, p), ledger.recorded.get((AGAIN, f"{p.id}_done"))
            text = f"{p.label}: found dead, it did not come"
            text += "; put right, it came" if then == CAME else ""
            yield text + (f" ({done[0]})." if done is not None else ".")
        else:
            yield f"{p.label}: {first}{f' ({where})' if where else ''}."


def lacks(job: Reads) -> tuple[str, ...]:
    """Return what keeps a detector from being within: alarms that do not come or were not seen."""
    ledger = job.ledger
    if ledger.method.step(SEEN) is None:
        return ()
    must, found = job.settings.says_yes(MUST_SEE.id), []
    for p in points(ledger):
        first = answer(ledger, SEEN, p)
        if first == NOT and answer(ledger, AGAIN, p) != CAME:
            found.append(f"{p.label}: it does not come")
        if must and first in ("", UNSEEN):
            found.append(f"{p.label}: not looked at, and this site demands it")
    return tuple(found)


def _wanted(job: Reads, step: Step) -> bool:
    return trimming(job) or job.settings.says_yes(MUST_SEE.id)


SELDOM = Condition(
    _wanted, "only if it was set, or the site demands it at each visit", by_plan=True
)


def told(method: Method, seldom: bool = False) -> Method:
    """Return a method in which every alarm is told, before what brings gas comes off.

    ``seldom``: of a short check alone it is told only where something was set, or where the site
    demands it; else the paper says that nobody looked.
    """
    at = next(n for n, s in enumerate(method.steps) if s.stage == "return" and not s.only_if)
    seen = replace(SEEN_STEP, only_if=SELDOM) if seldom else SEEN_STEP
    steps = (*method.steps[:at], seen, AGAIN_STEP, *method.steps[at:])
    return replace(method, steps=steps, parameters=(*method.parameters, *PARAMETERS))
