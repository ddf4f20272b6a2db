"""What devices do by themselves: stored when anybody looks, each time once, at its own moment."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db import OperationalError
from django.db.models import Max

from calibration.engine.judging.validity import ByItself
from calibration.engine.method.family import FAMILIES, Family
from calibration.simulate.rigs import model_of
from verifyloop.plant.facts import family_of_instrument
from verifyloop.plant.models import Instrument, Plan
from verifyloop.register.write_lock import writing
from verifyloop.rigs.models import Rig
from verifyloop.work.models import OwnAct

#: So many are stored at a look; the next one goes on.
MOST = 2000
#: One that is later than this share of its period is missing.
LATE = 1.5


@dataclass(frozen=True)
class Log:
    """What an instrument does by itself, and the last times that it did."""

    label: str
    every_minutes: float
    count: int
    since: datetime | None
    last: list[OwnAct]
    bad: list[OwnAct]
    late: bool


def keep_up(now: datetime) -> None:
    """Store what the devices did by themselves up to a moment; nothing is remembered but that."""
    acting = list(_acting())
    if not acting:
        return
    newest = OwnAct.objects.values("instrument").annotate(last=Max("at"))
    stored = dict(newest.values_list("instrument", "last"))
    rows = [
        row
        for rig, family, act in acting
        for row in _fresh(rig, family, act, stored.get(rig.instrument_id), now)
    ]
    if not rows:
        return
    # Where nothing can be stored now it is at the next look: the device's log stays as it is.
    with contextlib.suppress(OperationalError), writing():
        # Somebody else may have looked at the same moment.
        first = min(row.at for row in rows)
        there = set(OwnAct.objects.filter(at__gte=first).values_list("instrument_id", "act", "at"))
        OwnAct.objects.bulk_create(
            [row for row in rows if (row.instrument_id, row.act, row.at) not in there]
        )


def _acting() -> Iterator[tuple[Rig, Family, ByItself]]:
    """Yield the rigs of instruments that do something by themselves."""
    methods = [m.id for f in FAMILIES.values() if f.auto.once for m in f.methods]
    rigs = Rig.objects.filter(
        instrument__in=Plan.objects.filter(method__in=methods).values("instrument")
    ).select_related("instrument", "instrument__area")
    for rig in rigs:
        family, act = _act_of(rig.instrument)
        if family is not None and act is not None:
            yield rig, family, act


def _act_of(i: Instrument) -> tuple[Family | None, ByItself | None]:
    family = family_of_instrument(i)
    if family is None or family.auto.once is None:
        return None, None
    return family, family.auto.once(i.own)


def _fresh(
    rig: Rig, family: Family, act: ByItself, last: datetime | None, now: datetime
) -> list[OwnAct]:
    """Return the times since the last that is stored, each at its own moment."""
    after = (last - rig.started_at).total_seconds() * rig.pace + 1e-3 if last else 0.0
    until = (now - rig.started_at).total_seconds() * rig.pace
    model, commands = model_of(rig.model), rig.commanded()
    logged = family.rig.log(model, commands, max(0.0, after), until, rig.seed)
    rows = []
    for one in logged[:MOST]:
        said = family.auto.acted(rig.instrument.own, one.values)
        rows.append(
            OwnAct(
                instrument=rig.instrument,
                act=act.id,
                at=rig.started_at + timedelta(seconds=one.t / rig.pace),
                values=dict(one.values),
                good=said.good,
                text=said.text[:300],
            )
        )
    return rows


def troubled() -> list[OwnAct]:
    """Return the newest time of each instrument where that was not as it should be."""
    bad = OwnAct.objects.filter(good=False).order_by().values("instrument").annotate(last=Max("at"))
    last_bad = dict(bad.values_list("instrument", "last"))
    if not last_bad:
        return []
    newest = OwnAct.objects.filter(instrument__in=last_bad).order_by().values("instrument")
    last = dict(newest.annotate(last=Max("at")).values_list("instrument", "last"))
    still = [key for key, at in last_bad.items() if at == last[key]]
    found = OwnAct.objects.filter(good=False, instrument__in=still, at__in=set(last.values()))
    shown = found.select_related("instrument").order_by("instrument__tag")
    return [act for act in shown if act.at == last[act.instrument_id]]


def log_of(i: Instrument, now: datetime) -> Log | None:
    """Return what an instrument does by itself; none where nothing is known to."""
    _, act = _act_of(i)
    rig = Rig.objects.filter(instrument=i).first()
    if act is None or rig is None:
        return None
    keep_up(now)
    kept = OwnAct.objects.filter(instrument=i, act=act.id).order_by("-at")
    last = list(kept[:5])
    every = timedelta(minutes=float(act.every_minutes)) / rig.pace
    since = last[0].at if last else rig.started_at
    oldest = kept.last()
    return Log(
        label=act.label,
        every_minutes=float(act.every_minutes),
        count=kept.count(),
        since=oldest.at if oldest is not None else None,
        last=last,
        bad=list(kept.filter(good=False)[:3]),
        late=now - since > LATE * every,
    )
