"""Changes to the plan of an instrument."""

from __future__ import annotations

from datetime import date, datetime, timedelta

from django.db import transaction
from django.utils import timezone

import calibration.families  # noqa: F401  # registers them
from calibration.engine.family import fitting, newest
from calibration.engine.method import ParameterSpec
from calibration.engine.parameters import check
from calibration.kernel.errors import InputError
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.plant.facts import facts_of, rule_scope
from verifyloop.plant.models import Change, Instrument, SiteRule
from verifyloop.plant.selectors import instrument_by_tag

#: No plan of a plant looks further.
FURTHEST = timedelta(days=15 * 366)


@transaction.atomic
def move_due_date(*, actor: User, tag: str, due: date, reason: str, now: datetime) -> Instrument:
    """Move the due date of an instrument, with a reason that stays on record."""
    require(actor, "instrument.plan")
    instrument = instrument_by_tag(tag)
    if not reason.strip():
        raise InputError(
            "reason.missing", "reason", "Moving a due date takes a reason.", "Say why."
        )
    if due < timezone.localdate(now):
        raise InputError("due.past", "due", "That day is over.", "Choose today or a day to come.")
    if due > timezone.localdate(now) + FURTHEST:
        raise InputError(
            "due.too_far", "due", f"{due} is further away than any plan.", "Check the year."
        )
    Change.objects.create(
        instrument=instrument,
        at=now,
        by=actor.display_name,
        field="next due",
        before=str(instrument.plan.next_due or ""),
        after=str(due),
        reason=reason.strip()[:400],
    )
    instrument.plan.next_due = due
    instrument.plan.due_reason = f"moved by {actor.display_name}: {reason.strip()}"[:160]
    instrument.plan.save(update_fields=["next_due", "due_reason"])
    return instrument


@transaction.atomic
def back_in_service(*, actor: User, tag: str, reason: str, now: datetime) -> Instrument:
    """Take a planner's word that an instrument is in service again; it is due at once."""
    require(actor, "instrument.plan")
    instrument = instrument_by_tag(tag)
    if instrument.out_of_service is None:
        raise InputError("service.in", "tag", f"{tag} is in service.", "Nothing to do.")
    _note(instrument, actor, now, "service", "out of service", "in service", reason)
    instrument.out_of_service = None
    instrument.save(update_fields=["out_of_service"])
    instrument.plan.next_due = timezone.localdate(now)
    said = f"back in service, says {actor.display_name}: {reason.strip()}"
    instrument.plan.due_reason = said[:160]
    instrument.plan.save(update_fields=["next_due", "due_reason"])
    return instrument


@transaction.atomic
def change_rule(
    *, actor: User, method: str, key: str, value: str, source: str, now: datetime
) -> SiteRule:
    """Set a parameter for all instruments of a method; running jobs keep theirs."""
    require(actor, "method.change")
    spec = _spec(method, key)
    if value.strip():
        check(spec, value.strip())
    if not source.strip():
        raise InputError(
            "source.missing",
            "source",
            "A rule of the site says where it comes from.",
            "Name the procedure or the decision.",
        )
    method = rule_scope(method, key)
    last = SiteRule.objects.filter(method=method, key=key).order_by("-version").first()
    return SiteRule.objects.create(
        method=method,
        key=key,
        version=last.version + 1 if last else 1,
        value=value.strip(),
        unit=spec.unit,
        source=source.strip()[:120],
        at=now,
        by=actor.display_name,
    )


@transaction.atomic
def change_parameter(
    *, actor: User, tag: str, key: str, value: str, source: str, reason: str, now: datetime
) -> Instrument:
    """Set a parameter for one instrument, as its manual says; empty goes back to the site's."""
    require(actor, "method.change")
    instrument = instrument_by_tag(tag)
    spec = _spec(instrument.plan.method, key)
    before = instrument.plan.parameters.get(key, {}).get("value", "")
    if value.strip():
        check(spec, value.strip())
        entry = {"value": value.strip(), "unit": spec.unit, "source": source.strip()[:120]}
        if not entry["source"]:
            raise InputError(
                "source.missing", "source", "Say where it comes from.", "Name the manual."
            )
        instrument.plan.parameters = {**instrument.plan.parameters, key: entry}
    else:
        instrument.plan.parameters = {
            k: v for k, v in instrument.plan.parameters.items() if k != key
        }
    _note(instrument, actor, now, spec.label.lower(), before, value.strip() or "site rule", reason)
    instrument.plan.save(update_fields=["parameters"])
    return instrument


@transaction.atomic
def change_method(*, actor: User, tag: str, method: str, reason: str, now: datetime) -> Instrument:
    """Choose another method for an instrument; a running job keeps the one it began with."""
    require(actor, "method.change")
    instrument = instrument_by_tag(tag)
    offered = [id for id, _ in fitting(facts_of(instrument, rig=False))]
    if method not in offered:
        raise InputError(
            "method.does_not_fit",
            "method",
            f"That method does not fit {tag}.",
            "Choose one of: " + ", ".join(newest(m).title for m in offered) + ".",
        )
    _note(instrument, actor, now, "method", instrument.plan.method, method, reason)
    instrument.plan.method = method
    instrument.plan.save(update_fields=["method"])
    return instrument


def _spec(method: str, key: str) -> ParameterSpec:
    found = next((s for s in newest(method).parameters if s.id == key), None)
    if found is None:
        raise InputError(
            "parameter.unknown", "key", f"The method has no parameter '{key[:40]}'.", "Reload."
        )
    return found


def _note(
    instrument: Instrument,
    actor: User,
    now: datetime,
    field: str,
    before: str,
    after: str,
    reason: str,
) -> None:
    if not reason.strip():
        raise InputError(
            "reason.missing", "reason", "A change to an instrument takes a reason.", "Say why."
        )
    Change.objects.create(
        instrument=instrument,
        at=now,
        by=actor.display_name,
        field=field[:40],
        before=before[:120],
        after=after[:120],
        reason=reason.strip()[:400],
    )
