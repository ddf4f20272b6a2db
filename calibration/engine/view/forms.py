"""What may be said where something is not so, not here, refused or went wrong, as forms."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from calibration.engine.admission.admit_incidents import may_begin_again, may_end, sets
from calibration.engine.job.history import REPAIRS
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import NOT_HERE, WITHOUT
from calibration.engine.judging.repairing import may_repair
from calibration.engine.method.method import Field, KitRole, Step
from calibration.engine.view.asks import Choice, Form, Push, Sent, Value, why, with_reason

#: Why something is often not done here.
NOT_DONE = ("No second one here", "Not allowed in this plant state")
#: Why a value is often not there.
NOT_TOLD = ("cannot be read here", "no instrument for it here", "nobody there")
LINE = Form(
    kind="line_failed",
    title="What is not so?",
    why="It stays on record, also when it is put right.",
    button="No",
    line=True,
    fields=(
        Value(
            number=False,
            id="what",
            label="What is missing or failed",
            hint="in a few words",
            required=True,
            often=("missing", "failed", "damaged"),
        ),
    ),
)
END = Form(
    kind="ended",
    title="Why does this job stop?",
    why="What was read stays on record. What is on is asked for next; nothing counts as good.",
    button="Stop this job…",
    beside=True,
    choice="state",
    choices=(
        Choice(id="failed", label="The instrument failed"),
        Choice(id="not_done", label="The job could not be done"),
    ),
    fields=(
        Value(
            number=False,
            id="reason",
            label="Why",
            hint="what is so",
            required=True,
            often=("it does not respond", "the plant needs it back", "it cannot be isolated"),
        ),
    ),
)
REFUSED = Form(
    kind="refused",
    title="What does the device say?",
    why="Nothing counts as set; the old value stays in the device and on record.",
    button="The device refuses",
    beside=True,
    fields=(
        Value(
            number=False,
            id="word",
            label="Its own word",
            hint="as it shows it",
            required=True,
            often=("bad zero", "bad span", "no response", "unstable"),
        ),
        Value(number=False, id="shows", label="What it shows now", hint="number", required=False),
    ),
)
REPAIRED = Form(
    kind="repaired",
    title="What was put right?",
    why="What was found stays on the paper. The run is taken again; it alone says what is left.",
    button="Repair, then repeat the run",
    choice="what",
    choices=tuple(Choice(id=id, label=words) for id, words in REPAIRS.items()),
    fields=(
        Value(
            number=False, id="said", label="What was done", hint="part, number, how", required=True
        ),
        Value(
            number=False,
            id="serial",
            label="Serial number of a new sensor",
            hint="where one was fitted",
            required=False,
        ),
    ),
)
TRIED_AGAIN = replace(
    REPAIRED,
    why="What was found and what it refused stay on the paper. It is tried again here; with a new "
    "sensor all of it is read anew.",
    button="Put right, then try again",
)


BEGIN_AGAIN = Form(
    kind="begun_again",
    title="Begin this run again?",
    why="What was read of it so far is dropped as a whole; it stays in the history.",
    button="Begin this run again",
    beside=True,
    fields=(
        Value(
            number=False,
            id="reason",
            label="Why",
            hint="what happened",
            required=True,
            often=("it stopped on the way", "the reference moved", "wrong order"),
        ),
    ),
)


def mishaps(job: Job) -> tuple[Form, ...]:
    """Return what may be said now, each with the button that opens it."""
    step = job.current
    if step is None:
        return ()
    found = []
    place = {"step": step.id}
    if sets(job, step):
        found.append(replace(REFUSED, data=place))
    if may_repair(job, step):
        form = TRIED_AGAIN if step.goes_on else REPAIRED
        found.append(replace(form, data=place, beside=step.kind != "decide"))
    if run := may_begin_again(job):
        found.append(replace(BEGIN_AGAIN, data={"run": run}))
    if may_end(job):
        found.append(END)
    return tuple(found)


def none_at_hand(role: KitRole) -> Form:
    """Return the answer that a reference is not here, and another way is taken."""
    return Form(
        kind="went_without",
        title=role.label,
        why="",
        data={"role": role.id},
        button=f"None at hand: {role.instead.lower()}",
    )


def not_here(step: Step) -> tuple[Form, ...]:
    """Return the answer that a step cannot be done here; none where it has to be."""
    if not step.if_not:
        return ()
    means = "It stands on the paper with its reason; what hangs on it stays open."
    field = why("Why not?", *(step.often or NOT_DONE))
    return (with_reason("decided", step.if_not, means, field, step=step.id, choice=NOT_HERE),)


def not_told(step: Step, waited: Sequence[Field]) -> tuple[Form, ...]:
    """Return the answer that a value could not be had; none where each has to be told."""
    may = [field for field in waited if not field.barred]
    if not may:
        return ()
    one = len(may) == 1
    return (
        Form(
            kind="not_told",
            title=f"Not told: {may[0].label.lower()}" if one else "Which of these is not told?",
            why="It stands on the paper with its reason. Nobody makes a value up.",
            choices=() if one else tuple(Choice(id=f.id, label=f.label) for f in may),
            legend="Which one",
            choice="field",
            fields=(why("Why not?", *NOT_TOLD),),
            data={"step": step.id, **({"field": may[0].id} if one else {})},
            button="It cannot be told" if one else "One of these cannot be told",
            send="Go on without it",
        ),
    )


def of_values(step: Step, values: tuple[Value, ...]) -> tuple[Form, ...]:
    """Return the answer that a value that differs is right all the same; none where none does."""
    asked = next((v for v in values if v.question), None)
    if asked is None:
        return ()
    again = " A planner is then asked whether the record is put right." if asked.expected else ""
    return (
        Form(
            kind="decided",
            title=asked.question,
            why=f"Correct it above and save, or go on with a reason.{again}",
            fields=(why("Why go on?", *asked.often),),
            data={"step": step.id, "choice": "accept"},
            send="Go on with the difference",
        ),
    )


def bring_back(step: Step) -> Push:
    """Return the answer that a difference from the record is right, and waits."""
    data = {"step": step.id, "choice": "later", "reason": ""}
    return Push(
        label="Read right: bring it back after the as-found run",
        events=(Sent(kind="decided", data=data),),
    )


def without(step: Step) -> Form:
    """Return the answer that a job goes on without the lines that are not so."""
    often = ("What else is wrong is to be known", "Ordered; it comes later")
    return with_reason(
        "decided",
        "Go on without it",
        "It limits what the job comes to, and stands on the paper.",
        why("Why does the job go on without it?", *often),
        step=step.id,
        choice=WITHOUT,
    )


def no_wait(step: Step) -> Form:
    """Return the answer that a wait is not needed."""
    field = why("Why is no wait needed?", *step.often)
    means = "The reason stands on the paper."
    form = with_reason("timer_waived", "No wait is needed", means, field, step=step.id)
    return replace(form, send="Go on without waiting")


def left_out(step: Step, point: int, value: str) -> Form:
    """Return the answer that a point cannot be reached."""
    often = ("The process does not allow it today", "The source does not reach so far")
    form = with_reason(
        "left_out",
        "This point cannot be reached",
        "It is left out on the paper too; nothing is made up for it.",
        why(f"Why is {value} left out?", *often),
        run=step.run,
        point=point,
    )
    return replace(form, send="Leave this point out")
