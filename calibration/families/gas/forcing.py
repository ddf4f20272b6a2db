"""What it takes to force a refused zero or span, and which cylinders a role takes."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

from calibration.engine.job.events import Event
from calibration.engine.job.facts import AssetFacts
from calibration.engine.job.kit import refuse_unusable
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import KitRole, Step
from calibration.engine.view.asks import Refusal
from calibration.families.gas.admit_set import background, read_last, refused
from calibration.families.gas.events import Agreed
from calibration.families.gas.exposure import as_set, by_gas, may_set
from calibration.families.gas.facts import channels
from calibration.families.gas.gases import (
    beside,
    fit_of,
    found_of,
    gases_of,
    role_for,
    shows,
    value_of,
)
from calibration.families.gas.ledger import agreed_now
from calibration.families.gas.state import ForceState, GasState
from calibration.families.gas.words import Exposure, GasSet
from calibration.gas.cylinder import Purpose
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, parse_decimal
from calibration.kernel.rounding import trimmed

#: Two cylinders agree about a sensor within this. [% of the response]
AGREE = Decimal(10)


def refusal_of(job: Reads, gas: GasState, step: str) -> Refusal | None:
    """Return what is refused now and what forcing takes; none where nothing is."""
    if gas.force is None:
        return None
    return Refusal(
        step=step,
        kind="agreed",
        refused=gas.force.refused,
        may_force=gas.force.may_force,
        agreed=gas.force.agreed,
        advice="Put right what is the cause and try again, or leave it as refused and go on."
        if by_gas(job.ledger)
        else "Stop, take the gas off and find the cause. Undo the decision to set it, then "
        "report it.",
        other="cylinder",
        checks=by_checks(job),
        again=by_gas(job.ledger),
    )


def agreed(job: Reads, event: Event, known: dict[str, Event]) -> None:
    """Refuse to force without reason, second person or second cylinder.

    Raises
    ------
    InputError
        ``force.*``, ``reason.missing``.
    """
    content = event.content
    step = to_force(job, job.step(content.step))
    if step is None:
        raise InputError("force.not_due", "data.step", "Nothing is set there now.", "Go on.")
    _may_be(job, job.step(content.step))
    if not content.reason.strip():
        raise InputError(
            "reason.missing", "data.reason", "Forcing takes a reason.", "Say why in a few words."
        )
    if content.way == "second_person":
        if not content.name.strip() or content.name == event.by:
            raise InputError(
                "force.second_person",
                "data.name",
                "A second person has to agree, with their own sign-in.",
                "Have a colleague sign in here.",
            )
        return
    if content.way == "checks":
        _checks(job, step, event)
        return
    _other_cylinder(job, step, event)


def _may_be(job: Reads, step: Step) -> None:
    """Refuse to force what must not be, whoever agrees.

    Raises
    ------
    InputError
        ``force.not_here``.
    """
    state = forced(job, step) if isinstance(step, Exposure) else None
    if state is not None and not state.may_force:
        raise InputError(
            "force.not_here",
            "data.step",
            f"Not forced. {state.refused}",
            "Find the cause, put it right and try again, or leave it as refused.",
        )


def to_force(job: Reads, step: Step) -> GasSet | None:
    """Return the setting of the present step that may be forced; none where there is none."""
    if job.current is not step:
        return None
    if isinstance(step, Exposure) and step.goes_on:
        return as_set(job, step, step.channel) if may_set(job, step, step.channel) else None
    return step if isinstance(step, GasSet) else None


def _checks(job: Reads, step: GasSet, event: Event) -> None:
    """Refuse to force by checks where the site wants more, or where one of the three is not so."""
    content = event.content
    if not by_checks(job):
        raise InputError(
            "force.second_person",
            "data.way",
            "This site wants a second person, or a second cylinder.",
            "Have a colleague sign in here, or take another cylinder.",
        )
    for name, said in (
        ("label", "The value on the label"),
        ("until", "The date on the label"),
        ("flow_seen", "The flow at the regulator"),
    ):
        if not getattr(content, name).strip():
            raise InputError(
                "force.check_missing", f"data.{name}", f"{said} is missing.", "Look, and type it."
            )
    if step.end == "span":
        own = parse_decimal(content.label, "data.label")
        holds = value_of(job.ledger, job.settings, step.gas, step.channel)
        if holds is not None and own != holds:
            raise InputError(
                "force.label",
                "data.label",
                f"The label says {content.label}; it is to be set to {trimmed(holds)}.",
                "Do not set it. Find out what is in the cylinder first.",
            )
    if _day(content.until) < job.day_of(event):
        raise InputError(
            "force.expired", "data.until", "That date is over.", "Take another cylinder."
        )


def _day(text: str) -> date:
    try:
        return date.fromisoformat(text.strip())
    except ValueError:
        raise InputError(
            "date.invalid", "data.until", f"'{text[:20]}' is no date.", "Type year-month-day."
        ) from None


def forced(job: Reads, step: Exposure) -> ForceState | None:
    """Return what it takes to force what the detector refused since it was put right; else none."""
    one = to_force(job, step)
    since = max((e.seq for _, e in job.ledger.repaired), default=0)
    said = [c for c, e in job.ledger.refused if c.step == step.id and e.seq > since]
    if one is None or not said:
        return None
    shown = read_last(job, one)
    why, may = refused(job, one, shown) if shown is not None else ("", True)
    # Another instrument in the same air, where one was read, says it better than the detector.
    around = shown is not None and beside(job, channels(job.ledger.facts)[one.channel]) is None
    if around and shown is not None and one.end == "zero" and background(job, one.channel, shown):
        why, may = "The air around reads more than zero gas: there is gas around.", False
    agreed = agreed_now(job.ledger, step.id)
    return ForceState(
        refused=f"It refused: {said[-1].word}. {why}".strip(),
        may_force=may,
        agreed=_by(agreed) if agreed is not None else "",
    )


def _by(content: Agreed) -> str:
    """Return who or what agreed, in words."""
    if content.way == "second_person":
        return content.name
    if content.way == "checks":
        return "label, date and flow looked at"
    return f"{content.asset.asset} agrees" if content.asset else ""


def by_checks(job: Reads) -> bool:
    """Tell whether a technician who is sure of the gas may force alone, by three facts."""
    return job.settings.has("forcing") and job.settings.choice("forcing") == "by checks"


def _other_cylinder(job: Reads, step: GasSet, event: Event) -> None:
    content, c = event.content, channels(job.ledger.facts)[step.channel]
    role = next(
        (
            r
            for s in job.ledger.method.steps
            for r in s.roles
            if r.id == role_for(job.ledger, step.gas, step.channel)
        ),
        None,
    )
    first = job.ledger.kit.get(role.id) if role is not None else None
    if content.asset is None or role is None or first is None:
        raise InputError("force.cylinder", "data.asset", "Name the other cylinder.", "Choose one.")
    refuse_unusable(content.asset, job.day_of(event))
    if content.asset.asset == first.asset.asset:
        raise InputError(
            "force.same_cylinder", "data.asset", "That is the same cylinder.", "Take another one."
        )
    fit = fit_of(job, role, content.asset)
    if not fit.usable or content.reading is None:
        raise InputError(
            "force.cylinder",
            "data.asset",
            fit.remark or "Its reading is missing.",
            "Take another cylinder and type what the detector shows with it.",
        )
    base = step.run if step.run else found_of(job, step.channel).id
    mine = _response(job, base, step.gas, step.channel)
    if step.goes_on and (shown := read_last(job, step)) is not None:
        applied = value_of(job.ledger, job.settings, step.gas, step.channel)
        mine = HUNDRED * shown / applied if step.end == "span" and applied else shown
    other = content.reading if step.end == "zero" else HUNDRED * content.reading / (fit.value or 1)
    most = c.range / 50 if step.end == "zero" else AGREE * abs(mine or HUNDRED) / HUNDRED
    if mine is None or abs(other - mine) > most:
        raise InputError(
            "force.disagrees",
            "data.reading",
            "The two cylinders do not agree about the sensor: one of the gases is not what it "
            "says.",
            "Do not set it. Find out which cylinder is wrong first.",
        )


def _response(job: Reads, run: str, purpose: Purpose, channel: int) -> Decimal | None:
    """Return what the run read with a gas: % of the gas, for zero in the gas unit."""
    figures = job.figures(run)
    gases = gases_of(job.settings, job.ledger.method.run(run))
    index = next((i for i in figures.order if gases[i] == purpose), None)
    if index is None:
        return None
    seen = shows(figures.facts, figures.taken[index].content)
    value = value_of(job.ledger, job.settings, purpose, channel)
    return seen if not value else HUNDRED * seen / value


def cylinder_chosen(job: Reads, role: KitRole, asset: AssetFacts, reason: str) -> None:
    """Refuse a cylinder that cannot be used, and one that is doubted without a reason.

    Raises
    ------
    InputError
        ``cylinder.unusable``, ``cylinder.doubt``.
    """
    fit = fit_of(job, role, asset)
    if not fit.usable:
        raise InputError(
            "cylinder.unusable",
            "data.asset",
            f"{asset.asset} cannot be used here. {fit.remark}",
            "Choose another cylinder.",
        )
    if not fit.ok and not reason.strip():
        raise InputError(
            "cylinder.doubt",
            "data.reason",
            f"{asset.asset}: {fit.remark}",
            "Choose another cylinder, or say why this one is used.",
        )
