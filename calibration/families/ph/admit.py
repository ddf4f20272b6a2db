"""Which entries with buffers may count, and which are asked about."""

from __future__ import annotations

from datetime import date

from calibration.analyzers.ph.buffers import find_table, value_at
from calibration.engine.job.events import Event
from calibration.engine.job.facts import AssetFacts
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import KitRole
from calibration.families.ph.causes import in_buffer
from calibration.families.ph.facts import analyzer, bottle
from calibration.families.ph.ledger import buffers_of
from calibration.families.ph.values import (
    NEAR_SEVEN,
    in_it,
    next_role,
    roles_of,
    run_of,
    table_for,
    temperature_c,
)
from calibration.families.ph.words import NEAR, SIDE, BufferRun
from calibration.kernel.errors import InputError

#: Beyond this no electrode goes, whatever it is in. [mV]
MOST_MV = 700
#: A sign is doubtful from here on: closer to 7 the offset may well turn it. [mV]
SIGN_FROM_MV = 90


def fits(job: Reads, role: KitRole, asset: AssetFacts) -> bool:
    """Tell whether a bottle may serve for a role at all."""
    value = float(bottle(asset).nominal)
    if role.id == NEAR:
        return abs(value - 7) <= NEAR_SEVEN
    acid = (analyzer(job.ledger.facts).side == "acid") == (role.id == SIDE)
    return value < 7 - NEAR_SEVEN if acid else value > 7 + NEAR_SEVEN


def doubt(job: Reads, asset: AssetFacts, on: date) -> str:
    """Return what speaks against a bottle; empty when nothing."""
    own, record = bottle(asset), analyzer(job.ledger.facts).buffer_set
    said = []
    if own.set != record:
        said.append(f"The analyzer counts by the {record} set on record; this is {own.set}.")
    most = job.settings.number("open_days")
    if own.opened_on and (on - date.fromisoformat(own.opened_on)).days > most:
        said.append(f"Opened on {own.opened_on}: {most} days at most.")
    return " ".join(said)


def bottle_chosen(job: Reads, role: KitRole, asset: AssetFacts, reason: str) -> None:
    """Refuse a bottle that cannot serve; ask for a reason where something speaks against it.

    Raises
    ------
    InputError
        ``buffer.unknown``, ``buffer.other_side``, ``reference.not_adequate``.
    """
    own = bottle(asset)
    find_table(own.set, own.nominal, (), "data.asset")
    if not fits(job, role, asset):
        raise InputError(
            "buffer.other_side",
            "data.asset",
            f"{asset.asset} is pH {own.nominal}: that is no {role.label.lower()}.",
            "Choose another bottle for it.",
        )
    against = doubt(job, asset, job.now.date())
    if against and not reason.strip():
        raise InputError(
            "reference.not_adequate",
            "data.reason",
            f"{asset.asset}: {against}",
            "Choose another bottle, or say why this one is used.",
        )


def _due(job: Reads, event: Event) -> tuple[BufferRun, str]:
    """Return the run and the buffer that is due in it.

    Raises
    ------
    InputError
        ``step.*``, ``buffer.not_due``.
    """
    step = job.step(event.content.step)
    spec = run_of(job, step)
    if spec is None or job.current is not step:
        raise InputError(
            "buffer.not_due",
            "data.step",
            f"No buffer is due at '{step.title}' now.",
            "Go on with the present step.",
        )
    return spec, next_role(job, spec)


def immersed(job: Reads, event: Event, known: dict[str, Event]) -> None:
    """Refuse a buffer that is not the next one.

    Raises
    ------
    InputError
        ``buffer.not_due``.
    """
    spec, due = _due(job, event)
    if event.content.role not in roles_of(job.ledger, job.settings, spec):
        raise InputError(
            "buffer.not_due",
            "data.role",
            "That buffer is no part of this run.",
            f"Take {table_for(job.ledger, due).nominal}." if due else "Go on.",
        )
    _worth_known(job, spec, event.content.role)


def _worth_known(job: Reads, spec: BufferRun, role: str) -> None:
    """Refuse a buffer at a temperature for which its table says nothing: it has no value there."""
    warm = temperature_c(job.ledger, spec)
    value_at(table_for(job.ledger, role), warm, "data.role")


def accepted(job: Reads, event: Event, known: dict[str, Event]) -> None:
    """Refuse to let the analyzer take a point that was not read.

    Raises
    ------
    InputError
        ``buffer.not_due``, ``buffer.not_read``.
    """
    spec, due = _due(job, event)
    role = event.content.role
    if not spec.accepts or role != due:
        raise InputError(
            "buffer.not_due",
            "data.role",
            "The analyzer is not to take that buffer now.",
            "Go on with the present step.",
        )
    place = roles_of(job.ledger, job.settings, spec).index(role)
    if place not in job.ledger.readings[spec.id]:
        raise InputError(
            "buffer.not_read",
            "data.role",
            "That buffer was not read yet.",
            "Read millivolts and pH first, then let the analyzer take it.",
        )


def reading(job: Reads, event: Event, spec: BufferRun) -> None:
    """Refuse a reading in no buffer, or in another one; ask about a doubtful sign.

    Raises
    ------
    InputError
        ``buffer.not_in``, ``number.range``, ``slip.suspected``.
    """
    content = event.content
    role = roles_of(job.ledger, job.settings, spec)[content.point]
    name = table_for(job.ledger, role).nominal
    if not in_it(job, spec, role):
        raise InputError(
            "buffer.not_in",
            "data.point",
            f"The electrode is not in a fresh portion of {name}.",
            "Rinse it in one portion, put it into the second, then read.",
        )
    _worth_known(job, spec, role)
    mv = in_buffer(content.own).mv
    if abs(mv) > MOST_MV:
        raise InputError(
            "number.range",
            "data.mv",
            f"{mv} mV is more than any electrode gives.",
            "Read the millivolts again, with their decimal point.",
        )
    wrong_way = (mv > 0) == (content.applied > 7)
    if wrong_way and abs(mv) > SIGN_FROM_MV and not content.kept and event.source == "typed":
        raise InputError(
            "slip.suspected",
            "data.mv",
            f"{mv} mV in pH {name} has the other sign than an electrode gives there. Keep it?",
            "Correct it or keep it.",
        )


def to_close(job: Reads) -> tuple[str, ...]:
    """Return what the family wants before a signature: both ends of a calibration."""
    part = buffers_of(job.ledger)
    if part.accepted and len(part.accepted) < 2:
        return ("The analyzer took one buffer only: take the second, too.",)
    return ()
