"""What is to be done now, and what may be done beside it: heading and asks."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.job.events import OWN_KINDS
from calibration.engine.job.history import setback_in_words
from calibration.engine.job.job import Job
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.judging.repairing import refused_since
from calibration.engine.method.method import STAGES, Step
from calibration.engine.view.asks import Ask, By, Sent, Task
from calibration.engine.view.combined_steps import together
from calibration.engine.view.computed import computed
from calibration.engine.view.forms import not_here
from calibration.engine.view.step_asks import asks_of, may_leave_out

_STAGE = dict(STAGES)
BESIDE = "Goes on meanwhile"
ASIDE = "At any time"
FAMILY_BARRED = "Where it cannot be done, the job ends here with the reason."
#: Values that a rig gives by itself, where one is wired; a person may type them all the same.
LIVE: tuple[By, ...] = ("rig", "person")


def tasks(job: Job) -> tuple[Task, ...]:
    """Return what is to be done, the next task first; a closed job says that it is closed."""
    step = job.current
    if step is None:
        return (_closed(job),)
    kicker, title, caution, then = heading(job, step)
    stated = together(job)
    beside = tuple(
        Task(step=s.id, kicker=kicker, title=s.title, why=s.why, asks=asks_of(job, s), aside=aside)
        for kicker, steps, aside in ((BESIDE, job.beside, False), (ASIDE, job.aside, True))
        for s in steps
    )
    return (
        Task(
            step=step.id,
            kicker=kicker,
            title=stated.label if stated is not None else title,
            why=step.why,
            caution=caution,
            then=then,
            asks=asks(job, step),
            order=step.order,
            together=stated,
            refused=tuple(
                setback_in_words(job.ledger.method, c)
                for c, _ in refused_since(job.ledger)
                if c.step == step.id
            ),
            computed=computed(job, step),
            leaves=step.leaves,
        ),
        *beside,
    )


def asks(job: Job, step: Step) -> tuple[Ask, ...]:
    """Return what the present step asks for, in the way of its family where that has one."""
    own = job.family.task(job)
    found = asks_of(job, step) if own is None else (_of_family(job, step, own),)
    return tuple(replace(ask, by=_by(job, ask)) for ask in found)


def _by(job: Job, ask: Ask) -> tuple[By, ...]:
    """Return who may fill in an ask: a rig, where one is wired, and a file where one is read."""
    found: tuple[By, ...] = ask.by or ("person",)
    if not ask.by and job.ledger.facts.rig:
        found = {"tell": ("person", "rig"), "read": LIVE, "set": LIVE}.get(ask.way, found)
    return (*found, "file") if ask.file else found


def _of_family(job: Job, step: Step, own: Ask) -> Ask:
    """Return the ask of a family with what every ask of such a step has."""
    rig = job.ledger.facts.rig

    def told(sent: Sent) -> Sent:
        return replace(sent, source="simulated") if rig else sent

    by_hand = own.by == ("person",)
    left_out = may_leave_out(job, step) if own.way == "read" and step.run else ()
    return replace(
        own,
        id=own.id or f"{step.id}:{own.way}",
        # What is set by hand is set in the rig as well, where it is read beside something else.
        sends=told(own.sends) if own.sends is not None and by_hand else own.sends,
        also=tuple(told(sent) for sent in own.also),
        others=tuple(replace(o, events=tuple(map(told, o.events))) for o in own.others),
        typed=own.typed or own.button,
        barred=own.barred or ("" if own.if_not else FAMILY_BARRED),
        if_not=(*own.if_not, *left_out, *not_here(step)),
    )


#: Who fills in the engine's own entries; what a family asks for says so itself.
FILLS: dict[str, tuple[By, ...]] = {
    "kit_chosen": ("kit",),
    "reading_taken": ("rig", "person", "file"),
    "written": LIVE,
}


def filled_by(job: Job, kind: str) -> tuple[By, ...]:
    """Return who fills in an entry, beside the person who makes it."""
    if kind in OWN_KINDS:
        return FILLS.get(kind, ())
    step = job.current
    for ask in asks(job, step) if step is not None else ():
        if ask.refusal is not None and ask.refusal.kind == kind:
            return ("second_person", "kit")
        if ask.sends is not None and ask.sends.kind == kind:
            # What is typed beside the display is set in the rig all the same.
            return tuple(dict.fromkeys(("rig", *ask.by))) if job.ledger.facts.rig else ask.by
    return ()


def _closed(job: Job) -> Task:
    voided = job.ledger.voided is not None
    return Task(
        step="",
        kicker="Closed",
        title="This job is voided" if voided else "This job is signed",
        why="It was opened by mistake and came to nothing; its history stays."
        if voided
        else "A signed job never changes. To correct it, follow it with a new job.",
    )


def heading(job: Job, step: Step) -> tuple[str, str, str, str]:
    """Return kicker, title, caution of a step and what comes after it."""
    caution, then = job.family.shape.caution(job, step), _after(job, step)
    own = job.family.heading(job, step)
    if own is not None:
        return *own, caution, then
    if step.kind == "capture":
        return _capture(job, job.figures(step.run), step)
    return f"{_STAGE[step.stage]} · {step.title}", step.instruction, caution, then


def _after(job: Job, step: Step) -> str:
    steps = job.ledger.method.steps
    following = [s for s in steps[steps.index(step) + 1 :] if job.statuses[s.id] == "blocked"]
    return ", then ".join(s.title.lower() for s in following[:2])


def _capture(job: Job, figures: RunFigures, step: Step) -> tuple[str, str, str, str]:
    spec = job.ledger.method.run(step.run)
    index = max(0, figures.current)
    point = figures.plan[index]
    kind = job.kind_of(spec)
    value = kind.words(figures.facts, point)
    kicker = f"{spec.title} · point {index + 1} of {len(figures.plan)}"
    if step.run in job.ledger.placed:
        block = job.ledger.placed[step.run][0].block
        return kicker, f"{block} goes through the points by itself", step.caution, _after(job, step)
    if way := kind.direction(figures):
        kicker += f" · {way}"
    said = spec.up if point.direction == "up" else spec.down
    title = (spec.start if index == 0 else said).format(value=value)
    then = kind.following(figures) or _after(job, step)
    return kicker, title, kind.caution(step, figures), then
