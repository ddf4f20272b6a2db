"""What every step of a job asks for, the present one or not, as tests look at it."""

from __future__ import annotations

from types import SimpleNamespace

from calibration.engine.admission.admit_incidents import may_go_without
from calibration.engine.judging.repairing import refused_since
from calibration.engine.view.computed import computed
from calibration.engine.view.step_asks import line_of, value_of
from calibration.engine.view.step_view import step_state
from calibration.families.shared.loop import ask
from calibration.kernel.numbers import exact
from tests.replay.then import role_then, set_then


def every_step(visit):
    """Return every step with its lines, values, references and settings."""
    job = visit.standing()
    with exact():
        return [_step(job, step) for step in job.ledger.method.steps]


def step_at(visit, name):
    """Return one step with what it asks for."""
    return next(s for s in every_step(visit) if s.id == name)


def adjustment(visit):
    """Return the adjustment that a transmitter is to get now; none where it gets none."""
    with exact():
        return ask.adjustment(visit.standing())


def _step(job, step):
    shown = step_state(job, step)
    return SimpleNamespace(
        id=step.id,
        kind=step.kind,
        title=shown.title,
        status=shown.status,
        caution=job.family.shape.caution(job, step),
        items=[line_of(job, step, item) for item in step.items],
        fields=[value_of(job, step, field) for field in job.fields(step)],
        roles=[SimpleNamespace(**role_then(job, role)) for role in job.roles(step)],
        sets=[SimpleNamespace(**set_then(job, step, item)) for item in step.sets],
        computed=computed(job, step),
        order=step.order,
        refused=[c for c, _ in refused_since(job.ledger) if c.step == step.id],
        may_wait=step.kind == "record" and job.may_wait(step),
        may_go_without=shown.status == "now" and may_go_without(job, step),
    )
