"""What may be said at any moment when something is not as it should be, as forms of one kind."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.history import REPAIRS
from calibration.engine.job import Job
from calibration.engine.repairing import may_repair
from calibration.engine.setbacks_admitted import may_begin_again, may_end, sets
from calibration.engine.view.came_to import Asked, AskedChoice, AskedField

LINE = Asked(
    kind="line_failed",
    title="What is not so?",
    why="It stays on record, also when it is put right.",
    button="Not so",
    choices=(),
    fields=(
        AskedField(
            id="what",
            label="What is missing or failed",
            hint="in a few words",
            required=True,
            often=("missing", "failed", "damaged"),
        ),
    ),
)
END = Asked(
    kind="ended",
    title="Why does the job end here?",
    why="What was read stays on record. What is on is asked for next; nothing counts as good.",
    button="End here",
    beside=True,
    choice="state",
    choices=(
        AskedChoice(id="failed", label="The instrument failed"),
        AskedChoice(id="not_done", label="The job could not be done"),
    ),
    fields=(
        AskedField(
            id="reason",
            label="Why",
            hint="what is so",
            required=True,
            often=("it does not respond", "the plant needs it back", "it cannot be isolated"),
        ),
    ),
)
REFUSED = Asked(
    kind="refused",
    title="What does the device say?",
    why="Nothing counts as set; the old value stays in the device and on record.",
    button="The device refuses",
    beside=True,
    choices=(),
    fields=(
        AskedField(
            id="word",
            label="Its own word",
            hint="as it shows it",
            required=True,
            often=("bad zero", "bad span", "no response", "unstable"),
        ),
        AskedField(id="shows", label="What it shows now", hint="number", required=False),
    ),
)
REPAIRED = Asked(
    kind="repaired",
    title="What was put right?",
    why="What was found stays on the paper. The run is taken again; it alone says what is left.",
    button="Put it right here, then run again",
    choice="what",
    choices=tuple(AskedChoice(id=id, label=words) for id, words in REPAIRS.items()),
    fields=(
        AskedField(id="said", label="What was done", hint="part, number, how", required=True),
        AskedField(
            id="serial",
            label="Serial number of a new sensor",
            hint="where one was fitted",
            required=False,
        ),
    ),
)


BEGIN_AGAIN = Asked(
    kind="begun_again",
    title="Begin this run again?",
    why="What was read of it so far is dropped as a whole; it stays in the history.",
    button="Begin this run again",
    beside=True,
    choices=(),
    fields=(
        AskedField(
            id="reason",
            label="Why",
            hint="what happened",
            required=True,
            often=("it stopped on the way", "the reference moved", "wrong order"),
        ),
    ),
)


def mishaps(job: Job) -> tuple[Asked, ...]:
    """Return what may be said now, each with the button that opens it."""
    step = job.current
    if step is None:
        return ()
    found = []
    place = {"step": step.id}
    if step.kind == "checklist" or step.together is not None:
        found.append(LINE)
    if sets(job, step):
        found.append(replace(REFUSED, data=place))
    if may_repair(job, step):
        found.append(replace(REPAIRED, data=place, beside=step.kind != "decide"))
    if run := may_begin_again(job):
        found.append(replace(BEGIN_AGAIN, data={"run": run}))
    if may_end(job):
        found.append(END)
    return tuple(found)
