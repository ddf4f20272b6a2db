"""Oxygen that reads poor or rich: the air is proven before anybody goes in, and before bypass.

With bottled air alone somebody would have to go to the detector to find out; a low alarm that
stands is live until another instrument, read from outside inwards, says that it is not.
"""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.job.events import Event
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Condition, Method, ParameterSpec, Step
from calibration.families.gas import admit, airproof, alarms, proven
from calibration.families.gas import parts as gas
from calibration.families.gas.gases import bottled, shows
from calibration.families.gas.heads import BACK
from calibration.families.gas.since import READY
from calibration.kernel.errors import InputError
from calibration.kernel.rounding import trimmed

BY_BOTTLE = "bottled air"
PROVEN_BY = ParameterSpec(
    id="air_proven_by",
    label="Air that reads poor or rich is proven by",
    default="another instrument",
    kind="choice",
    choices=("another instrument", BY_BOTTLE),
)


def _doubtful(job: Reads, step: Step) -> bool:
    """Tell whether the air is to be proven by another instrument before anything else."""
    if bottled(job.ledger) and job.settings.choice(PROVEN_BY.id) == BY_BOTTLE:
        return False
    taken = job.ledger.readings["as_found"].get(0)
    if taken is not None:
        shown = shows(job.facts_of("as_found"), taken.content)
        if not airproof.good(job.ledger, shown):
            return True
    return proven.doubtful(job, step)


def _step(step: Step) -> Step:
    """Return a step of before as it is here."""
    if step.id == airproof.PROOF:
        words = "only if the air is in doubt"
        return replace(step, only_if=Condition(_doubtful, words))
    if step.id == "ambient":
        return replace(step, aside=True)
    if step.id == alarms.SEEN:
        return replace(step, early=True)
    if step.id in (gas.ALARM.id, gas.RESTORE.id):
        return replace(step, together=BACK)
    if step.id == gas.UNBYPASS.id:
        return replace(step, together=None)
    return replace(step, together=READY) if step.id == "state" else step


def _method(before: Method) -> Method:
    steps = [_step(s) for s in before.steps if s.id != "state"]
    at = next(n for n, s in enumerate(steps) if s.id == "bypass")
    state = next(s for s in before.steps if s.id == "state")
    steps.insert(at, _step(state))
    return replace(
        before,
        version=before.version + 1,
        steps=tuple(steps),
        parameters=(*before.parameters, PROVEN_BY),
    )


def bars(job: Reads, event: Event) -> None:
    """Refuse anything else while gas is on; and a bypass in air that another instrument finds bad.

    Raises
    ------
    InputError
        ``gas.on``, ``air.poor``.
    """
    admit.refuse_while_on(job, event)
    if event.kind != "put_on" or not job.settings.has(PROVEN_BY.id):
        return
    step, other = job.step(event.content.step), airproof.read_beside(job.ledger)
    if step.on_kind != "bypass" or other is None or airproof.good(job.ledger, other):
        return
    raise InputError(
        "air.poor",
        "data.step",
        f"Another instrument reads {trimmed(other)} % vol oxygen there: the air is not good, and "
        "the detector does what it is there for.",
        "Leave, tell the operator, follow the site's alarm procedure, and stop this job.",
    )


GAS_OXYGEN = _method(next(m for m in proven.METHODS if m.id == "gas_oxygen"))
METHODS = (GAS_OXYGEN,)
