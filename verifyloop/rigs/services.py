"""Commands to a simulated rig."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from calibration.engine.method.family import family_by_facts
from calibration.kernel.codec import decode
from calibration.kernel.errors import InputError
from calibration.simulate.commands import WRITE_DELAY_S, Command
from calibration.simulate.rigs import live, model_of, range_of, settings_at
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.errors import NotFound
from verifyloop.plant.facts import facts_of
from verifyloop.plant.models import Instrument
from verifyloop.register.write_lock import writing
from verifyloop.rigs.models import Rig


def rig_of(tag: str, *, to_write: bool = False) -> Rig:
    """Return the rig wired to an instrument; ``to_write``: nobody else commands it meanwhile."""
    every = Rig.objects.select_related("instrument", "instrument__area")
    every = every.select_for_update(of=("self",)) if to_write else every
    found = every.filter(instrument__tag=tag).first()
    if found is None:
        raise _none(tag)
    return found


def rig_at(instrument: Instrument) -> Rig:
    """Return the rig wired to an instrument that is at hand."""
    found = Rig.objects.filter(instrument_id=instrument.pk).order_by().first()
    if found is None:
        raise _none(instrument.tag)
    return found


def _none(tag: str) -> NotFound:
    said = f"No rig is wired to '{tag[:40]}'."
    return NotFound("rig.none", said, "Type the readings in instead.")


@writing()
def command(*, actor: User, tag: str, order: dict[str, Any], now: datetime) -> Rig:
    """Add a command at the present moment; the device may refuse it."""
    require(actor, "job.record")
    rig = rig_of(tag, to_write=True)
    model = model_of(rig.model)
    t = max(0.0, (now - rig.started_at).total_seconds() * rig.pace)
    given = decode(Command, {**order, "t": t}, "")
    family = family_by_facts(facts_of(rig.instrument, rig=True))
    follows = family is not None and family.rig is not None and not family.rig.commanded
    if follows and given.kind != "write":
        raise InputError(
            "rig.by_job",
            "kind",
            "This rig follows the entries of the job.",
            "Do the step in the job.",
        )
    low, high = range_of(model) if given.scale == "input" else (-10.0, 110.0)
    if given.kind == "apply" and not low <= given.value <= high:
        raise InputError(
            "rig.range",
            "value",
            f"The source reaches from {low:g} to {high:g}.",
            "Give a value within the range of the instrument.",
        )
    commands = rig.commanded()
    live(model, [*commands, given], t + WRITE_DELAY_S, rig.seed)
    settings_at(model, [*commands, given], t + WRITE_DELAY_S)
    rig.commands = [*rig.commands, {**order, "t": t}]
    rig.save(update_fields=["commands"])
    return rig
