"""Changes to the plan of an instrument."""

from __future__ import annotations

from datetime import date, datetime, timedelta

from django.utils import timezone

import calibration.families  # noqa: F401  # registers them
from calibration.engine.job.parameters import check
from calibration.engine.method.family import fitting, newest
from calibration.engine.method.method import ParameterSpec
from calibration.kernel.errors import InputError
from verifyloop import form_values
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.errors import Conflict
from verifyloop.plant import plans
from verifyloop.plant.facts import facts_of, rule_scope
from verifyloop.plant.models import Instrument, Plan, SiteRule
from verifyloop.plant.selectors import instrument_by_tag
from verifyloop.register.kept import version_of
from verifyloop.register.write_lock import writing

#: No plan of a plant looks further.
FURTHEST = timedelta(days=15 * 366)


@writing()
def move_due_date(
    *, actor: User, tag: str, due: date, reason: str, version: str, now: datetime, method: str = ""
) -> Instrument:
    """Move the due date of one of its plans, with a reason that stays on record."""
    require(actor, "instrument.plan")
    instrument = instrument_by_tag(tag)
    plan = _planned(instrument, method, version)
    if not reason.strip():
        raise InputError(
            "reason.missing", "reason", "Moving a due date takes a reason.", "Say why."
        )
    not_past(due, now)
    said = f"moved by {actor.display_name}: {reason.strip()}"
    plans.moved(plan, due, actor=actor, now=now, why=reason, said=said)
    return instrument_by_tag(tag)


@writing()
def back_in_service(*, actor: User, tag: str, reason: str, now: datetime) -> Instrument:
    """Take a planner's word that an instrument is in service again; it is due at once."""
    require(actor, "instrument.plan")
    instrument = instrument_by_tag(tag)
    if instrument.out_of_service is None:
        raise InputError("service.in", "tag", f"{tag} is in service.", "Nothing to do.")
    _note(instrument, actor, now, "service", "out of service", "in service", reason)
    instrument.out_of_service = None
    instrument.save(update_fields=["out_of_service"])
    said = f"back in service, says {actor.display_name}: {reason.strip()}"
    for plan in instrument.plans.all():
        plan.next_due, plan.due_reason = timezone.localdate(now), said[:160]
        plan.save(update_fields=["next_due", "due_reason"])
    return instrument_by_tag(tag)


@writing()
def change_rule(
    *, actor: User, method: str, key: str, value: str, source: str, version: int, now: datetime
) -> SiteRule:
    """Set a parameter for all instruments of a method; running jobs keep theirs.

    ``version``: of the rule that it goes over; 0 where there was none.
    """
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
    if version != (last.version if last else 0):
        raise Conflict(
            "version.old",
            f"Somebody else set {spec.label.lower()} meanwhile.",
            "Look again, then change it; what you typed stays here.",
        )
    return SiteRule.objects.create(
        method=method,
        key=key,
        version=version + 1,
        value=value.strip(),
        unit=spec.unit,
        source=source.strip()[:120],
        at=now,
        by=actor.display_name,
    )


@writing()
def change_parameter(
    *,
    actor: User,
    tag: str,
    key: str,
    value: str,
    source: str,
    reason: str,
    version: str,
    now: datetime,
    method: str = "",
) -> Instrument:
    """Set a parameter of one of its plans, as its manual says; empty goes back to the site's."""
    require(actor, "method.change")
    instrument = instrument_by_tag(tag)
    plan = _planned(instrument, method, version)
    spec = _spec(plan.method, key)
    before = plan.parameters.get(key, {}).get("value", "")
    if value.strip():
        check(spec, value.strip())
        entry = {"value": value.strip(), "unit": spec.unit, "source": source.strip()[:120]}
        if not entry["source"]:
            raise InputError(
                "source.missing", "source", "Say where it comes from.", "Name the manual."
            )
        plan.parameters = {**plan.parameters, key: entry}
    else:
        plan.parameters = {k: v for k, v in plan.parameters.items() if k != key}
    _note(instrument, actor, now, spec.label.lower(), before, value.strip() or "site rule", reason)
    plan.save(update_fields=["parameters"])
    return instrument_by_tag(tag)


@writing()
def set_work_order(
    *, actor: User, tag: str, method: str, number: str, version: str, now: datetime
) -> Instrument:
    """Say by which work order the next job of a plan is done; empty takes it away."""
    require(actor, "job.open")
    instrument = instrument_by_tag(tag)
    plan = _planned(instrument, method, version)
    order = form_values.text(number, "number", "The number", 40, required=False)
    _note(instrument, actor, now, "work order", plan.work_order, order or "none", "work order")
    plan.work_order = order
    plan.save(update_fields=["work_order"])
    return instrument_by_tag(tag)


@writing()
def plan_method(
    *, actor: User, tag: str, method: str, due: date, reason: str, now: datetime
) -> Instrument:
    """Plan one more method at an instrument, due first on a day."""
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
    if instrument.plan_of(method) is not None:
        raise InputError(
            "plan.there", "method", "That is planned already.", "Move its date instead."
        )
    not_past(due, now)
    _with_a_reason(reason)
    said = f"planned by {actor.display_name}: {reason.strip()}"
    plans.added(instrument, method, due, actor=actor, now=now, why=reason, said=said)
    return instrument_by_tag(tag)


@writing()
def drop_plan(
    *, actor: User, tag: str, method: str, reason: str, version: str, now: datetime
) -> Instrument:
    """Plan a method no more; an instrument keeps one plan at least."""
    require(actor, "method.change")
    instrument = instrument_by_tag(tag)
    plan = _planned(instrument, method, version)
    if len(instrument.plans.all()) < 2:
        raise InputError(
            "plan.last", "method", "It is the only plan of this instrument.", "Plan another first."
        )
    _with_a_reason(reason)
    plans.dropped(plan, actor=actor, now=now, why=reason)
    return instrument_by_tag(tag)


def _planned(instrument: Instrument, method: str, version: str) -> Plan:
    """Return one of its plans as it was read; the first where no method is given."""
    found = instrument.plan_of(method) if method else instrument.plan
    if found is None:
        raise InputError(
            "plan.unknown", "method", "That is not planned at this instrument.", "Reload."
        )
    if version_of(found) != version:
        raise _changed(f"the plan of {instrument.tag}")
    return found


def _changed(what: str) -> Conflict:
    said = f"Somebody else changed {what} meanwhile, or a job was signed."
    return Conflict("version.old", said, "Look again, then change it; what you typed stays here.")


def not_past(due: date, now: datetime) -> None:
    """Refuse a day that is over, and one further away than any plan."""
    if due < timezone.localdate(now):
        raise InputError("due.past", "due", "That day is over.", "Choose today or a day to come.")
    if due > timezone.localdate(now) + FURTHEST:
        raise InputError(
            "due.too_far", "due", f"{due} is further away than any plan.", "Check the year."
        )


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
    _with_a_reason(reason)
    plans.noted(instrument, actor, now, field, before, after, reason).save()


def _with_a_reason(reason: str) -> None:
    if not reason.strip():
        raise InputError(
            "reason.missing", "reason", "A change to an instrument takes a reason.", "Say why."
        )
