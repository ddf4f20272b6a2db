"""Which plugs and lines may be entered now, and how they are said."""

from __future__ import annotations

from calibration.engine.files.device_file import not_read_before, typed_over
from calibration.engine.job.events import Event
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Step
from calibration.families.magmeter.events import LinesRead, Plugged
from calibration.families.magmeter.facts import meter
from calibration.families.magmeter.ledger import order_of, part_of, values_of
from calibration.families.magmeter.words import Plugging, Testing, plugs
from calibration.kernel.errors import InputError
from calibration.kernel.rounding import as_typed

#: A value so many times its stored one is asked about: a digit or a unit is wrong.
FAR = 200


def plugged(job: Reads, event: Event, known: dict[str, Event]) -> None:
    """Refuse a plug out of order.

    Raises
    ------
    InputError
        ``step.not_now``, ``plug.unknown``, ``plug.order``.
    """
    content, step = event.content, job.current
    if not isinstance(step, Plugging) or step.id != content.step:
        raise InputError(
            "step.not_now", "data.step", "No plug moves now.", "Go on with the present step."
        )
    if content.plug == "all":
        return
    order = order_of(job.ledger, step)
    left = [p for p in order if p not in part_of(job.ledger).plugged.get(step.id, [])]
    if content.plug not in order:
        raise InputError(
            "plug.unknown",
            "data.plug",
            f"There is no plug '{content.plug[:40]}'.",
            "Use one of: " + ", ".join(order) + ".",
        )
    if left and content.plug != left[0]:
        label = next(p.label for p in plugs(meter(job.ledger.facts)) if p.id == left[0])
        raise InputError(
            "plug.order",
            "data.plug",
            f"{label} comes first.",
            "Keep to the order: it decides what is under power when.",
        )


def all_plugged(job: Reads, step: Step) -> bool:
    """Tell whether every plug of a step is where it belongs."""
    if not isinstance(step, Plugging):
        return False
    done = part_of(job.ledger).plugged.get(step.id, [])
    return set(order_of(job.ledger, step)) <= set(done)


def lines(job: Reads, event: Event, known: dict[str, Event]) -> None:
    """Refuse lines that are not due or not whole; ask about one that is off by far.

    Raises
    ------
    InputError
        ``step.not_now``, ``file.read_before``, ``value.missing``, ``slip.suspected``.
    """
    content, step = event.content, job.current
    if not isinstance(step, Testing) or step.id != content.step:
        raise InputError(
            "step.not_now", "data.step", "No test runs now.", "Go on with the present step."
        )
    not_read_before(content.read_from, ((t, c) for t, c, _ in part_of(job.ledger).every))
    values = values_of(job.ledger, content)
    if content.kept or event.source != "typed":
        return
    for line in meter(job.ledger.facts).lines:
        value, stored = values[line.id], line.reference
        far = line.kind in ("percent", "absolute") and stored and abs(value) > FAR * abs(stored)
        if far or value < 0:
            raise InputError(
                "slip.suspected",
                f"data.{line.id}",
                f"{line.label}: {value:f} {line.unit} against {stored:f} stored. Keep it?",
                "Correct it or keep it.",
            )


def tested(job: Reads, step: Step) -> bool:
    """Tell whether the lines were read in this round."""
    return step.id in part_of(job.ledger).read


def plugged_in_words(ledger: Ledger, content: Plugged) -> str:
    """Return a plug in words."""
    step = ledger.method.step(content.step)
    title = step.title if step is not None else content.step
    names = {p.id: p.label for p in plugs(meter(ledger.facts))}
    return f"{title}: {names.get(content.plug, 'all of them').lower()}"


def lines_in_words(ledger: Ledger, content: LinesRead) -> str:
    """Return the lines in words, with the file that they were read from."""
    values = values_of(ledger, content)
    said = ", ".join(
        f"{x.label} {as_typed(values[x.id])} {x.unit}".strip() for x in meter(ledger.facts).lines
    )
    filed = typed_over(content.read_from, content.own.values)
    return f"Tester: {said}" + (f"; {filed}" if filed else "")
