"""Opening a job."""

from __future__ import annotations

import uuid
from datetime import datetime

from django.utils import timezone

import calibration.families  # noqa: F401  # registers them
from calibration.engine.job import events as core
from calibration.engine.method.family import fitting, newest
from calibration.kernel.codec import encode
from calibration.kernel.errors import InputError
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.errors import DomainError
from verifyloop.plant.facts import facts_of, parameters_of
from verifyloop.plant.models import Instrument
from verifyloop.plant.selectors import instrument_by_tag
from verifyloop.register.write_lock import writing
from verifyloop.rigs.models import Rig
from verifyloop.work.appending import Batch, append_events, come_to, keep, made
from verifyloop.work.at_hand import Standing, job_by_number
from verifyloop.work.folding import core_job, events_of, state_of_ledger
from verifyloop.work.models import Job
from verifyloop.work.selectors import last_good
from verifyloop.work.sent import NewEvent
from verifyloop.work.side_effects import own_now
from verifyloop.work.storing import store


@writing()
def open_job(
    *,
    actor: User,
    tag: str,
    now: datetime,
    follows: str = "",
    like: str = "",
    method_id: str = "",
) -> Job:
    """Open a job on an instrument; one that is open already is returned instead.

    By the method given, where it fits or is planned; else by the plan that is due.
    """
    require(actor, "job.open")
    instrument = instrument_by_tag(tag)
    running = Job.objects.filter(instrument=instrument, status=Job.Status.OPEN).first()
    if running is not None:
        return running
    earlier = job_by_number(follows) if follows else None
    if earlier is not None and earlier.status == Job.Status.OPEN:
        raise InputError(
            "job.still_open", "follows", f"{follows} is not signed yet.", "Finish it instead."
        )
    method = newest(_method_of(instrument, method_id, now))
    plan = instrument.plan_of(method.id)
    order = plan.work_order if plan is not None else ""
    job = Job.objects.create(
        number=_next_number(now),
        instrument=instrument,
        method=method.id,
        method_version=method.version,
        follows=earlier,
        opened_at=now,
        opened_by=actor.display_name,
        changed_at=now,
        work_order=order,
    )
    rig = Rig.objects.filter(instrument=instrument).exists()
    opened = core.Opened(
        job=job.number,
        instrument=facts_of(instrument, rig=rig, own=own_now(instrument, timezone.localdate(now))),
        method=method.id,
        version=method.version,
        parameters=parameters_of(instrument, method=method.id),
        follows=earlier.number if earlier else "",
        last_good=last_good(instrument.pk),
        asks=True,
        work_order=order,
    )
    event = made(actor, 1, NewEvent(uuid.uuid4(), "opened", encode(opened)), now, now)
    store(job, [event], actor)
    here = Standing(job, [event], core_job(job, [event], now).ledger)
    keep(job, come_to(here, state_of_ledger(here.ledger, here.events, now)), 0)
    if like:
        _carry_over(actor, job, job_by_number(like), now)
    return job


def _method_of(instrument: Instrument, wanted: str, now: datetime) -> str:
    """Return the method of a job: the one that is due, or the one wanted where it fits."""
    if not wanted:
        return instrument.due_plans(timezone.localdate(now))[0].method
    fits = [id for id, _ in fitting(facts_of(instrument, rig=False))]
    if wanted not in (*fits, *(p.method for p in instrument.plans.all())):
        raise InputError(
            "method.does_not_fit",
            "method",
            f"That method does not fit {instrument.tag}.",
            "Choose one of: " + ", ".join(newest(m).title for m in fits) + ".",
        )
    return wanted


def _carry_over(actor: User, job: Job, like: Job, now: datetime) -> None:
    """Take over from a job of the same round what holds for the whole round.

    Kit and the operator told are entered anew for this job; what does not fit is left open.
    """
    if like.method != job.method:
        return
    ledger = core_job(like, events_of(like), now).ledger
    kit = [
        NewEvent(
            uuid.uuid4(),
            "kit_chosen",
            {"role": role, "asset": chosen.asset.asset, "reason": chosen.reason},
        )
        for role, chosen in ledger.kit.items()
    ]
    told = [
        NewEvent(uuid.uuid4(), "recorded", {"step": step, "field": field, "value": value})
        for (step, field), (value, _) in ledger.recorded.items()
        if (told := ledger.method.step(step)) is not None and told.for_round
    ]
    for batch in ([e] for e in (*kit, *told)):
        try:
            append_events(
                Batch(actor=actor, number=job.number, expected_seq=job.seq, events=batch, now=now)
            )
        except (InputError, DomainError):
            return
        job.refresh_from_db()


def _next_number(now: datetime) -> str:
    prefix = f"J{now:%y}-"
    # Numbers of a year grow with the keys of their rows: mostly the newest row has the last one.
    last = Job.objects.order_by("-pk").values_list("number", flat=True).first() or ""
    if not last.startswith(prefix):
        of_year = Job.objects.filter(number__startswith=prefix)
        last = of_year.order_by("-pk").values_list("number", flat=True).first() or ""
    return f"{prefix}{int(last[len(prefix) :] or 0) + 1:05d}"
