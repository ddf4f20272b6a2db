"""What a client may not say by itself: reference data, live values, names under signatures."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

from calibration.engine.admission.signing import statement
from calibration.engine.job.events import Event
from calibration.engine.job.job import Job as CoreJob
from calibration.engine.method.method import Step
from calibration.engine.view.asks import By
from calibration.engine.view.step_view import shown
from calibration.engine.view.tasks import filled_by
from calibration.kernel.codec import encode
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact, parse_decimal
from calibration.simulate.alongside import Alongside, Watched
from verifyloop import form_values
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.accounts.proving import proven
from verifyloop.accounts.resets import mark
from verifyloop.kit.sources import facts_by_asset
from verifyloop.rigs.models import Rig
from verifyloop.rigs.services import rig_at
from verifyloop.rigs.sources import Captured, OnDisplay, SimulatedLoop, Wanted, refuse_unsteady
from verifyloop.work.device_files import read_from
from verifyloop.work.groups import programme_of
from verifyloop.work.models import Job
from verifyloop.work.sent import NewEvent


@dataclass(frozen=True)
class Filling:
    """An entry that is filled in: what it says, whose it is, and the job before it."""

    sent: NewEvent
    job: Job
    actor: User
    before: CoreJob
    at: datetime

    @property
    def live(self) -> bool:
        """Tell whether the entry comes from a rig."""
        return self.sent.source == "simulated"


def enrich(
    sent: NewEvent,
    job: Job,
    actor: User,
    before: CoreJob,
    at: datetime,
    standing: Sequence[Event],
) -> NewEvent:
    """Return the event with what the server knows better filled in."""
    data = dict(sent.data)
    if sent.source == "simulated":
        _wired(job)
    if sent.kind == "opened":
        raise InputError("job.opened_twice", "kind", "The job is open.", "Go on with it.")
    if sent.kind == "signed":
        says = statement(standing, actor.username)
        data = {"name": actor.display_name, "statement": says} | _of_account(actor, at)
    elif sent.kind == "reviewed":
        data.pop("account_note", None)
        data |= {"name": actor.display_name} | _of_account(actor, at)
    elif sent.kind in ("confirmed", "line_failed", "recorded", "not_told"):
        data["said"] = shown(before, data)
    filling = Filling(sent, job, actor, before, at)
    with exact():
        asked = filled_by(before, sent.kind)
    if "password" in data and "second_person" not in asked:
        raise InputError(
            "force.not_due", "data.step", "Nothing is to be forced there now.", "Go on."
        )
    for who in asked:
        if who in FILL:
            data = FILL[who](filling, data)
    return replace(sent, data=data)


def _kit(filling: Filling, data: dict[str, Any]) -> dict[str, Any]:
    """Put in the reference that is named by its number in the kit."""
    named = data.get("asset")
    if not isinstance(named, str):
        # Who agrees to force something may be a person, and no reference.
        if filling.sent.kind != "kit_chosen":
            return data
        raise InputError(
            "field.wrong_type", "data.asset", "This must be an asset number.", "Choose one."
        )
    asset = form_values.text(named, "data.asset", "The number in the kit", 40)
    return {**data, "asset": encode(facts_by_asset(asset, filling.job.number))}


def _rig(filling: Filling, data: dict[str, Any]) -> dict[str, Any]:
    """Put in what the rig shows, or sets."""
    if not filling.live:
        return data
    sent, job, before, at = filling.sent, filling.job, filling.before, filling.at
    if sent.kind == "reading_taken" or sent.kind in rigging(before).fills:
        return _from_rig(sent.kind, data, job, before, at)
    if sent.kind == "written":
        setting = str(data.get("setting", ""))
        return {**data, "read_back": source_for(job, before, at).read_setting(setting, at)}
    return _set_on_rig(data, job, before, at) if "sample_at" in data else data


def _file(filling: Filling, data: dict[str, Any]) -> dict[str, Any]:
    """Put in what is kept of the file that values were read from."""
    if "read_from" not in data:
        return data
    return {**data, "read_from": read_from(filling.job, filling.before.current, data["read_from"])}


def _of_account(actor: User, at: datetime) -> dict[str, str]:
    """Return what stands beside a name, where others opened a way into its account lately."""
    said = mark(actor, at)
    return {"account_note": said} if said else {}


def _wired(job: Job) -> None:
    """Refuse what is said to come from a rig, where none is wired: it was typed."""
    if not Rig.objects.filter(instrument_id=job.instrument_id).exists():
        raise InputError(
            "event.source",
            "source",
            f"No rig is wired to {job.instrument.tag}: nothing comes from one.",
            "Send it as typed.",
        )


NOT_AGREED = (
    "The second sign-in is not right. Nothing was agreed.",
    "Have the second person type their own name and password.",
    "data.password",
)


def _agreed(filling: Filling, data: dict[str, Any]) -> dict[str, Any]:
    """Check who agrees to force: another person's own sign-in, or another reference.

    A password is looked at only where the present step asks for a second person.
    """
    password, username = data.pop("password", ""), data.pop("username", "")
    data.pop("name", None)
    if data.get("way") == "second_person":
        second = proven(str(username), str(password), NOT_AGREED)
        if second.pk == filling.actor.pk:
            raise InputError(
                "force.second_person",
                "data.username",
                "A second person has to agree.",
                "Have a colleague sign in here.",
            )
        require(second, "job.force")
        data["name"] = second.display_name
    return data


def rigging(before: CoreJob) -> Alongside:
    """Return how a rig goes along with a job of this family."""
    found: Alongside = before.family.rig or Alongside()
    return found


def _set_on_rig(data: dict[str, Any], job: Job, before: CoreJob, at: datetime) -> dict[str, Any]:
    """Let the rig set something, and return what it showed before and after."""
    source, along = source_for(job, before, at), rigging(before)
    step = before.ledger.method.step(str(data.get("step", "")))
    if step is not None and along.parts(before, step, source.time_at(at)):
        return _together_on_rig(data, job, before, step, at)
    order = along.sets(before, step, source.time_at(at)) if step is not None else None
    if step is None or order is None:
        return data
    captured = source.capture(_moment(data, source, at))
    refuse_unsteady(captured, str(data.pop("early_reason", "")))
    shown = str(captured.digital)
    if along.refused(before, step, captured.digital):
        return {**data, "before": shown, "after": shown}
    return {**data, "before": shown, "after": str(source.after(order))}


def _together_on_rig(
    data: dict[str, Any], job: Job, before: CoreJob, step: Step, at: datetime
) -> dict[str, Any]:
    """Let the rig say, and set, several values at one moment; what may not be set stays."""
    along, sets = rigging(before), data.pop("set", "all") == "all"
    first = source_for(job, before, at)
    moment, early = _moment(data, first, at), str(data.pop("early_reason", ""))
    for part in along.parts(before, step, first.time_at(at)):
        source = source_of(job, before, at, part.run, part.watched)
        captured = source.capture(moment)
        refuse_unsteady(captured, early)
        data[part.name] = str(captured.digital)
        seen = source.seen(moment)
        data |= {name: str(seen[key]) for key, name in part.also.items() if key in seen}
        if sets and part.order is not None and along.may_set(before, part, captured.digital):
            data[part.after] = str(source.after(part.order))
    return data


def shown_together(job: Job, before: CoreJob, now: datetime) -> tuple[OnDisplay, ...]:
    """Return the values that the present step reads at once, each as it is shown now."""
    along, step = rigging(before), before.current
    if step is None or along.commanded:
        return ()
    found = []
    for part in along.parts(before, step, 0.0):
        source = source_of(job, before, now, part.run, part.watched)
        t = source.time_at(now)
        frame = source.frame(t)
        value = frame.digital if source.says(t) else ""
        found.append(
            OnDisplay(part.name, part.label, value, part.unit, frame.steady, frame.steady_text)
        )
    return tuple(found)


def source_for(job: Job, before: CoreJob, now: datetime) -> SimulatedLoop:
    """Return the live source of a job's instrument, with the job's idea of steady."""
    along = rigging(before)
    return source_of(job, before, now, along.run(before), along.watched(before))


def source_of(
    job: Job, before: CoreJob, now: datetime, run: str, watched: Watched
) -> SimulatedLoop:
    """Return the live source of one run of a job's instrument, as it is looked at."""
    facts = before.facts_of(run)
    band = before.settings.share("stable_band_percent") * abs(facts.transfer.output_span)
    return SimulatedLoop(
        rig_at(job.instrument),
        facts,
        Wanted(float(band), float(before.settings.number("stable_dwell_s"))),
        watched,
        programme_of(job.number, now) if before.alone else None,
    )


