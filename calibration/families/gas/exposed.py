"""What one exposure adds to a job, whether it may be entered, and how it is said."""

from __future__ import annotations

from decimal import Decimal

from calibration.engine.job.events import Event, LeftOut, ReadingTaken
from calibration.engine.job.history import title_of
from calibration.engine.job.incidents import Refused
from calibration.engine.job.ledger import Ledger, Taken
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.engine.method.conditions import CHANGING
from calibration.families.gas import events as gas
from calibration.families.gas.admit import cylinder_of, refuse_unclear
from calibration.families.gas.admit_set import NEAR_TARGET, refused, target_of
from calibration.families.gas.exposure import (
    AFTER,
    IN_AIR,
    OTHER,
    Seen,
    as_set,
    compared,
    end_of,
    found_run,
    may_set,
    seen_of,
    span_is_set,
)
from calibration.families.gas.facts import channels
from calibration.families.gas.gases import (
    SUFFIX,
    adapter_on,
    gases_of,
    has_adapter,
    minutes_for,
    role_for,
    value_of,
)
from calibration.families.gas.ledger import Move, agreed_now, gas_of
from calibration.families.gas.words import Exposure
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, to_float
from calibration.kernel.own import EMPTY, Own
from calibration.kernel.rounding import as_typed, trimmed

FORCE = "Find the cause, or have it agreed to first that it is forced."
#: A value so far outside the range is asked about. [% of range]
BEYOND = Decimal(10)


def add_exposed(ledger: Ledger, content: gas.Exposed, event: Event) -> None:
    """Add what was read and set of every gas."""
    part, step = gas_of(ledger), ledger.method.step(content.step)
    if not isinstance(step, Exposure):
        return
    settings, decided = Settings(ledger.method, ledger.opened), _to_change(ledger)
    word = ""
    for channel, seen in seen_of(ledger, step, content).items():
        applied = value_of(ledger, settings, step.gas, channel) or Decimal(0)
        was_set = decided or any(move.channel == channel for move in part.moves)
        _found(ledger, settings, step, channel, seen, event)
        if seen.word:
            word = seen.word
            end = end_of(ledger, step, channel)
            said = Refused(step=step.id, word=word, end=end, shows=seen.before)
            ledger.refused.append((said, event))
        elif seen.after is not None:
            end = end_of(ledger, step, channel)
            part.moves.append(Move(channel, end, seen.before, seen.after, event))
            ledger.changes += 1
        last = seen.before if seen.after is None else seen.after
        # Where no span is set the gas is opened once: what it reads then is what is left.
        proves = step.proves or (step.goes_on and not span_is_set(ledger, channel))
        proven = proves and step.gas == "span" and (was_set or seen.after is not None)
        if proven and last is not None and not word:
            _take(ledger, f"as_left{SUFFIX[channel]}", 0, applied, last, event)
    if word:
        return
    part.exposed[step.id] = event
    ledger.unproven = False


def _found(
    ledger: Ledger, settings: Settings, step: Exposure, channel: int, seen: Seen, event: Event
) -> None:
    """Take what was read as found, where it is the first in that gas; else as adjusted from."""
    applied = value_of(ledger, settings, step.gas, channel) or Decimal(0)
    spec = ledger.method.run(found_run(step, channel))
    at = _point(ledger, settings, spec.id, step)
    if seen.before is None:
        if at not in ledger.readings[spec.id]:
            why = "It was set before it was read in this gas"
            ledger.left_out[spec.id][at] = LeftOut(run=spec.id, point=at, reason=why)
        return
    ledger.left_out.get(spec.id, {}).pop(at, None)
    if step.clear or at not in ledger.readings[spec.id]:
        _take(ledger, spec.id, at, applied, seen.before, event, seen.answered)
    elif step.goes_on and spec.again and ledger.repaired:
        _take(ledger, spec.again, at, applied, seen.before, event, seen.answered)
        # What was not read again since is not waited for.
        why = "It was not read again in this gas"
        for other in range(len(gases_of(settings, spec))):
            if other not in ledger.readings[spec.again]:
                one = LeftOut(run=spec.again, point=other, reason=why)
                ledger.left_out[spec.again][other] = one
            else:
                ledger.left_out[spec.again].pop(other, None)


def _to_change(ledger: Ledger) -> bool:
    """Tell whether it is being set or put right, so that what is read is how it is left."""
    judged = ledger.method.judging("found")
    decided = ledger.decided.get(judged.id) if judged is not None else None
    return decided is not None and decided[0].choice in CHANGING


def _point(ledger: Ledger, settings: Settings, run: str, step: Exposure) -> int:
    """Return the point of a run that is its gas."""
    gases = gases_of(settings, ledger.method.run(run))
    return gases.index(step.gas) if step.gas in gases else 0


def _take(
    ledger: Ledger,
    run: str,
    point: int,
    applied: Decimal,
    shown: Decimal,
    event: Event,
    own: Own = EMPTY,
) -> None:
    content = ReadingTaken(run=run, point=point, applied=applied, reading=shown, own=own)
    ledger.readings[run][point] = Taken(content, event)


