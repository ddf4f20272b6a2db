"""What goes along with the events of a job: its rig, what it uses up, what is learnt of it."""

from __future__ import annotations

from collections.abc import Collection
from datetime import date, datetime
from typing import Any

from django.db.models import Count, Max, QuerySet
from django.utils import timezone

from calibration.engine.job import events as core
from calibration.engine.job.job import Job as CoreJob
from calibration.engine.method.family import family_by_facts
from calibration.kernel.codec import encode
from calibration.simulate.rigs import model_of, settings_at
from verifyloop.kit import sources
from verifyloop.plant.facts import facts_of
from verifyloop.plant.models import Instrument
from verifyloop.rigs.models import Rig
from verifyloop.rigs.services import rig_of
from verifyloop.work.enrich import rigging
from verifyloop.work.models import Job

History = list[tuple[date, list[dict[str, Any]]]]


def follow(job: Job, before: CoreJob, event: core.Event) -> None:
    """Let a rig do what an event says, where the event comes from it and it follows the job."""
    along = rigging(before)
    if event.source != "simulated" or along.commanded:
        return
    if not Rig.objects.filter(instrument_id=job.instrument_id).exists():
        return
    rig = rig_of(job.instrument.tag, to_write=True)
    t = max(0.0, (event.when - rig.started_at).total_seconds() * rig.pace)
    commands = rig.commanded()
    along.refuse(before, event, settings_at(model_of(rig.model), commands, t))

    def truth(asset: str) -> Any:
        return sources.truth_of(asset, job.number)

    orders = along.orders(before, event, t, rig.pace, truth)
    if orders:
        rig.commands = [*rig.commands, *(encode(order) for order in orders)]
        rig.save(update_fields=["commands"])


def book(job: Job, after: CoreJob) -> None:
    """Write down what the job has used up, and set aside what it may still take."""
    if any(r.asset.quantity in after.family.assets for r in after.ledger.kit.values()):
        family = after.family
        sources.book(
            job.number,
            job.instrument.tag,
            family.supplies.drawn(after),
            family.supplies.aside(after),
        )


def learnt_of(instrument: Instrument) -> History:
    """Return what was learnt at the signed jobs of an instrument, oldest first."""
    jobs = Job.objects.filter(instrument=instrument, signed_at__isnull=False).exclude(learnt=[])
    found = jobs.order_by("signed_at").values_list("signed_at", "learnt")
    return [(timezone.localdate(at), learnt) for at, learnt in found if at is not None]


def signed_of(
    instruments: Collection[int] | QuerySet[Any, Any],
) -> dict[int, list[tuple[datetime, Any]]]:
    """Return what was learnt at signed jobs by instrument, oldest first, with the moment."""
    found: dict[int, list[tuple[datetime, Any]]] = {}
    jobs = Job.objects.filter(instrument__in=instruments, signed_at__isnull=False)
    told = jobs.exclude(learnt=[]).order_by("signed_at")
    for key, at, learnt in told.values_list("instrument_id", "signed_at", "learnt"):
        if at is not None:
            found.setdefault(key, []).append((at, learnt))
    return found


def learnt_of_all(instruments: Collection[int]) -> dict[int, History]:
    """Return what was learnt at all signed jobs, by instrument, oldest first."""
    found: dict[int, History] = {}
    for key, signed in signed_of(instruments).items():
        found[key] = [(timezone.localdate(at), learnt) for at, learnt in signed]
    return found


def newest_learnt() -> dict[int, tuple[int, datetime]]:
    """Return by instrument how many of its signed jobs taught something, and the newest."""
    jobs = Job.objects.filter(signed_at__isnull=False).exclude(learnt=[]).order_by()
    told = jobs.values("instrument_id").annotate(count=Count("pk"), newest=Max("signed_at"))
    return {t["instrument_id"]: (t["count"], t["newest"]) for t in told}


def own_now(instrument: Instrument, today: date) -> dict[str, Any]:
    """Return what is particular to an instrument, with what its history says of it."""
    family = family_by_facts(facts_of(instrument, rig=False))
    if family is None:
        return dict(instrument.own)
    return family.learning.remembered(instrument.own, learnt_of(instrument), today)
