"""Does it fit together: what is wrong, which method, which references, and what a job will ask."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.utils import timezone

from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.job import Job as CoreJob
from calibration.engine.job.kit import role_quantity
from calibration.engine.job.parameters import freeze
from calibration.engine.method.family import fitting, newest
from calibration.engine.view.blocks import Mark
from calibration.kernel.codec import decode
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact
from calibration.setup.asking import WillAsk, in_thought, will_ask
from calibration.setup.checking import flat
from calibration.setup.forms import family_of_method
from verifyloop.kit.selectors import options
from verifyloop.kit.sources import offered_by
from verifyloop.plant.models import Instrument
from verifyloop.plant.setup import facts_alone, wrong_plan, wrong_record


@dataclass(frozen=True, kw_only=True)
class FitLine:
    """One answer to "does it fit together?"."""

    mark: Mark
    text: str
    aside: str = ""


@dataclass(frozen=True, kw_only=True)
class Fits:
    """Everything that is said of a record while it is typed."""

    wrong: tuple[InputError, ...]
    #: methods that fit, each with its title and why
    methods: tuple[tuple[str, str, str], ...]
    lines: tuple[FitLine, ...]
    asks: WillAsk | None


def fits(*, record: Mapping[str, Any], base: str, tag: str, now: datetime) -> Fits:
    """Return what is said of a record.

    ``base``: a method by which the kind of instrument is known; ``tag``: of the one that is
    changed, empty for a new one.

    Raises
    ------
    InputError
        ``method.unknown`` for the base.
    """
    family = family_of_method(base)
    wrong = wrong_record(record, family, tag)
    if not tag and not record.get("next_due"):
        wrong.append(InputError("field.missing", "next_due", "This is missing.", "Choose a day."))
    if wrong:
        missing = sum(w.code == "field.missing" for w in wrong)
        said = f"{missing} still to be filled in" if missing else ""
        other = len(wrong) - missing
        text = f"{other} not right yet" if other else "Not whole yet"
        line = FitLine(mark="outside" if other else "none", text=text, aside=said)
        return Fits(wrong=tuple(wrong), methods=(), lines=(line,), asks=None)
    facts = decode(InstrumentFacts, flat(facts_alone(record)))
    offered = fitting(facts)
    methods = tuple((id, newest(id).title, why) for id, why in offered)
    if not tag:
        wrong = wrong_plan(record, timezone.localdate(now))
    method = str(record.get("method") or base)
    if method not in dict(offered):
        method = offered[0][0] if offered else ""
    lines = [_method_line(record, methods, method)]
    asks = None
    if method:
        try:
            with exact():
                job = in_thought(facts, method, freeze(newest(method), {}), timezone.localtime(now))
                asks = will_ask(job)
                lines += _references(job, now)
        except InputError as refused:
            wrong.append(refused)
            lines.append(FitLine(mark="outside", text=refused.message, aside=refused.remedy))
    lines.append(_serial(record, tag))
    return Fits(wrong=tuple(wrong), methods=methods, lines=tuple(lines), asks=asks)


def _method_line(
    record: Mapping[str, Any], methods: tuple[tuple[str, str, str], ...], method: str
) -> FitLine:
    if not methods:
        return FitLine(
            mark="outside",
            text="No method fits",
            aside="Units, sensor and settings say which one: look at them.",
        )
    chosen = next((m for m in methods if m[0] == method), methods[0])
    others = ", ".join(title for id, title, _ in methods if id != chosen[0])
    wanted = str(record.get("method") or "")
    mark: Mark = "within" if wanted in ("", chosen[0]) else "outside"
    return FitLine(mark=mark, text=chosen[1], aside=f"or {others}" if others else chosen[2])


def _references(job: CoreJob, now: datetime) -> list[FitLine]:
    """Return the best reference of the shelf for each thing that has to be measured."""
    found = []
    today = timezone.localdate(now)
    for step in job.ledger.method.steps:
        for role in job.roles(step) if step.kind == "kit" else ():
            quantity = role_quantity(job.facts_found, role)
            if quantity in job.family.assets:
                offered = offered_by(quantity)(job, role.id, "", today, 1)
            else:
                offered = options(job, quantity, today)
            best = next((o for o in offered if o.usable), None)
            if best is None:
                why = offered[0].remark if offered else "none on the shelf; enter one under Kit"
                mark: Mark = "near" if role.instead else "outside"
                found.append(FitLine(mark=mark, text=f"{role.label}: nothing usable", aside=why))
                continue
            ratio = f"limit to uncertainty {best.ratio}" if best.ratio else best.description
            found.append(
                FitLine(
                    mark="within" if best.adequate else "near",
                    text=f"{role.label}: {best.asset}",
                    aside=best.remark or ratio,
                )
            )
    return found


def _serial(record: Mapping[str, Any], tag: str) -> FitLine:
    serial = str(record.get("serial", ""))
    other = Instrument.objects.filter(serial=serial).exclude(tag=tag or record["tag"]).first()
    if other is not None:
        return FitLine(
            mark="near", text=f"Serial number of {other.tag} too", aside="Is it the same device?"
        )
    return FitLine(mark="within", text="Tag and serial number are free")