def exposed(job: Reads, event: Event, known: dict[str, Event]) -> None:
    """Refuse an exposure that is not due, without its gas, or with a setting that must not be.

    Raises
    ------
    InputError
        ``step.*``, ``gas.*``, ``value.missing``, ``set.refused``, ``purge.not_clear``,
        ``slip.suspected``.
    """
    content = event.content
    step = job.step(content.step)
    if not isinstance(step, Exposure) or job.current is not step:
        raise InputError(
            "gas.not_due", "data.step", "Nothing is read there now.", "Go on with the present step."
        )
    seen = seen_of(job.ledger, step, content)
    _gas_on(job, step)
    for channel, values in seen.items():
        # What the detector itself finds too far off is no slip of who types it.
        odd = values.word or any(said.step == step.id for said, _ in job.ledger.refused)
        _one(job, step, channel, values, content.kept, step.goes_on and bool(odd))
    told_by_itself = step.goes_on and any(v.after is not None or v.word for v in seen.values())
    if not content.kept and not told_by_itself:
        _long_enough(job, event, step)


def _gas_on(job: Reads, step: Exposure) -> None:
    role, flow = role_for(job.ledger, step.gas, step.channel), gas_of(job.ledger).flowing
    if step.gas in IN_AIR:
        if flow is not None:
            raise InputError(
                "gas.not_air",
                "data.step",
                "Gas is open: that is not the air around.",
                "Shut the gas first.",
            )
        return
    if has_adapter(job.ledger) and not adapter_on(job.ledger):
        raise InputError(
            "gas.no_adapter", "data.step", "The adapter is not on.", "Put the adapter on first."
        )
    if flow is None or flow.content.role != role:
        raise InputError(
            "gas.not_on",
            "data.step",
            f"{cylinder_of(job, role)} is not open.",
            f"Open {cylinder_of(job, role)} and wait until every gas is steady.",
        )


def _one(
    job: Reads, step: Exposure, channel: int, seen: Seen, kept: bool, odd: bool = False
) -> None:
    c = channels(job.ledger.facts)[channel]
    most = c.range * BEYOND / HUNDRED
    for value, name in ((seen.before, c.id), (seen.after, c.id + AFTER)):
        if value is not None and not (kept or odd) and not -most <= value <= c.range + most:
            raise InputError(
                "slip.suspected",
                f"data.{name}",
                f"{c.label}: {trimmed(value)} {c.unit} is past its range of {trimmed(c.range)}. "
                "Read right?",
                "Correct it or keep it.",
            )
    if step.clear and seen.before is not None:
        refuse_unclear(job, channel, seen.before, f"data.{c.id}")
    if seen.word and seen.after is not None:
        raise InputError(
            "set.word",
            f"data.{c.id}{AFTER}",
            f"{c.label}: it refused and it was set; only one of both is so.",
            "Leave one of both empty.",
        )
    if seen.other is not None and not compared(job.ledger, step, c):
        raise InputError(
            "field.unknown", f"data.{c.id}{OTHER}", "No other instrument is read here.", "Drop it."
        )
    if seen.after is not None:
        _set(job, step, channel, seen, kept)


def _set(job: Reads, step: Exposure, channel: int, seen: Seen, kept: bool) -> None:
    c = channels(job.ledger.facts)[channel]
    field, one = f"data.{c.id}{AFTER}", as_set(job, step, channel)
    if not may_set(job, step, channel):
        raise InputError(
            "set.not_here",
            field,
            f"{c.label} is not set in this gas.",
            "Leave it empty.",
        )
    shown = seen.before if seen.before is not None else target_of(job, one)
    why, may_force = refused(job, one, shown, seen.other)
    forced = step.goes_on and may_force and agreed_now(job.ledger, step.id) is not None
    if why and not forced:
        raise InputError(
            "set.refused",
            field,
            f"{c.label}: {why}",
            "Leave it empty and take the rest; what to do about it is asked next."
            if not (step.goes_on and may_force)
            else FORCE,
        )
    target = target_of(job, one)
    if seen.after is not None and abs(seen.after - target) > c.range * NEAR_TARGET and not kept:
        raise InputError(
            "slip.suspected",
            field,
            f"{c.label}: after setting it shows {trimmed(seen.after)}, not {trimmed(target)}. "
            "Keep it?",
            "Correct it or keep it.",
            format(target, "f"),
        )


def _long_enough(job: Reads, event: Event, step: Exposure) -> None:
    flow = gas_of(job.ledger).flowing
    if flow is None or event.source != "typed":
        return
    wanted = 60 * to_float(minutes_for(job.settings, step.gas))
    been = (event.when - flow.on.when).total_seconds()
    if been < wanted / 2:
        first = channels(job.ledger.facts)[step.channel]
        raise InputError(
            "slip.suspected",
            f"data.{first.id}",
            f"The gas is on for {been:.0f} of {wanted:.0f} s. Is every gas steady?",
            "Wait, or keep it.",
        )


def exposed_in_words(ledger: Ledger, content: gas.Exposed) -> str:
    """Return an exposure as a sentence: each gas as read and as set."""
    step = ledger.method.step(content.step)
    if not isinstance(step, Exposure):
        return ""
    said = []
    for channel, seen in seen_of(ledger, step, content).items():
        c = channels(ledger.facts)[channel]
        text = f"{c.gas} {as_typed(seen.before) if seen.before is not None else 'not read'}"
        if seen.after is not None:
            text += f", set to {as_typed(seen.after)}"
        text += f" {c.unit}"
        if seen.word:
            text += f", refused: {seen.word}"
        if seen.peak is not None:
            text += f", peak {as_typed(seen.peak)}"
        if seen.life is not None:
            text += f", life by its own display {as_typed(seen.life)} %"
        if seen.other is not None:
            text += f" (other instrument {as_typed(seen.other)})"
        said.append(text)
    return f"{title_of(ledger.method, content.step)}: " + "; ".join(said)