def _from_rig(
    kind: str, data: dict[str, Any], job: Job, before: CoreJob, at: datetime
) -> dict[str, Any]:
    """Replace a moment of the rig by the values that the rig shows at it."""
    source = source_for(job, before, at)
    moment = _moment(data, source, at)
    captured = source.capture(moment)
    spec = before.ledger.method.run(str(data.get("run", "")))
    runkind = before.kind_of(spec)
    read = runkind.columns(before, spec, before.figures(spec.id))
    values: dict[str, Any] = _values(captured, "digital" in read, "indicated" in read)
    values |= source.seen(moment)
    if runkind.applies_point and kind == "reading_taken":
        point = before.plan_of(spec.id)[_index(data.get("point"), before.plan_of(spec.id))]
        values["applied"] = str(point.nominal)
    if kind != "reading_taken":
        refuse_unsteady(captured, str(data.pop("early_reason", "")))
        return rigging(before).filled(before, data, values, source.before_last_trim)
    refuse_unsteady(captured, str(data.get("early_reason", "")))
    if captured.steady:
        data.pop("early_reason", None)
    return {**data, **values, "steadiness": encode(captured.steadiness)}


def _moment(data: dict[str, Any], source: SimulatedLoop, at: datetime) -> float:
    """Return the moment of the rig that a value is taken from. [s]"""
    moment = float(parse_decimal(data.pop("sample_at", None), "data.sample_at"))
    newest = source.time_at(at) + 5 * source.rig.pace
    if not 0 <= moment <= newest:
        raise InputError(
            "reading.no_such_moment",
            "data.sample_at",
            "The rig has no value for that moment.",
            "Take the reading again.",
        )
    return moment


def _values(captured: Captured, digital: bool, indicated: bool) -> dict[str, str]:
    values = {"applied": str(captured.applied), "reading": str(captured.reading)}
    if digital:
        values["digital"] = str(captured.digital)
    if indicated:
        values["indicated"] = str(captured.indicated)
    return values


def _index(point: object, plan: Sequence[object]) -> int:
    """Return the index of a point; the core refuses one that is not there."""
    return point if isinstance(point, int) and 0 <= point < len(plan) else 0


#: By who fills it in; what a person says is not touched.
FILL: dict[By, Callable[[Filling, dict[str, Any]], dict[str, Any]]] = {
    "kit": _kit,
    "rig": _rig,
    "file": _file,
    "second_person": _agreed,
}
