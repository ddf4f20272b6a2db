"""Commands to a simulated rig."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.db import transaction

from calibration.codec import decode
from calibration.errors import InputError
from calibration.simulate.pressure_loop import Command, LoopModel, live
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.errors import NotFound
from verifyloop.rigs.models import Rig


def rig_of(tag: str) -> Rig:
    """Return the rig wired to an instrument."""
    found = (
        Rig.objects.select_related("instrument", "instrument__area")
        .filter(instrument__tag=tag)
        .first()
    )
    if found is None:
        raise NotFound(
            "rig.none", f"No rig is wired to '{tag[:40]}'.", "Type the readings in instead."
        )
    return found


@transaction.atomic
def command(*, actor: User, tag: str, order: dict[str, Any], now: datetime) -> Rig:
    """Add a command at the present moment; the device may refuse it."""
    require(actor, "job.record")
    rig = rig_of(tag)
    model = decode(LoopModel, rig.model, "model")
    t = max(0.0, (now - rig.started_at).total_seconds() * rig.pace)
    given = decode(Command, {**order, "t": t}, "")
    if given.kind == "pressure":
        span = model.upper - model.lower
        share = (given.value - model.lower) / span
        if not -0.1 <= share <= 1.1:
            raise InputError(
                "rig.pressure_range",
                "value",
                "The source refuses a pressure more than 10 % outside the range.",
                "Give a pressure within the range of the instrument.",
            )
    commands = [decode(Command, c, "command") for c in rig.commands]
    live(model, [*commands, given], t, rig.seed)
    rig.commands = [*rig.commands, {**order, "t": t}]
    rig.save(update_fields=["commands"])
    return rig
