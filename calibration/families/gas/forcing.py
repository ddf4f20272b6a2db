"""What it takes to force a refused zero or span, and which cylinders a role takes."""

from __future__ import annotations

from decimal import Decimal

from calibration.engine.job.events import Event
from calibration.engine.job.facts import AssetFacts
from calibration.engine.job.kit import refuse_unusable
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import KitRole
from calibration.families.gas.facts import channels
from calibration.families.gas.gases import (
    fit_of,
    found_of,
    gases_of,
    role_for,
    shows,
    value_of,
)
from calibration.families.gas.words import GasSet
from calibration.gas.cylinder import Purpose
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED

#: Two cylinders agree about a sensor within this. [% of the response]
AGREE = Decimal(10)


def agreed(job: Reads, event: Event, known: dict[str, Event]) -> None:
    """Refuse to force without reason, second person or second cylinder.

    Raises
    ------
    InputError
        ``force.*``, ``reason.missing``.
    """
    content = event.content
    step = job.step(content.step)
    if not isinstance(step, GasSet) or job.current is not step:
        raise InputError("force.not_due", "data.step", "Nothing is set there now.", "Go on.")
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
    _other_cylinder(job, step, event)


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
